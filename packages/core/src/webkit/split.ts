import type { Face } from '../font/index.js';
import { runsOfLanguages } from '../convert/index.js';
import { toRuns } from '../text/index.js';
import { language, scripts } from '../unicode/index.js';
import type { Pen } from '../outline/index.js';

/** What one of several files of a face holds. */
export interface FilePart {
  /** A word for its file name: the script's code, with languages behind it in all but the first file of a script. */
  name: string;
  /** Languages that need it, as CLDR tags. */
  languages: string[];
  /** Characters as runs [first, last, ...]; no character is in two parts. */
  runs: number[];
}

/** What a file costs beside its glyphs: its request, its tables and what runs of text lose where they change from one to another. */
const A_FILE = 6000;
/** What a glyph costs beside its outline: metrics, map, features. */
const A_GLYPH = 12;
/** Bytes of a point of an outline, packed as WOFF2 packs it; a mean over text faces, measured. */
const A_POINT = 2;

class CountPen implements Pen {
  points = 0;
  moveTo(): void {
    this.points++;
  }
  lineTo(): void {
    this.points++;
  }
  quadTo(): void {
    this.points += 2;
  }
  cubicTo(): void {
    this.points += 3;
  }
  closePath(): void {
    // Nothing is stored for it.
  }
}

interface Group {
  script: string;
  languages: ReadonlySet<string>;
  points: number[];
  bytes: number;
}

/**
 * Splits what some languages need of a face into files, so that a page in any of them loads the fewest bytes: letters of
 * different scripts never share a file, and those of one script do where that is cheaper for all languages together. Characters
 * that all scripts share have a file of their own where there are several scripts.
 * @param tags CLDR tags; unknown ones need nothing
 * @returns parts without any character in common, in the order of the scripts; one part where nothing is gained by more
 */
export function splitForLanguages(face: Face, tags: readonly string[]): FilePart[] {
  const known = [...new Set(tags)].filter((tag) => language(tag));
  const users = new Map<number, Set<string>>();
  for (const tag of known) {
    const runs = runsOfLanguages([tag]);
    for (let i = 0; i < runs.length; i += 2)
      for (let c = runs[i]!; c <= runs[i + 1]!; c++) {
        if (face.glyphOf(c) === 0) continue;
        let own = users.get(c);
        if (!own) users.set(c, (own = new Set()));
        own.add(tag);
      }
  }
  const ofScript = new Map<number, string>();
  for (const { code, runs } of scripts())
    for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) if (users.has(c)) ofScript.set(c, code);
  // Marks and signs are no letters, and belong to their script all the same.
  for (const code of new Set(known.map((tag) => language(tag)!.script))) {
    const own = scriptPattern(code);
    if (own) for (const c of users.keys()) if (!ofScript.has(c) && own.test(String.fromCodePoint(c))) ofScript.set(c, code);
  }
  // Latin letters that every language's running text brings along are those of its own script only where it is written in it.
  const written = new Set(known.map((tag) => language(tag)!.script));
  const groups = new Map<string, Group>();
  for (const [c, who] of [...users].sort((a, b) => a[0] - b[0])) {
    const own = ofScript.get(c);
    const script = written.size < 2 ? [...written][0]! : (own ?? 'Zyyy');
    // A letter of a script that a language is not written in is no reason to load that script's file for it.
    const needed = own === undefined || written.size < 2 ? who : new Set([...who].filter((tag) => language(tag)!.script === own));
    const key = `${script}/${[...needed].sort().join()}`;
    let group = groups.get(key);
    if (!group) groups.set(key, (group = { script, languages: needed, points: [], bytes: 0 }));
    group.points.push(c);
    group.bytes += bytesOf(face, c);
  }
  const merged = merge([...groups.values()]);
  const taken = new Set<string>();
  return merged
    .sort((a, b) => (a.script === b.script ? b.languages.size - a.languages.size : a.script < b.script ? -1 : 1))
    .map((g) => {
      const script = g.script === 'Zyyy' ? 'common' : g.script.toLowerCase();
      const tags = [...g.languages].sort();
      // The largest part of a script has its name alone.
      const own = taken.has(script) ? `${script}-${tags.slice(0, 3).join('-').toLowerCase()}` : script;
      let name = own;
      for (let n = 2; taken.has(name); n++) name = `${own}-${n}`;
      taken.add(name);
      return { name, languages: tags, runs: toRuns(g.points.sort((a, b) => a - b)) };
    });
}

/** Characters of a script by Unicode's property; null for codes of several scripts together, such as Jpan. */
function scriptPattern(code: string): RegExp | null {
  try {
    return new RegExp(`^\\p{Script=${code}}$`, 'u');
  } catch {
    return null;
  }
}

function bytesOf(face: Face, codePoint: number): number {
  const pen = new CountPen();
  face.draw(face.glyphOf(codePoint), pen);
  return A_GLYPH + A_POINT * pen.points;
}

/** Joins groups of one script, the best pair first, as long as all languages together load no more for it. */
function merge(groups: Group[]): Group[] {
  const all = [...groups];
  for (;;) {
    let [best, gain] = [null as [number, number] | null, 0];
    for (let i = 0; i < all.length; i++)
      for (let k = i + 1; k < all.length; k++) {
        const [a, b] = [all[i]!, all[k]!];
        if (a.script !== b.script) continue;
        const both = new Set([...a.languages, ...b.languages]);
        const apart = a.languages.size * (a.bytes + A_FILE) + b.languages.size * (b.bytes + A_FILE);
        const together = both.size * (a.bytes + b.bytes + A_FILE);
        // A group that no language needs by itself goes wherever it costs least.
        if (best === null || apart - together > gain)
          if (apart - together >= 0 || a.languages.size === 0 || b.languages.size === 0) [best, gain] = [[i, k], apart - together];
      }
    if (best === null) return all;
    const [i, k] = best;
    const [a, b] = [all[i]!, all[k]!];
    all.splice(k, 1);
    all[i] = {
      script: a.script,
      languages: new Set([...a.languages, ...b.languages]),
      points: [...a.points, ...b.points],
      bytes: a.bytes + b.bytes,
    };
  }
}

/** Runs as CSS writes them. Source: CSS Fonts Module Level 4, unicode-range. */
export function unicodeRangeOf(runs: readonly number[]): string {
  const hex = (c: number): string => c.toString(16).toUpperCase().padStart(4, '0');
  const out: string[] = [];
  for (let i = 0; i < runs.length; i += 2)
    out.push(runs[i] === runs[i + 1] ? `U+${hex(runs[i]!)}` : `U+${hex(runs[i]!)}-${hex(runs[i + 1]!)}`);
  return out.join(', ');
}
