import { createWriteStream } from 'node:fs';
import { mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { extname, join, relative } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import {
  buildIconSet,
  compareReleases,
  contradictionsOf,
  DEFAULT_FACTS,
  emFor,
  FontError,
  iconFontPath,
  iconKitTexts,
  PREFIX,
  readManifest,
  takeDrawings,
  uPlus,
  type GivenDrawing,
  type IconSet,
  type TakenDrawing,
} from '@orderly-glyph/core';
import { nodeCodec, nodePaths, nodeSvgEngine, iconThreads, openZip, ZipRefused } from '@orderly-glyph/node';
import yazl from 'yazl';
import { failed, Unreadable, whole } from './files.js';
import { WrongUse } from './wrong-use.js';

export const ICONS_USAGE = `glyph icons DIR|ZIP --name NAME --prefix PREFIX [--upem N] [--grid 24] [--manifest OLD.json] [--selector class|attribute] [--ligatures] [--day YYYY-MM-DD] -o OUT.zip [--report REPORT.json]
  An icon font from SVG drawings, with its style sheet, samples, single drawings and a file that holds the whole set. With the file of the
  release before, code points stay where they are, and those of drawings that are gone stay reserved. The em follows the drawings' grid. The day stands in the fonts (today's
  where none is named): the same drawings and day give the same bytes.
`;

/** Bytes of one drawing beyond which it is not opened. */
const MOST_BYTES = 16 * 1024 * 1024;

/** Carries `glyph icons` out. @throws WrongUse */
export async function icons(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      name: { type: 'string' },
      prefix: { type: 'string' },
      upem: { type: 'string' },
      grid: { type: 'string' },
      manifest: { type: 'string' },
      selector: { type: 'string' },
      ligatures: { type: 'boolean' },
      output: { type: 'string', short: 'o' },
      report: { type: 'string' },
      day: { type: 'string' },
    },
  });
  const [from] = positionals;
  if (!from || positionals.length > 1 || !values.output) throw new WrongUse('icons needs one folder or ZIP of drawings and -o OUT.zip.');
  const prefix = values.prefix === undefined ? undefined : `${values.prefix.replace(/-$/, '')}-`;
  if (prefix !== undefined && !PREFIX.test(prefix))
    throw new WrongUse('--prefix has small letters, figures and hyphens and begins with a letter.');
  const { selector } = values;
  if (selector !== undefined && selector !== 'class' && selector !== 'attribute') throw new WrongUse('--selector is class or attribute.');
  const whole16 = (name: 'upem' | 'grid', least: number, most: number): number | null => {
    const given = values[name];
    if (given === undefined) return null;
    const n = Number(given);
    if (!Number.isInteger(n) || n < least || n > most) throw new WrongUse(`--${name} is a whole number from ${least} to ${most}.`);
    return n;
  };
  const [upem, grid] = [whole16('upem', 16, 16384), whole16('grid', 1, 8192)];
  const day = values.day ?? new Date().toISOString().slice(0, 10);
  if (!/^\d{4}-\d{2}-\d{2}$/.test(day) || Number.isNaN(Date.parse(day))) throw new WrongUse('--day is a day as 2026-01-31.');
  try {
    const old = values.manifest === undefined ? null : readManifest(await textOf(values.manifest));
    if (!old && (!values.name?.trim() || !prefix)) throw new WrongUse('A new set needs --name and --prefix.');
    const base: IconSet = old?.set ?? {
      facts: { ...DEFAULT_FACTS, family: values.name!.trim(), prefix: prefix!, base: `${prefix!}icon` },
      icons: [],
      given: [],
    };
    const { files, refused } = await drawingsOf(from);
    const { icons: all, taken } = takeDrawings(base, files, { idOf: (name) => unusedId(name, base) });
    // What is in the folder is the set: drawings that are not there any more go, and their code points stay reserved.
    const here = new Set(taken.flatMap((t) => [...t.added, ...t.replaced]));
    const set: IconSet = {
      facts: {
        ...base.facts,
        ...(values.name ? { family: values.name.trim() } : {}),
        ...(prefix ? { prefix, ...(old ? {} : { base: `${prefix}icon` }) } : {}),
        ...(selector ? { selector } : {}),
        em: upem ?? (grid !== null ? emFor(grid) : base.facts.em),
      },
      icons: all
        .filter((i) => here.has(i.id))
        .map((i) => (values.ligatures && i.words.length === 0 && i.name.length > 1 ? { ...i, words: [i.name] } : i)),
      given: base.given,
    };
    const [wrong] = contradictionsOf(set);
    if (wrong !== undefined) throw new FontError('does-not-fit', wrong);
    const number = (old?.release?.number ?? 0) + 1;
    const several = iconThreads();
    const tools = {
      svg: await nodeSvgEngine(),
      paths: await nodePaths(),
      codec: nodeCodec,
      pause: () => new Promise<void>((done) => setImmediate(done)),
      ...several,
    };
    const built = await buildIconSet(set, number, day, tools).finally(() => several.close());
    const note = compareReleases(old?.set ?? null, set);
    const zip = new yazl.ZipFile();
    // The same drawings make the same kit.
    const options = { mtime: new Date('2000-01-01T00:00:00Z') };
    for (const file of built.files)
      zip.addBuffer(Buffer.from(file.bytes), iconFontPath('siblings', file.name), {
        ...options,
        compress: file.format === 'ttf' || file.format === 'otf',
      });
    for (const text of iconKitTexts({ set, built, number, day, layout: 'siblings', note, licenseText: '' }))
      zip.addBuffer(Buffer.from(text.content), text.path, options);
    zip.end();
    await whole(values.output, (p) => pipeline(zip.outputStream, createWriteStream(p, { flags: 'wx' })));
    const unread = [...refused, ...taken.flatMap((t) => (t.refused === null ? [] : [{ path: t.path, message: t.refused }]))];
    if (values.report !== undefined) {
      const fileOf = new Map(taken.flatMap((t: TakenDrawing) => [...t.added, ...t.replaced].map((id) => [id, t] as const)));
      const report = {
        release: number,
        em: built.em,
        drawings: built.icons.map((i) => ({
          path: fileOf.get(i.id)?.path ?? null,
          name: i.name,
          codePoint: uPlus(i.codePoint),
          points: i.points,
          notes: fileOf.get(i.id)?.notes ?? [],
          findings: i.findings.map(({ code, severity, message }) => ({ code, severity, message })),
        })),
        refused: unread,
        note,
      };
      await whole(values.report, (p) => writeFile(p, `${JSON.stringify(report, null, 1)}\n`, { flag: 'wx' }));
    }
    for (const { path, message } of unread) process.stderr.write(`glyph: ${path} is left out: ${message}\n`);
    const lost = built.icons.filter((i) => i.findings.some((f) => f.severity === 'lost'));
    if (lost.length > 0)
      process.stderr.write(
        `glyph: part of ${lost.length === 1 ? 'one drawing' : `${lost.length} drawings`} is not in the font: ${lost
          .slice(0, 5)
          .map((i) => i.name)
          .join(', ')}${lost.length > 5 ? ', …' : ''}. The report says what.\n`,
      );
    return unread.length > 0 ? 1 : 0;
  } catch (error) {
    if (error instanceof WrongUse) throw error;
    return failed(values.output, error);
  }
}

/** The id of a new drawing: its name, unless a drawing that is gone had that. */
function unusedId(name: string, { icons, given }: IconSet): string {
  const taken = new Set([...icons.map((i) => i.id), ...given.map((g) => g.name)]);
  if (!taken.has(name)) return name;
  for (let n = 2; ; n++) if (!taken.has(`${name}~${n}`)) return `${name}~${n}`;
}

const textOf = (path: string): Promise<string> =>
  readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new Unreadable(`${path} cannot be opened (${error.code ?? 'unknown reason'}).`);
  });

/** The drawings in a folder, those within it too, or in a ZIP; by path, so that every machine has them in the same order. */
async function drawingsOf(from: string): Promise<{ files: GivenDrawing[]; refused: { path: string; message: string }[] }> {
  const files: GivenDrawing[] = [];
  const refused: { path: string; message: string }[] = [];
  const kind = await stat(from).catch((error: NodeJS.ErrnoException) => {
    throw new Unreadable(`${from} cannot be opened (${error.code ?? 'unknown reason'}).`);
  });
  const tooLarge = (path: string): void => void refused.push({ path, message: 'The file is larger than any drawing; it was not read.' });
  if (kind.isDirectory()) {
    const entries = (await readdir(from, { recursive: true, withFileTypes: true })).filter(
      (e) => e.isFile() && extname(e.name).toLowerCase() === '.svg',
    );
    for (const e of entries) {
      const path = join(e.parentPath, e.name);
      if ((await stat(path)).size > MOST_BYTES) tooLarge(relative(from, path));
      else files.push({ path: relative(from, path), text: await readFile(path, 'utf8') });
    }
  } else
    try {
      const zip = await openZip(from);
      const dir = await mkdtemp(join(tmpdir(), 'glyph-'));
      try {
        for (const { index, path, bytes, refusal } of zip.entries) {
          if (extname(path).toLowerCase() !== '.svg' || /(^|\/)(__MACOSX|\._)/.test(path)) continue;
          if (refusal !== null) refused.push({ path, message: refusal });
          else if (bytes > MOST_BYTES) tooLarge(path);
          else {
            const out = join(dir, String(index));
            await zip.write(index, out);
            files.push({ path, text: await readFile(out, 'utf8') });
          }
        }
      } finally {
        zip.close();
        await rm(dir, { recursive: true, force: true });
      }
    } catch (error) {
      if (error instanceof ZipRefused) throw new Unreadable(`${from}: ${error.message}`);
      throw error;
    }
  if (files.length + refused.length === 0) throw new Unreadable(`There are no SVG files in ${from}.`);
  return { files: files.sort((a, b) => (a.path < b.path ? -1 : 1)), refused };
}
