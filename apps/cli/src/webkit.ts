import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import {
  FACTS,
  fallbackFor,
  fileBase,
  FontError,
  fontPath,
  genericOf,
  inspect,
  KIND,
  language,
  LAYOUTS,
  lineMetrics,
  openFont,
  recipeFor,
  render,
  runsOfLanguages,
  sampleOf,
  siteKitTexts,
  splitForLanguages,
  standInFor,
  toRuns,
  unicodeRangeOf,
  valueOf,
  type Face,
  type FaceFacts,
  type FilePart,
  type KitText,
  type SiteFile,
} from '@orderly-glyph/core';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import yazl from 'yazl';
import { failed, noteOnSubsetting, Unreadable, whole } from './files.js';
import { WrongUse } from './wrong-use.js';

export const WEBKIT_USAGE = `glyph webkit FILE... --name NAME --layout flat|siblings|nested -o OUT.zip [--languages pl,el [--split]]
  What a website needs: the faces as WOFF2 (cut down to the languages, if any are named, and with --split in several files of
  which a page loads those that its language needs), a style sheet with faces of the
  reader's system that stand in at the same size, preload and server lines, a test page, the terms in the files.
`;

const sha384 = (bytes: Uint8Array | string): string => createHash('sha384').update(bytes).digest('base64');

/** Carries `glyph webkit` out. @throws WrongUse */
export async function webkit(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      name: { type: 'string' },
      layout: { type: 'string' },
      languages: { type: 'string' },
      split: { type: 'boolean' },
      output: { type: 'string', short: 'o' },
    },
  });
  const layout = LAYOUTS.find((l) => l === (values.layout ?? 'siblings'));
  if (positionals.length === 0 || !values.output) throw new WrongUse('webkit needs font files and -o OUT.zip.');
  if (!layout) throw new WrongUse(`--layout must be one of ${LAYOUTS.join(', ')}.`);
  const name = values.name?.trim() ?? '';
  // It becomes the name of a folder.
  if (!/^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,79}$/u.test(name))
    throw new WrongUse('--name must be a name of letters, figures, spaces, dots and hyphens.');
  const tags = (values.languages ?? '').split(/[\s,]+/).filter(Boolean);
  const unknown = tags.find((t) => !language(t));
  if (unknown !== undefined) throw new WrongUse(`There is no language “${unknown}” here; tags are those of CLDR.`);
  if (values.split && tags.length === 0) throw new WrongUse('--split goes by the languages; name them with --languages.');
  try {
    const files: (SiteFile & { content: Uint8Array })[] = [];
    const terms: KitText[] = [];
    for (const path of positionals) {
      const bytes = await readFile(path).catch((error: NodeJS.ErrnoException) => {
        throw new Unreadable(`${path} cannot be opened (${error.code ?? 'unknown reason'}).`);
      });
      for (const [index, face] of openFont(bytes, nodeCodec).faces.entries()) {
        const parts = values.split ? splitForLanguages(face, tags) : [];
        const own: FilePart[] =
          parts.length > 1 ? parts : [{ name: '', languages: [], runs: tags.length > 0 ? runsOfLanguages(tags) : [] }];
        const taken = files.map((f) => f.fileBase);
        const name = nameFor(bytes, index, path, taken);
        for (const part of own) files.push(await siteFile(bytes, face, index, tags, path, part, part.name ? `${name}-${part.name}` : name));
        terms.push({ path: `license/${name}.txt`, content: termsOf(face) });
      }
    }
    const sample = tags.map((t) => sampleOf(t)).join(' ') || sampleOf('en')!;
    const zip = new yazl.ZipFile();
    // The same files make the same kit.
    const options = { mtime: new Date('2000-01-01T00:00:00Z') };
    for (const f of files)
      zip.addBuffer(Buffer.from(f.content), `${name}/${fontPath(layout, f.fileBase)}`, { ...options, compress: false });
    for (const text of [...siteKitTexts({ name, layout, files, sample }, sha384), ...terms])
      zip.addBuffer(Buffer.from(text.content), `${name}/${text.path}`, options);
    zip.end();
    await whole(values.output, (p) => pipeline(zip.outputStream, createWriteStream(p, { flags: 'wx' })));
    return 0;
  } catch (error) {
    return failed(values.output, error);
  }
}

/** A file name that no file of the kit begins with yet. @throws FontError when the file says nothing of itself */
function nameFor(bytes: Uint8Array, index: number, path: string, taken: readonly string[]): string {
  const facts = factsFor(bytes, index, path);
  const base = fileBase(facts.typographicFamily ?? facts.family ?? 'Unnamed', facts.typographicSubfamily ?? facts.subfamily ?? 'Regular');
  let unique = base;
  for (let n = 2; taken.some((t) => t.startsWith(`${unique}.`) || t.startsWith(`${unique}-`)); n++) unique = `${base}-${n}`;
  return unique;
}

function factsFor(bytes: Uint8Array, index: number, path: string): FaceFacts {
  const facts = valueOf(inspect(bytes, nodeCodec, { fileName: path }, [FACTS.id]).faces[index]!, FACTS);
  if (!facts) throw new FontError('unsupported', `${path} cannot be read.`);
  return facts;
}

async function siteFile(
  bytes: Uint8Array,
  face: Face,
  index: number,
  tags: readonly string[],
  path: string,
  part: FilePart,
  name: string,
): Promise<SiteFile & { content: Uint8Array }> {
  const { faces } = inspect(bytes, nodeCodec, { fileName: path }, [KIND.id]);
  const facts = factsFor(bytes, index, path);
  const recipe = recipeFor(face, openFont(bytes, nodeCodec).format, {
    to: 'woff2',
    ...(part.runs.length > 0 ? { runs: part.runs } : {}),
  });
  const made = render(bytes, index, recipe, { codec: nodeCodec, subsetter: await nodeSubsetter() });
  if (tags.length > 0) noteOnSubsetting(face, path);
  if (!made.comparison.equal)
    throw new FontError('unsupported', `${path} would not be what it was. ${made.comparison.differences.slice(0, 3).join(' ')}`);
  const family = facts.typographicFamily ?? facts.family ?? 'Unnamed';
  const style = facts.typographicSubfamily ?? facts.subfamily ?? 'Regular';
  const weight = facts.axes.find((a) => a.tag === 'wght');
  const generic = genericOf(valueOf(faces[index]!, KIND)?.value ?? null);
  const local = standInFor(generic, facts.weightClass);
  // Metrics that cannot be read give no fallback; the face is drawn all the same.
  lineMetrics(face);
  return {
    family,
    style,
    weightClass: facts.weightClass,
    weightRange: weight ? [weight.min, weight.max] : null,
    italic: facts.italic,
    // A part of its hash in the name: another version is another address, and browsers may keep each for good.
    fileBase: `${name}.${createHash('sha256').update(made.bytes).digest('hex').slice(0, 8)}`,
    bytes: made.bytes.length,
    sourceBytes: bytes.length,
    sha384: sha384(made.bytes),
    runs: toRuns([...made.face.codePoints]),
    unicodeRange: part.name ? unicodeRangeOf(part.runs) : null,
    ...(part.name ? { languages: part.languages } : {}),
    fallback: fallbackFor(face, local, tags.length > 0 ? tags : ['en']),
    generic,
    content: made.bytes,
  };
}

/** What a file says of its terms. Source: OpenType specification, name IDs 0, 7, 13 and 14. */
function termsOf(face: Face): string {
  const said = [0, 7, 13, 14].flatMap((id) => face.name(id) ?? []);
  return `${said.join('\n\n') || 'The file says nothing of its terms. Ask before you use it.'}\n`;
}
