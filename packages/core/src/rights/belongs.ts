import { DENIES, TAKES_BACK } from './data/mention-words.js';
import { readFileMentions, withoutStandardWords, type Mention } from './mentions.js';
import type { TextReading } from './read.js';
import { copyrightLines, reservedNames } from './recognise.js';
import { sentencesOf } from './sentences.js';
import type { Use } from './uses.js';

/** What was found in a text that came with faces, as it is kept with it. */
export interface TextFindings {
  /** Whether it says anything of what is allowed. */
  terms: boolean;
  /** Whether it shows that something was bought. */
  receipt: boolean;
  /** Whether its own words, beside a known license, deny something or leave it open. */
  restrictive: boolean;
  mentions: Mention[];
  /** The sentence that says a license which stands there does not apply. */
  doubt: string | null;
  /** Uses that words around a known license narrow, and the first of those sentences. */
  narrowed: Use[];
  narrowing: string | null;
}

/** What is worth keeping of a reading; `terms` and `receipt` as the text's own words say. */
export function findingsOf(reading: TextReading, { terms, receipt }: { terms: boolean; receipt: boolean }): TextFindings {
  const known = reading.recognised.length > 0;
  return {
    terms: terms || known,
    receipt,
    restrictive: reading.narrowing.length > 0,
    mentions: reading.mentions.slice(0, 12),
    doubt: reading.doubt,
    narrowed: known ? reading.narrowing.map((n) => n.use) : [],
    narrowing: known ? (reading.narrowing[0]?.sentence.slice(0, 600) ?? null) : null,
  };
}

/** A text of a bundle that says something of rights. Paths use "/" and are relative to the bundle. */
export interface BundleText {
  id: string;
  path: string;
  content: string;
  /** SPDX identifiers of the licenses whose text it holds. */
  licenses: readonly string[];
  findings: Pick<TextFindings, 'restrictive' | 'mentions' | 'doubt'>;
}

/** A face of a bundle, with what its file says of itself (name IDs 0, 1 or 16, 4, 13 and 14). */
export interface BundleFace {
  id: string;
  path: string;
  family: string;
  /** Further names of it: full name, PostScript name, the family as the file has it. */
  names: readonly string[];
  copyright: string | null;
  license: string | null;
  licenseUrl: string | null;
}

/** Whether a text that stands in a face's way up counts for it; `reason` says why not. */
export interface Belonging {
  textId: string;
  faceId: string;
  reason: string | null;
}

const folderOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));
const fileOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);
/** Letters and figures alone, so that "Source-Serif" and "Source Serif" are one. */
const bare = (text: string): string =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '');

/** Words of copyright lines that name nobody. */
const EMPTY_WORDS = new Set(
  'copyright copr the and with reserved font fonts name names all rights project authors author inc ltd llc gmbh co corp company com org net www http https for are is of by portions software typeface family this that from digitized data trademark github gmail mail'.split(
    ' ',
  ),
);
const wordsOf = (text: string): Set<string> =>
  new Set(
    (
      text
        .normalize('NFKC')
        .toLowerCase()
        .match(/\p{L}{3,}/gu) ?? []
    ).filter((w) => !EMPTY_WORDS.has(w)),
  );

/**
 * Says which texts of a bundle count for which of its faces. A text counts for the faces of its own folder and of the
 * folders under it that hold no terms of their own; one in a folder without faces counts as lying one folder up. It does
 * not count for a face whose names, copyright line or license fields contradict it, nor where it names other families,
 * nor where two texts at one place say different things. Where it is unclear the answer is no, with the reason.
 */
export function belongings(texts: readonly BundleText[], faces: readonly BundleFace[]): Belonging[] {
  const homes = new Map<string, BundleText[]>();
  const folders = new Set(faces.flatMap((f) => upward(folderOf(f.path))));
  for (const text of texts) {
    let home = folderOf(text.path);
    while (home !== '' && !folders.has(home)) home = folderOf(home);
    homes.set(home, [...(homes.get(home) ?? []), text]);
  }
  const families = [...new Set(faces.map((f) => f.family))];
  const named = new Map(texts.map((t) => [t.id, namesIn(t, families)]));
  const out: Belonging[] = [];
  for (const face of faces) {
    const home = upward(folderOf(face.path)).find((folder) => homes.has(folder));
    if (home === undefined) continue;
    const own = homes.get(home)!;
    const judged = own.map((text) => ({ text, reason: contradiction(text, face, named.get(text.id)!) }));
    const left = judged.filter((j) => j.reason === null);
    const other = conflict(left.map((j) => j.text));
    for (const { text, reason } of judged) out.push({ textId: text.id, faceId: face.id, reason: reason ?? other });
  }
  return out;
}

/** A folder and all above it, the nearest first; the last is the top, ''. */
function upward(folder: string): string[] {
  const out = [folder];
  for (let at = folder; at !== '';) out.push((at = folderOf(at)));
  return out;
}

interface Names {
  /** Families of the bundle that it names. */
  families: string[];
  reserved: string[];
  lines: string[];
}

function namesIn(text: BundleText, families: readonly string[]): Names {
  const lines = copyrightLines(text.content);
  const reserved = reservedNames(text.content);
  const told = bare([...lines, ...reserved, fileOf(text.path).replace(/\.\w+$/, ''), text.content.slice(0, 400)].join(' | '));
  const found = families.filter((f) => bare(f).length >= 3 && told.includes(bare(f)));
  // "Source Serif 4" names "Source Serif" too: of names that hold each other only the longest is meant.
  return { families: found.filter((f) => !found.some((o) => o !== f && bare(o).includes(bare(f)))), reserved, lines };
}

/** Why a text does not count for a face, by what the two say; null when nothing speaks against it. */
function contradiction(text: BundleText, face: BundleFace, { families, reserved, lines }: Names): string | null {
  const name = fileOf(text.path);
  const own = [face.family, ...face.names].map(bare);
  const isOne = (list: readonly string[]): boolean =>
    list.some(
      (f) =>
        bare(f).length > 0 &&
        (own.some((o) => o.startsWith(bare(f)) || bare(f).startsWith(bare(face.family))) || bare(face.copyright ?? '').includes(bare(f))),
    );
  if (families.length > 0 && !isOne(families)) return `${name} names ${families.join(' and ')}, and not ${face.family}.`;
  if (reserved.length > 0 && !isOne(reserved))
    return `${name} reserves the name ${reserved.map((r) => `“${r}”`).join(', ')}, which is not that of ${face.family}.`;
  if (lines.length > 0 && face.copyright && families.length === 0) {
    const [theirs, ours] = [wordsOf(lines.join(' ')), wordsOf(face.copyright)];
    if (theirs.size > 0 && ours.size > 0 && ![...ours].some((w) => theirs.has(w)))
      return `The copyright line of ${name} names others than that of ${face.family} does.`;
  }
  const said = readFileMentions(face);
  const open = text.licenses.length > 0;
  if (open) {
    const other = said.find(
      (m) =>
        m.spdxId !== null &&
        !text.licenses.some((l) => sameFamily(l, m.spdxId!)) &&
        !text.findings.mentions.some((x) => x.spdxId === m.spdxId),
    );
    if (other) return `The file of ${face.family} itself names the ${other.name}.`;
    const denied = sentencesOf(face.license ?? '').find((s) => DENIES.test(withoutStandardWords(s.text)));
    if (denied) return `The file of ${face.family} itself says: “${denied.text.slice(0, 200)}”`;
    const back = [...sentencesOf(face.license ?? ''), ...sentencesOf(face.copyright ?? '')].find(
      (s) => TAKES_BACK.test(withoutStandardWords(s.text).replace(/all rights reserved/gi, '')) && (face.license ?? '').length < 2000,
    );
    if (back) return `The file of ${face.family} itself says: “${back.text.slice(0, 200)}”`;
  } else {
    const other = said.find((m) => m.grants && !text.findings.mentions.some((x) => x.spdxId === m.spdxId));
    if (other) return `The file of ${face.family} itself names the ${other.name}, which ${name} does not.`;
  }
  return null;
}

/** "GPL-2.0-only" and "GPL-2.0-or-later" are one license; so are versions with and without reserved names. */
const sameFamily = (a: string, b: string): boolean => stem(a) === stem(b);
const stem = (id: string): string => id.replace(/(?:-only|-or-later|\+)?(?: WITH .*)?$/, '');

/** Why several texts at one place settle nothing; null when they say the same. */
function conflict(texts: readonly BundleText[]): string | null {
  if (texts.length < 2) return null;
  const known = texts.filter((t) => t.licenses.length > 0);
  const ids = new Set(known.map((t) => [...t.licenses].sort().join()));
  const both = (a: BundleText, b: BundleText): string =>
    `${fileOf(a.path)} and ${fileOf(b.path)} stand side by side and say different things.`;
  if (ids.size > 1)
    return both(
      known[0]!,
      known.find((t) => [...t.licenses].sort().join() !== [...known[0]!.licenses].sort().join())!,
    );
  for (const text of texts) {
    if (text.licenses.length > 0) continue;
    const first = known[0];
    // Notes that speak of the same license explain it; other terms beside a license are something else.
    const explains = first && text.findings.mentions.some((m) => m.spdxId === null || first.licenses.some((l) => sameFamily(l, m.spdxId!)));
    if (first && text.findings.restrictive && !explains) return both(first, text);
    if (first && text.findings.doubt !== null) return both(first, text);
    const named = new Set(text.findings.mentions.filter((m) => m.grants).map((m) => m.spdxId!));
    if (first && [...named].some((n) => !first.licenses.some((l) => sameFamily(l, n)))) return both(first, text);
  }
  return null;
}
