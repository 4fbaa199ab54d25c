import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { parseArgs } from 'node:util';
import {
  batchOf,
  contextFor,
  estimateBytes,
  fitOf,
  FontError,
  preflight as foresee,
  profile as profileOf,
  profileFrom,
  PROFILES,
  readFacts,
  type FaceAtHand,
  type FaceFacts,
  type Fit,
  type PlaceFinding,
  type Profile,
} from '@orderly-glyph/core';
import { nodeCodec } from '@orderly-glyph/node';
import { WrongUse } from './wrong-use.js';

export const PREFLIGHT_USAGE = `glyph preflight FILE... --profile PROFILE.json|${PROFILES.map((p) => p.id).join('|')} [--json]
  What a place would say to each face, and what would mend it. A profile of your own names a kind it is "like" and the rules that
  differ (docs/users.md). What the licenses say is not looked at; for that there is glyph rights.
`;

interface Printed {
  path: string;
  index: number | null;
  verdict: Fit;
  findings: { code: string; severity: string; message: string; remedy: { code: string; message: string } | null }[];
}

async function readProfile(name: string): Promise<Profile> {
  const known = profileOf(name);
  if (known) return known;
  let data: unknown;
  try {
    const text = await readFile(name, 'utf8');
    data = JSON.parse(text);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new WrongUse(
      code === 'ENOENT'
        ? `There is no profile “${name}”: name one of ${PROFILES.map((p) => p.id).join(', ')}, or a file.`
        : `${name} is no profile: ${code ? `it cannot be opened (${code})` : 'it is not JSON'}.`,
    );
  }
  const read = profileFrom(data);
  if (Array.isArray(read)) throw new WrongUse(`${name} is no profile: ${read.join(' ')}`);
  return read;
}

const printed = (findings: readonly PlaceFinding[]): Printed['findings'] =>
  findings.map(({ code, severity, message, remedies }) => {
    const remedy = remedies.find((r) => r.forbidden === null);
    return {
      code,
      severity,
      message: message.replace(/(^|[.!?] )the /g, '$1The '),
      remedy: remedy ? { code: remedy.id, message: remedy.will } : null,
    };
  });

const refused = (path: string, code: string, message: string, remedy: Printed['findings'][number]['remedy'] = null): Printed => ({
  path,
  index: null,
  verdict: remedy ? 'fits-after-remedy' : 'does-not-fit',
  findings: [{ code, severity: 'stops', message, remedy }],
});

/** Carries `glyph preflight` out. @throws WrongUse */
export async function preflight(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { profile: { type: 'string' }, json: { type: 'boolean' } },
  });
  if (positionals.length === 0 || !values.profile) throw new WrongUse('preflight needs font files and --profile.');
  const profile = await readProfile(values.profile);
  const out: Printed[] = [];
  const faces: { path: string; index: number; face: FaceAtHand; facts: FaceFacts; bytes: number }[] = [];
  for (const path of positionals) {
    let bytes: Uint8Array;
    try {
      bytes = await readFile(path);
    } catch (error) {
      out.push(refused(path, 'unreadable', `The file cannot be opened (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}).`));
      continue;
    }
    if (bytes.length >= 4 && Buffer.from(bytes.subarray(0, 4)).equals(Buffer.from('PK\x03\x04', 'latin1'))) {
      out.push(
        refused(path, 'archive', `This is a ZIP. The ${profile.name.toLowerCase()} takes fonts and no packed folders.`, {
          code: 'take-out',
          message: 'Unpack it and check the font files inside; bringing the ZIP into the library does that.',
        }),
      );
      continue;
    }
    try {
      const read = readFacts(bytes, nodeCodec);
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      read.faces.forEach((facts, index) =>
        faces.push({
          path,
          index,
          facts,
          bytes: bytes.length,
          face: {
            family: facts.typographicFamily ?? facts.family ?? basename(path),
            style: facts.typographicSubfamily ?? facts.subfamily ?? 'Regular',
            format: read.format,
            facts,
            // All faces of the file go along, since the file is what is sent.
            files: [{ format: read.format, bytes: bytes.length, whole: true }],
            sha256,
          },
        }),
      );
    } catch (error) {
      if (!(error instanceof FontError)) throw error;
      out.push(refused(path, error.code, error.message));
    }
  }
  // Faces of one collection are no twins of each other, and a file is sent once, whatever it is called.
  const batch = batchOf(faces.map((f) => f.face));
  faces.forEach(({ path, index, face, facts, bytes }, i) => {
    const { outlines, runs, axes } = facts;
    const findings = foresee(
      contextFor(profile, face, {
        placeName: `the ${profile.name.toLowerCase()}`,
        fileName: basename(path) || `face${extname(path)}`,
        batch: batch[i]!,
        estimate: (recipe) => estimateBytes({ outlineKind: outlines, runs, axisCount: axes.length }, face.format, bytes, recipe),
      }),
    );
    out.push({ path, index, verdict: fitOf(findings), findings: printed(findings) });
  });
  out.sort((a, b) => positionals.indexOf(a.path) - positionals.indexOf(b.path) || (a.index ?? 0) - (b.index ?? 0));
  if (values.json) process.stdout.write(`${JSON.stringify({ faces: out }, null, 2)}\n`);
  else
    for (const f of out) {
      process.stdout.write(`${f.path}${f.index ? ` (face ${f.index})` : ''}: ${f.verdict.replaceAll('-', ' ')}\n`);
      for (const { message, remedy } of f.findings) process.stdout.write(`  ${message}${remedy ? `\n    ${remedy.message}` : ''}\n`);
    }
  return out.some((f) => f.index === null && f.findings[0]?.code !== 'archive') ? 1 : 0;
}
