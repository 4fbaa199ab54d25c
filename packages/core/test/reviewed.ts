import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const digest = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 10);
/** What a thing says, in one line: maps and sets as lists, bytes and whatever is long as a digest. */
const line = (outcome: unknown): string => {
  const text = JSON.stringify(outcome, (_key, value: unknown) =>
    value instanceof Map || value instanceof Set
      ? [...(value as Iterable<unknown>)]
      : ArrayBuffer.isView(value)
        ? digest(Array.prototype.join.call(value))
        : // The last digits of a sine or a power are no promise of the machine.
          typeof value === 'number' && !Number.isInteger(value)
          ? Number(value.toPrecision(9))
          : value,
  );
  return text === undefined || text.length > 120 ? digest(text ?? '') : text;
};

/**
 * Names of inputs that come to something else than when their outcomes were last read over, with both. It notices what no
 * expectation of ours names; whether an outcome is right is for the other tests to say. After a change that is meant, read
 * what differs and keep it by REVIEWED=write in the environment; REVIEWED=NAME prints the whole outcome of one input.
 */
export function changedSinceReview(set: string, outcomes: Iterable<readonly [string, unknown]>): string[] {
  const path = join(process.cwd(), 'packages/core/test/data/reviewed', `${set}.json`);
  const known = existsSync(path) ? (JSON.parse(readFileSync(path, 'utf8')) as Record<string, string>) : {};
  const now: Record<string, string> = {};
  for (const [name, outcome] of outcomes) {
    now[name] = line(outcome);
    if (process.env.REVIEWED === name) process.stderr.write(`${JSON.stringify(outcome, null, 1)}\n`);
  }
  if (process.env.REVIEWED === 'write') {
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, `${JSON.stringify(now, null, 2)}\n`);
    return [];
  }
  return [...new Set([...Object.keys(known), ...Object.keys(now)])]
    .filter((name) => known[name] !== now[name])
    .map((name) => `${name}: ${known[name] ?? 'not there'} is now ${now[name] ?? 'not there'}`);
}
