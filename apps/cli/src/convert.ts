import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import {
  faceData,
  FontError,
  glyphFileName,
  glyphSvg,
  GIVEN_NAMES,
  language,
  openFont,
  recipeFor,
  render,
  runsOfLanguages,
  runsOfRanges,
  runsOfText,
  sayRecipe,
  writeCollection,
  type Options,
  type Recipe,
  type Rendered,
  type SfntFont,
  type TargetFormat,
  type Tools,
  type Wish,
} from '@orderly-glyph/core';
import { nodeCodec, nodePaths, nodeSubsetter } from '@orderly-glyph/node';
import yazl from 'yazl';
import { failed, noteOnSubsetting, Unreadable, whole } from './files.js';
import { WrongUse } from './wrong-use.js';

export const CONVERT_USAGE = `glyph convert IN... --to ttf|otf|ttc|woff|woff2|svg|json -o OUT [--face N]
    [--instance NAME|wght=700,wdth=100|--axes wght=300:700,opsz=14] [--no-color]
    [--tolerance UNITS] [--quick] [--subset-text S|--subset-file F|--subset-unicodes U+0020-007E,...|--subset-languages pl,el]
    [--keep-features a,b|--drop-features a,b] [--remove-overlaps] [--mend] [--name KEY=VALUE]...
    [--report REPORT.json]
  The face in another form, each step proved against what went into it; nothing is written when a proof fails. N counts the
  faces of a collection from 0. ttc takes several files; svg is a ZIP of one drawing a glyph, json their outlines and metrics.
  Names have the keys family, style, version, vendor, ${Object.keys(GIVEN_NAMES).join(', ')}; an empty value takes one away.
  The tolerance is in thousandths of the em (0.5) and matters where outlines are converted; --quick takes a fraction of the time
  and more points.
`;

const FORMATS = ['ttf', 'otf', 'ttc', 'woff', 'woff2', 'svg', 'json'] as const;
type Format = (typeof FORMATS)[number];

const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

interface Report {
  source: { path: string; sha256: string; bytes: number; face: number };
  steps: string;
  recipe: Recipe;
  equal: boolean;
  differences: string[];
  glyphsCompared: number;
  /** What was mended; sentences. */
  changes: string[];
  /** Font units; null where outlines were not made anew. */
  farthest: number | null;
  worstGlyph: number | null;
}

/** Carries `glyph convert` out. @throws WrongUse */
export async function convert(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      to: { type: 'string' },
      output: { type: 'string', short: 'o' },
      face: { type: 'string' },
      instance: { type: 'string' },
      axes: { type: 'string' },
      'no-color': { type: 'boolean' },
      tolerance: { type: 'string' },
      quick: { type: 'boolean' },
      'subset-text': { type: 'string' },
      'subset-file': { type: 'string' },
      'subset-unicodes': { type: 'string' },
      'subset-languages': { type: 'string' },
      'keep-features': { type: 'string' },
      'drop-features': { type: 'string' },
      'remove-overlaps': { type: 'boolean' },
      mend: { type: 'boolean' },
      name: { type: 'string', multiple: true },
      report: { type: 'string' },
    },
  });
  if (positionals.length === 0 || !values.output) throw new WrongUse('convert needs an input file and -o OUT.');
  const to = FORMATS.find((f) => f === values.to);
  if (!to) throw new WrongUse(`--to must be one of ${FORMATS.join(', ')}. EOT is not made: no browser of today reads it.`);
  if (positionals.length > 1 && to !== 'ttc') throw new WrongUse('Only a collection (--to ttc) is made of several files.');
  if (values.face !== undefined && !/^\d+$/.test(values.face)) throw new WrongUse('--face must be a number.');
  if (values.tolerance !== undefined && !(Number(values.tolerance) > 0)) throw new WrongUse('--tolerance must be a number above 0.');
  const cuts = (['subset-text', 'subset-file', 'subset-unicodes', 'subset-languages'] as const).filter((k) => values[k] !== undefined);
  if (cuts.length > 1) throw new WrongUse(`--${cuts[0]} and --${cuts[1]} cannot be used together.`);
  if (values.instance !== undefined && values.axes !== undefined)
    throw new WrongUse('--instance and --axes cannot be used together: an instance has no axes left.');
  if (values['keep-features'] !== undefined && values['drop-features'] !== undefined)
    throw new WrongUse('--keep-features and --drop-features cannot be used together.');
  try {
    const wish: Omit<Wish, 'to'> = {
      ...(values.tolerance === undefined ? {} : { tolerance: Number(values.tolerance) }),
      ...(values.quick ? { quick: true } : {}),
      ...(values.instance === undefined ? {} : { at: values.instance }),
      ...(values.axes === undefined ? {} : { axes: values.axes }),
      ...(values['no-color'] ? { plain: true } : {}),
      ...(values['keep-features'] === undefined ? {} : { keep: values['keep-features'] }),
      ...(values['drop-features'] === undefined ? {} : { drop: values['drop-features'] }),
      ...(values['remove-overlaps'] ? { unite: true } : {}),
      ...(values.mend ? { mend: true } : {}),
      ...(values.name ? { names: namesFrom(values.name) } : {}),
      ...(await runsFrom(values)),
    };
    const reports: Report[] = [];
    const made: Rendered[] = [];
    for (const path of positionals) {
      const bytes = await readFile(path).catch((error: NodeJS.ErrnoException) => {
        throw new Unreadable(`${path} cannot be opened (${error.code ?? 'unknown reason'}).`);
      });
      const faces = openFont(bytes, nodeCodec).faces.length;
      const wanted = values.face !== undefined ? [Number(values.face)] : to === 'ttc' ? Array.from({ length: faces }, (_, i) => i) : [0];
      for (const face of wanted) {
        const { rendered, recipe } = await one(bytes, path, face, to, wish);
        made.push(rendered);
        const { equal, differences, glyphsCompared, changes = [], farthest = null, worstGlyph = null } = rendered.comparison;
        reports.push({
          source: { path, sha256: hash(bytes), bytes: bytes.length, face },
          steps: sayRecipe(recipe),
          recipe,
          equal,
          differences,
          glyphsCompared,
          changes,
          farthest,
          worstGlyph,
        });
      }
    }
    const failed = reports.find((r) => !r.equal);
    const result = failed ? null : await write(values.output, to, made);
    if (values.report !== undefined)
      await whole(values.report, (p) =>
        writeFile(
          p,
          JSON.stringify({ to, done: !failed, result: result && { sha256: hash(result), bytes: result.length }, faces: reports }, null, 2),
          {
            flag: 'wx',
          },
        ),
      );
    if (!failed) return 0;
    process.stderr.write(
      `glyph: ${failed.source.path} would not be what it was. ${failed.differences.slice(0, 3).join(' ')} Nothing was written.\n`,
    );
    return 1;
  } catch (error) {
    if (error instanceof WrongUse) throw error;
    return failed(values.output, error);
  }
}

const NAME_KEYS: readonly string[] = ['family', 'style', 'version', 'vendor', ...Object.keys(GIVEN_NAMES)];

function namesFrom(pairs: readonly string[]): Options {
  return Object.fromEntries(
    pairs.map((pair) => {
      const [key = '', ...value] = pair.split('=');
      if (!NAME_KEYS.includes(key) || value.length === 0)
        throw new WrongUse(`--name takes KEY=VALUE, where the key is one of ${NAME_KEYS.join(', ')}.`);
      return [key, value.join('=')];
    }),
  );
}

async function runsFrom(
  values: Partial<Record<`subset-${'text' | 'file' | 'unicodes' | 'languages'}`, string>>,
): Promise<{ runs?: number[] }> {
  const text = values['subset-text'];
  if (text !== undefined) return { runs: runsOfText(text) };
  const file = values['subset-file'];
  if (file !== undefined)
    return {
      runs: runsOfText(
        await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
          throw new Unreadable(`${file} cannot be opened (${error.code ?? 'unknown reason'}).`);
        }),
      ),
    };
  const ranges = values['subset-unicodes'];
  if (ranges !== undefined) {
    const runs = runsOfRanges(ranges);
    if (!runs) throw new WrongUse('--subset-unicodes takes ranges such as U+0020-007E,U+20AC.');
    return { runs };
  }
  const languages = values['subset-languages'];
  if (languages === undefined) return {};
  const tags = languages.split(/[\s,]+/).filter(Boolean);
  const unknown = tags.find((tag) => !language(tag));
  if (tags.length === 0 || unknown !== undefined)
    throw new WrongUse(`There is no language “${unknown ?? languages}” here; tags are those of CLDR.`);
  return { runs: runsOfLanguages(tags) };
}

async function one(
  bytes: Uint8Array,
  path: string,
  index: number,
  to: Format,
  wish: Omit<Wish, 'to'>,
): Promise<{ rendered: Rendered; recipe: Recipe }> {
  const { faces, format } = openFont(bytes, nodeCodec);
  const face = faces[index];
  if (!face)
    throw new FontError(
      'no-such-face',
      `The file holds ${faces.length} ${faces.length === 1 ? 'face' : 'faces'}; there is no number ${index}.`,
    );
  const plain: TargetFormat = face.outlineKind === 'glyf' ? 'ttf' : 'otf';
  const recipe = recipeFor(face, format, { ...wish, to: to === 'ttc' || to === 'svg' || to === 'json' ? plain : to });
  if (recipe.some((r) => r.step === 'subset')) noteOnSubsetting(face, path);
  const uses = (...steps: string[]): boolean => recipe.some((r) => steps.includes(r.step));
  const tools: Tools = { codec: nodeCodec };
  if (uses('subset', 'instance', 'axes')) tools.subsetter = await nodeSubsetter();
  if (uses('overlaps')) tools.paths = await nodePaths();
  return { rendered: render(bytes, index, recipe, tools), recipe };
}

/** Writes the result; gives its bytes, but for a ZIP of drawings. */
async function write(path: string, to: Format, made: readonly Rendered[]): Promise<Uint8Array | null> {
  const [first] = made;
  if (to === 'svg') {
    const data = faceData(first!.face);
    const zip = new yazl.ZipFile();
    for (const glyph of data.glyphs) {
      const svg = glyphSvg(data, glyph);
      // Dates would make the same drawings another file each time.
      if (svg) zip.addBuffer(Buffer.from(svg), glyphFileName(glyph), { mtime: new Date('2000-01-01T00:00:00Z') });
    }
    zip.end();
    await whole(path, (p) => pipeline(zip.outputStream, createWriteStream(p, { flags: 'wx' })));
    return null;
  }
  const bytes =
    to === 'json'
      ? new TextEncoder().encode(`${JSON.stringify(faceData(first!.face))}\n`)
      : to === 'ttc'
        ? writeCollection(made.map((m): SfntFont => m.face.font))
        : first!.bytes;
  await whole(path, (p) => writeFile(p, bytes, { flag: 'wx' }));
  return bytes;
}
