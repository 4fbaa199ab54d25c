import { FontError } from '../../sfnt/index.js';
import { INKINGS, type Inking } from './drawing.js';
import type { PlaceStep } from './place.js';
import { DEFAULT_FACTS, ICON_FORMATS, type Icon, type IconSet, type SetFacts } from './set.js';

/** A whole set as a file: what it is made from and what it has promised. Described in docs/icon-set.schema.json. */
export interface Manifest {
  format: 'icon-set';
  version: 1;
  release: { number: number; day: string } | null;
  facts: SetFacts;
  icons: readonly Icon[];
  /** Code points that releases gave away, by the ids of their drawings. */
  given: readonly { codePoint: number; id: string }[];
}

/** A set as its file. The same set gives the same text. */
export function writeManifest({ facts, icons, given }: IconSet, release: Manifest['release']): string {
  const manifest: Manifest = {
    format: 'icon-set',
    version: 1,
    release,
    facts,
    icons,
    given: given.map(({ codePoint, name }) => ({ codePoint, id: name })),
  };
  return `${JSON.stringify(manifest, null, 1)}\n`;
}

type Json = Record<string, unknown>;
const isRecord = (v: unknown): v is Json => typeof v === 'object' && v !== null && !Array.isArray(v);
const MOST_ICONS = 6000;

/**
 * Reads a set from its file.
 * @throws FontError in words at the first thing that is not as it should be
 */
export function readManifest(text: string): { set: IconSet; release: Manifest['release'] } {
  const wrong = (what: string): never => {
    throw new FontError('bad-table', `This is no file of an icon set: ${what}.`);
  };
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    return wrong('it is no JSON');
  }
  if (!isRecord(given) || given.format !== 'icon-set') return wrong('“format” is not “icon-set”');
  if (given.version !== 1) return wrong('it is of a version that is not known here');
  const words = (v: unknown, what: string, most: number): string =>
    typeof v === 'string' && v.length <= most ? v : wrong(`${what} is not a text of at most ${most} letters`);
  const list = (v: unknown, what: string, most: number): unknown[] =>
    Array.isArray(v) && v.length <= most ? v : wrong(`${what} is not a list of at most ${most}`);
  const point = (v: unknown, what: string): number =>
    Number.isInteger(v) && (v as number) >= 0 && (v as number) <= 0x10ffff ? (v as number) : wrong(`${what} is not a code point`);
  const one = <T extends string>(v: unknown, of: readonly T[], what: string): T =>
    of.includes(v as T) ? (v as T) : wrong(`${what} is none of ${of.join(', ')}`);
  const flag = (v: unknown, what: string, otherwise: boolean): boolean =>
    v === undefined ? otherwise : typeof v === 'boolean' ? v : wrong(`${what} is neither true nor false`);
  const f = isRecord(given.facts) ? given.facts : wrong('“facts” is missing');
  const facts: SetFacts = {
    family: words(f.family, '“family”', 60),
    prefix: words(f.prefix, '“prefix”', 24),
    base: words(f.base, '“base”', 40),
    selector: one(f.selector ?? 'class', ['class', 'attribute'], '“selector”'),
    maker: words(f.maker ?? '', '“maker”', 200),
    license: words(f.license ?? '', '“license”', 1000),
    licenseUrl: words(f.licenseUrl ?? '', '“licenseUrl”', 500),
    em: f.em === undefined || f.em === null ? null : Number.isInteger(f.em) ? (f.em as number) : wrong('“em” is not a whole number'),
    line: one(f.line ?? DEFAULT_FACTS.line, ['baseline', 'middle'], '“line”'),
    smallest: Number.isInteger(f.smallest ?? 16)
      ? Math.min(256, Math.max(8, (f.smallest ?? 16) as number))
      : wrong('“smallest” is not a whole number'),
    formats: list(f.formats ?? DEFAULT_FACTS.formats, '“formats”', 4).map((v) => one(v, ICON_FORMATS, 'a format')),
  };
  const ids = new Set<string>();
  const icons = list(given.icons, '“icons”', MOST_ICONS).map((v, i): Icon => {
    const what = `drawing ${i + 1}`;
    if (!isRecord(v)) return wrong(`${what} is not one`);
    const id = words(v.id, `the id of ${what}`, 120);
    if (ids.has(id)) wrong(`two drawings have the id “${id}”`);
    ids.add(id);
    return {
      id,
      name: words(v.name, `the name of ${what}`, 60),
      aliases: list(v.aliases ?? [], `the aliases of ${what}`, 50).map((a) => words(a, `an alias of ${what}`, 60)),
      codePoint: v.codePoint === null || v.codePoint === undefined ? null : point(v.codePoint, `the code point of ${what}`),
      characters: list(v.characters ?? [], `the characters of ${what}`, 50).map((c) => point(c, `a character of ${what}`)),
      words: list(v.words ?? [], `the words of ${what}`, 50).map((w) => words(w, `a word of ${what}`, 60)),
      svg: words(v.svg, `the drawing of ${what}`, 4 * 1024 * 1024),
      inking:
        v.inking === null || v.inking === undefined
          ? null
          : one<Inking | 'color'>(v.inking, [...INKINGS, 'color'], `the inking of ${what}`),
      beneath: v.beneath === null || v.beneath === undefined ? null : words(v.beneath, `what lies beneath ${what}`, 120),
      cut: flag(v.cut, `“cut” of ${what}`, true),
      place: list(v.place ?? [], `the placing of ${what}`, 100).map((s) => placeStepOf(s) ?? wrong(`a step of ${what} is not known here`)),
      mirror: flag(v.mirror, `“mirror” of ${what}`, false),
    };
  });
  const points = list(given.given ?? [], '“given”', 20_000).map((v) =>
    isRecord(v)
      ? { codePoint: point(v.codePoint, 'a code point given away'), name: words(v.id, 'an id of “given”', 120) }
      : wrong('“given” has something else in it'),
  );
  const r = given.release;
  const release =
    isRecord(r) && Number.isInteger(r.number) && (r.number as number) > 0 && /^\d{4}-\d{2}-\d{2}$/.test(String(r.day))
      ? { number: r.number as number, day: String(r.day) }
      : null;
  return { set: { facts, icons, given: points }, release };
}

/** A step of placing, or null where it is none. */
export function placeStepOf(v: unknown): PlaceStep | null {
  if (!isRecord(v)) return null;
  const n = (key: string, least: number, most: number): number | null => {
    const value = v[key];
    return typeof value === 'number' && value >= least && value <= most ? value : null;
  };
  const [margin, x, y, by, degrees, px] = [
    n('margin', 0, 0.45),
    n('x', -2, 2),
    n('y', -2, 2),
    n('by', 0.05, 20),
    n('degrees', -360, 360),
    n('px', 4, 512),
  ];
  switch (v.step) {
    case 'fit':
      return margin === null ? null : { step: 'fit', margin };
    case 'align':
      return v.to === 'middle' || v.to === 'bottom' ? { step: 'align', to: v.to } : null;
    case 'nudge':
      return x === null || y === null ? null : { step: 'nudge', x, y };
    case 'scale':
      return by === null ? null : { step: 'scale', by };
    case 'turn':
      return degrees === null ? null : { step: 'turn', degrees };
    case 'flip':
      return v.across === 'vertical' || v.across === 'horizontal' ? { step: 'flip', across: v.across } : null;
    case 'snap':
      return px === null ? null : { step: 'snap', px };
    default:
      return null;
  }
}
