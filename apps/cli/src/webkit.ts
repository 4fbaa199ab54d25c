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
  standInFor,
  toRuns,
  valueOf,
  type Face,
  type KitText,
  type SiteFile,
} from '@orderly-glyph/core';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import yazl from 'yazl';
import { failed, noteOnSubsetting, Unreadable, whole } from './files.js';
import { WrongUse } from './wrong-use.js';

export const WEBKIT_USAGE = `glyph webkit FILE... --name NAME --layout flat|siblings|nested -o OUT.zip [--languages pl,el]
  What a website needs: the faces as WOFF2 (cut down to the languages, if any are named), a style sheet with faces of the
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
  try {
    const files: (SiteFile & { content: Uint8Array })[] = [];
    const terms: KitText[] = [];
    for (const path of positionals) {
      const bytes = await readFile(path).catch((error: NodeJS.ErrnoException) => {
        throw new Unreadable(`${path} cannot be opened (${error.code ?? 'unknown reason'}).`);
      });
      for (const [index, face] of openFont(bytes, nodeCodec).faces.entries()) {
        const file = await siteFile(
          bytes,
          face,
          index,
          tags,
          path,
          files.map((f) => f.fileBase),
        );
        files.push(file);
        terms.push({ path: `license/${file.fileBase.replace(/\.[0-9a-f]{8}$/, '')}.txt`, content: termsOf(face) });
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

async function siteFile(
  bytes: Uint8Array,
  face: Face,
  index: number,
  tags: readonly string[],
  path: string,
  taken: readonly string[],
): Promise<SiteFile & { content: Uint8Array }> {
  const { faces } = inspect(bytes, nodeCodec, { fileName: path }, [FACTS.id, KIND.id]);
  const facts = valueOf(faces[index]!, FACTS);
  if (!facts) throw new FontError('unsupported', `${path} cannot be read.`);
  const recipe = recipeFor(face, openFont(bytes, nodeCodec).format, {
    to: 'woff2',
    ...(tags.length > 0 ? { runs: runsOfLanguages(tags) } : {}),
  });
  const made = render(bytes, index, recipe, { codec: nodeCodec, subsetter: await nodeSubsetter() });
  if (tags.length > 0) noteOnSubsetting(face, path);
  if (!made.comparison.equal)
    throw new FontError('unsupported', `${path} would not be what it was. ${made.comparison.differences.slice(0, 3).join(' ')}`);
  const family = facts.typographicFamily ?? facts.family ?? 'Unnamed';
  const style = facts.typographicSubfamily ?? facts.subfamily ?? 'Regular';
  const base = fileBase(family, style);
  let unique = base;
  for (let n = 2; taken.some((t) => t.startsWith(`${unique}.`)); n++) unique = `${base}-${n}`;
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
    fileBase: `${unique}.${createHash('sha256').update(made.bytes).digest('hex').slice(0, 8)}`,
    bytes: made.bytes.length,
    sourceBytes: bytes.length,
    sha384: sha384(made.bytes),
    runs: toRuns([...made.face.codePoints]),
    unicodeRange: null,
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
