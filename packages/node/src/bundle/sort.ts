import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import {
  belongings,
  FACTS,
  FontError,
  inspect,
  NAMING,
  valueOf,
  type BundleFace,
  type BundleText,
  type TextReading,
} from '@orderly-glyph/core';
import { readDocument } from '../documents.js';
import { nodeCodec } from '../codec.js';
import { classify, type CompanionKind } from './classify.js';
import { MAX_FILE } from './limits.js';
import { COMPANION_KIND, judgeText } from './texts.js';
import { openZip, ZipRefused } from './zip.js';

/** One file of a bundle: where it lies in it, and its bytes or why they were not taken out. */
export interface Source {
  path: string;
  read(): Promise<Uint8Array | { refused: string }>;
}

export interface SortedItem {
  path: string;
  outcome: 'added' | 'already-here' | 'companion' | 'set-aside' | 'refused';
  reason: string;
  /** Of the first face of a font; null for anything else. */
  family: string | null;
  style: string | null;
}

/** A text that came along, and the families it counts for. */
export interface SortedText {
  path: string;
  /** SPDX identifier of the license whose text it holds. */
  license: string | null;
  kind: 'terms' | 'receipt' | 'note';
  covers: string[];
  leavesOut: { family: string; why: string }[];
}

export interface SortedBundles {
  items: SortedItem[];
  texts: SortedText[];
}

const KIND: Readonly<Record<CompanionKind, SortedText['kind']>> = {
  terms: 'terms',
  receipt: 'receipt',
  readme: 'note',
  document: 'note',
  other: 'note',
  picture: 'note',
};

/**
 * Sorts bundles as an intake does, without keeping anything: what each file is, what its texts say, and which of them count
 * for which families of their bundle.
 * @param given paths of ZIPs, folders and single files; all single files together are one bundle
 * @param recognise reads known licenses and own words out of a text
 * @throws NodeJS.ErrnoException for a path that cannot be opened
 */
export async function sortBundles(given: readonly string[], recognise: (text: string) => TextReading): Promise<SortedBundles> {
  const out: SortedBundles = { items: [], texts: [] };
  const seen = new Set<string>();
  const loose: Source[] = [];
  for (const path of given) {
    if ((await stat(path)).isDirectory()) await sortOne(await folderSources(path, ''), recognise, seen, out);
    else if (await isZip(path)) await withZip(path, basename(path), out, (sources) => sortOne(sources, recognise, seen, out));
    else loose.push(fileSource(path, basename(path)));
  }
  if (loose.length > 0) await sortOne(loose, recognise, seen, out);
  return out;
}

const fileSource = (path: string, name: string): Source => ({
  path: name,
  read: async () =>
    (await stat(path)).size > MAX_FILE
      ? { refused: 'It is larger than 100 MiB, which is the most one file may be.' }
      : new Uint8Array(await readFile(path)),
});

/** Files below a folder, by their paths in it; links are not followed. */
async function folderSources(root: string, below: string): Promise<Source[]> {
  const out: Source[] = [];
  for (const entry of (await readdir(join(root, below), { withFileTypes: true })).sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const path = below === '' ? entry.name : `${below}/${entry.name}`;
    if (entry.isDirectory()) out.push(...(await folderSources(root, path)));
    else if (entry.isFile()) out.push(fileSource(join(root, path), path));
  }
  return out;
}

async function isZip(path: string): Promise<boolean> {
  const { size } = await stat(path);
  return size <= 5 * MAX_FILE && classify(new Uint8Array(await readFile(path)), basename(path)).as === 'zip';
}

/** Hands on what a ZIP holds, and ZIPs inside it once; one that cannot be opened is an item of its own. */
async function withZip(file: string, name: string, out: SortedBundles, work: (sources: Source[]) => Promise<void>): Promise<void> {
  const dir = await mkdtemp(join(tmpdir(), 'bundle-'));
  const closing: (() => void)[] = [];
  try {
    const sources = await zipSources(file, '', dir, closing);
    await work(sources);
  } catch (error) {
    if (!(error instanceof ZipRefused)) throw error;
    out.items.push({ path: name, outcome: 'refused', reason: error.message, family: null, style: null });
  } finally {
    for (const close of closing) close();
    await rm(dir, { recursive: true, force: true });
  }
}

async function zipSources(file: string, prefix: string, dir: string, closing: (() => void)[]): Promise<Source[]> {
  const zip = await openZip(file);
  closing.push(() => zip.close());
  const out: Source[] = [];
  for (const { index, path, refusal } of zip.entries) {
    const take = async (): Promise<Uint8Array | { refused: string }> => {
      if (refusal !== null) return { refused: refusal };
      const at = join(dir, `${closing.length}-${index}`);
      try {
        await zip.write(index, at);
        return new Uint8Array(await readFile(at));
      } catch (error) {
        if (!(error instanceof ZipRefused)) throw error;
        return { refused: error.message };
      } finally {
        await rm(at, { force: true });
      }
    };
    if (refusal !== null || prefix !== '' || !/\.zip$/i.test(path) || /(^|\/)__MACOSX\//.test(path)) {
      out.push({ path: prefix + path, read: take });
      continue;
    }
    const inner = join(dir, `inner-${index}.zip`);
    try {
      await zip.write(index, inner);
      out.push(...(await zipSources(inner, `${path}/`, dir, closing)));
    } catch (error) {
      if (!(error instanceof ZipRefused)) throw error;
      out.push({ path, read: () => Promise.resolve({ refused: error.message }) });
    }
  }
  return out;
}

/** Sorts one bundle: its fonts and texts belong to each other and to no other's. */
async function sortOne(
  sources: readonly Source[],
  recognise: (text: string) => TextReading,
  seen: Set<string>,
  out: SortedBundles,
): Promise<void> {
  const faces: BundleFace[] = [];
  const texts: (BundleText & { kind: CompanionKind; license: string | null })[] = [];
  for (const { path, read } of sources) {
    const item: SortedItem = { path, outcome: 'refused', reason: '', family: null, style: null };
    out.items.push(item);
    const bytes = await read();
    if (!(bytes instanceof Uint8Array)) {
      item.reason = bytes.refused;
      continue;
    }
    const sorted = classify(bytes, path);
    if (sorted.as === 'set-aside' || sorted.as === 'refused') {
      Object.assign(item, { outcome: sorted.as, reason: sorted.reason });
    } else if (sorted.as === 'zip') {
      item.reason = 'An archive inside an archive inside an archive. Unpack it and bring in the files.';
    } else if (sorted.as === 'companion') {
      item.outcome = 'companion';
    } else if (sorted.as === 'document') {
      item.outcome = 'companion';
      const { text, unread } = await readDocument(bytes, sorted.kind).catch(() => ({
        text: null,
        unread: 'It could not be read: the document is damaged or of an unusual make.',
      }));
      if (text === null) {
        item.reason = unread ?? '';
        continue;
      }
      const { kind, reading, findings } = await judgeText(text, path, COMPANION_KIND[sorted.kind], recognise);
      if (findings)
        texts.push({
          id: path,
          path,
          content: text,
          licenses: reading!.recognised.map((r) => r.spdxId),
          findings,
          kind,
          license: reading!.recognised[0]?.spdxId ?? null,
        });
    } else {
      const hash = createHash('sha256').update(bytes).digest('hex');
      const again = seen.has(hash);
      seen.add(hash);
      Object.assign(item, sortFont(bytes, path, again, faces));
    }
  }
  const told = texts.filter((t) => t.kind === 'terms' || t.findings.mentions.length > 0);
  const found = belongings(told, faces);
  const familyOf = new Map(faces.map((f) => [f.id, f.family]));
  for (const text of texts) {
    const own = found.filter((b) => b.textId === text.id);
    const covers = [...new Set(own.filter((b) => b.reason === null).map((b) => familyOf.get(b.faceId)!))];
    const left = new Map(own.filter((b) => b.reason !== null).map((b) => [familyOf.get(b.faceId)!, b.reason!]));
    out.texts.push({
      path: text.path,
      license: text.license,
      kind: KIND[text.kind],
      covers,
      leavesOut: [...left].filter(([family]) => !covers.includes(family)).map(([family, why]) => ({ family, why })),
    });
  }
}

/** Reads a font and adds its faces to the bundle's. */
function sortFont(bytes: Uint8Array, path: string, again: boolean, faces: BundleFace[]): Omit<SortedItem, 'path'> {
  try {
    const { faces: read } = inspect(bytes, nodeCodec, { fileName: basename(path) }, [FACTS.id, NAMING.id]);
    const notes: string[] = read.length > 1 ? [`A collection of ${read.length} faces.`] : [];
    for (const [i, values] of read.entries()) {
      const facts = valueOf(values, FACTS)!;
      const worst = facts.findings.find((f) => f.severity === 'blocks');
      if (worst) notes.push(worst.message);
      faces.push({
        id: `${path} ${i}`,
        path,
        family: valueOf(values, NAMING)!.family,
        names: [facts.family, facts.fullName, facts.postScriptName].filter((n) => n !== null),
        copyright: facts.copyright,
        license: facts.license,
        licenseUrl: facts.licenseUrl,
      });
    }
    const naming = valueOf(read[0]!, NAMING)!;
    return {
      outcome: again ? 'already-here' : 'added',
      reason: again ? 'The same file is among these already.' : notes.join(' '),
      family: naming.family,
      style: naming.style,
    };
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    return { outcome: 'refused', reason: error.message, family: null, style: null };
  }
}
