import { USES } from '../rights/index.js';
import { ALL_CHECKS, type Profile, type Rules } from './profile.js';
import { PROFILES } from './profiles/index.js';

const FORMATS = ['ttf', 'otf', 'woff', 'woff2'] as const;
const isRecord = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);
const isLimit = (v: unknown, most: number): boolean => v === null || (Number.isInteger(v) && (v as number) >= 1 && (v as number) <= most);
const isTaken = (v: unknown): boolean => v === 'accepted' || v === 'refused';
const isText = (v: unknown, most: number): v is string => typeof v === 'string' && v.length <= most;

/** What of some rules cannot be, or contradicts itself, as sentences; none where they hold. `given` may be anything. */
export function contradictions(given: unknown): string[] {
  if (!isRecord(given)) return ['Rules of a place are an object with named fields.'];
  const out: string[] = [];
  const say = (holds: boolean, sentence: string): boolean => {
    if (!holds) out.push(sentence);
    return holds;
  };
  const part = (name: string): Record<string, unknown> => {
    const value = given[name];
    say(isRecord(value), `“${name}” is missing or no object.`);
    return isRecord(value) ? value : {};
  };
  say((USES as readonly unknown[]).includes(given.use), `“use” is none of ${USES.join(', ')}.`);
  const accepts = part('accepts');
  const { formats } = accepts;
  const known = Array.isArray(formats) && formats.length > 0 && formats.every((f) => (FORMATS as readonly unknown[]).includes(f));
  if (say(known, `A place takes at least one of ${FORMATS.join(', ')}; otherwise nothing could ever be put there.`)) {
    say((formats as unknown[]).includes(accepts.prefer), 'The format that is preferred is none of those that are taken.');
    say(new Set(formats as unknown[]).size === (formats as unknown[]).length, 'A format is named twice.');
  }
  say(
    Number.isInteger(accepts.maxBytes) && (accepts.maxBytes as number) >= 1024 && (accepts.maxBytes as number) <= 1024 ** 3,
    'The largest file is between 1 KiB and 1 GiB.',
  );
  for (const name of ['collections', 'variable', 'color'])
    say(isTaken(accepts[name]), `“accepts.${name}” is either “accepted” or “refused”.`);
  const embedding = part('embedding');
  for (const name of ['restricted', 'bitmapOnly']) say(isTaken(embedding[name]), `“embedding.${name}” is either “accepted” or “refused”.`);
  const limits = part('limits');
  say(isLimit(limits.perUpload, 10_000), 'Files in one upload are 1 to 10,000, or no limit (null).');
  say(isLimit(limits.faces, 100_000), 'Faces in all are 1 to 100,000, or no limit (null).');
  say(isLimit(limits.familyName, 255), 'Letters of a family name are 1 to 255, or no limit (null).');
  say(['beside', 'replaces', 'refused'].includes(given.twins as string), '“twins” is “beside”, “replaces” or “refused”.');
  say(['over', 'remove-first'].includes(given.replacing as string), '“replacing” is “over” or “remove-first”.');
  say(
    !(given.twins === 'refused' && given.replacing === 'over'),
    'A place that refuses a second face of one name can only be given a new version after the old one is removed.',
  );
  const { roles } = given;
  const named =
    Array.isArray(roles) &&
    roles.length <= 20 &&
    roles.every((r) => isRecord(r) && /^[a-z][a-z0-9-]{0,39}$/.test(String(r.id)) && isText(r.name, 60) && isText(r.label, 120));
  if (say(named, 'Each of at most 20 roles has an id of small letters, a name and a label.'))
    say(new Set((roles as { id: string }[]).map((r) => r.id)).size === (roles as unknown[]).length, 'Two roles have one id.');
  const shows = part('shows');
  say(isText(shows.text, 5000), 'The words that a place shows have at most 5,000 letters.');
  for (const name of ['capitals', 'spaced']) say(typeof shows[name] === 'boolean', `“shows.${name}” is either true or false.`);
  say(isLimit(given.families, 100), 'Families that a place bears are 1 to 100, or no limit (null).');
  return out;
}

/**
 * A profile as a file has it: the name of a kind that it starts from ("like") and the rules that differ.
 * @returns the profile, or sentences that say what is wrong with it
 */
export function profileFrom(data: unknown): Profile | string[] {
  if (!isRecord(data)) return ['A profile is an object with “like” and the rules that differ.'];
  const base = PROFILES.find((p) => p.id === data.like);
  if (!base) return [`“like” is none of ${PROFILES.map((p) => p.id).join(', ')}.`];
  const known = new Set(['like', 'name', 'use', 'accepts', 'embedding', 'limits', 'twins', 'replacing', 'roles', 'shows', 'families']);
  const unknown = Object.keys(data).filter((k) => !known.has(k));
  if (unknown.length > 0) return [`“${unknown[0]!}” is no rule of a place.`];
  const merged: Record<string, unknown> = { ...base };
  for (const [key, value] of Object.entries(data)) {
    if (key === 'like' || key === 'name') continue;
    merged[key] = isRecord(value) ? { ...(base[key as keyof Rules] as object), ...value } : value;
  }
  const wrong = contradictions(merged);
  if (wrong.length > 0) return wrong;
  return { ...base, ...(merged as unknown as Rules), name: isText(data.name, 120) ? data.name : base.name, checks: ALL_CHECKS };
}
