import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import {
  buildIconSet,
  carryOutRead,
  compareReleases,
  DEFAULT_FACTS,
  FontError,
  ICON_NAME,
  iconFontPath,
  iconKitTexts,
  LAYOUTS,
  openFace,
  pathOfInk,
  readBoards,
  readManifest,
  readSource,
  SvgPathPen,
  takeDrawings as take,
  TransformPen,
  type DrawingTools,
  type GivenDrawing,
  type Icon,
  type IconFinding,
  type IconSet,
  type Layout,
  type ReleaseFile,
  type ReleaseNote,
  type TakenDrawing,
} from '@orderly-glyph/core';
import { iconThreads, nodeCodec, nodePaths, nodeSvgEngine, openZip, ZipRefused } from '@orderly-glyph/node';
import yazl from 'yazl';

/** Drawings are shown on a square of so many units; a release reads them again at its own em. */
const SHOWN_EM = 1200;
/** Drawings that one archive brings, and bytes of one of them. */
const MOST_DRAWINGS = 3000;
const MOST_BYTES = 4 * 1024 * 1024;

/** A drawing as it is shown: SVG path data on the square, y down. */
export interface IconShape {
  path: string;
  layers: { color: string; alpha: number; path: string }[];
  source: string;
  width: number;
  height: number;
  /** In parts of the board. */
  area: number;
  inkWidth: number;
  inkHeight: number;
  points: number;
  caps: string[];
  /** Coverage on 24 by 24 places, a byte each, as Base64. */
  raster: string;
  findings: IconFinding[];
}

const color = (c: number): string => `#${c.toString(16).padStart(6, '0')}`;

/** A drawing that cannot be shown, with the reason. */
export const brokenShape = (message: string): IconShape => ({
  path: '',
  layers: [],
  source: '',
  width: 24,
  height: 24,
  area: 0,
  inkWidth: 0,
  inkHeight: 0,
  points: 0,
  caps: [],
  raster: '',
  findings: [{ code: 'broken-path', severity: 'lost', message, remedies: [] }],
});

/** A face that texts in drawings may be set in. */
export interface TextFont {
  family: string;
  bytes: Uint8Array;
}

export interface ShapedIcon {
  /** The drawing, its text made shapes where faces for it were given. */
  svg: string;
  shape: IconShape;
  /** Families in which its text was drawn. */
  drawnIn: string[];
}

/** Reads one drawing as it is to be shown; one that cannot be read is shown as empty, with the reason. */
export async function shapeIcon(
  icon: Pick<Icon, 'svg' | 'inking' | 'cut' | 'place'>,
  smallest: number,
  fonts: readonly TextFont[] = [],
): Promise<ShapedIcon> {
  const tools: DrawingTools = { svg: await nodeSvgEngine(), paths: await nodePaths() };
  const shaped = fonts.length > 0 ? await withoutText(icon.svg, fonts) : null;
  const svg = shaped?.svg ?? icon.svg;
  const drawnIn = shaped?.families ?? [];
  const read = carryOutRead({ icon: { ...icon, svg }, em: SHOWN_EM, smallest }, tools);
  if ('error' in read) return { svg, drawnIn, shape: brokenShape(read.error) };
  const { drawing, measures } = read;
  return {
    svg,
    drawnIn,
    shape: {
      path: pathOfInk(read.contours, SHOWN_EM),
      layers: read.layers.map((l) => ({ color: color(l.color), alpha: l.alpha, path: pathOfInk(l.contours, SHOWN_EM) })),
      source: drawing.normal,
      width: drawing.width,
      height: drawing.height,
      area: measures.area,
      inkWidth: measures.width,
      inkHeight: measures.height,
      points: measures.points,
      caps: drawing.lines.caps,
      raster: Buffer.from(Uint8Array.from(measures.raster, (v) => Math.round(v * 255))).toString('base64'),
      findings: read.findings,
    },
  };
}

export interface TakenIcons {
  taken: TakenDrawing[];
  /** Those that came or were drawn anew, in the order of the set. */
  icons: (Icon & { original: string })[];
  /** Families that their texts are set in. */
  families: string[];
}

/** Families that the text of a drawing is set in; none where it has no text or cannot be read. */
function familiesIn(svg: string): string[] {
  if (!/<(?:[\w-]+:)?text[\s>]/.test(svg)) return [];
  try {
    return readBoards(svg).flatMap((board) => (board.source.losses.includes('text') ? [...board.source.families] : []));
  } catch (error) {
    if (!(error instanceof FontError)) throw error;
    return [];
  }
}

/** A drawing whose text is made shapes by these faces, for good: later nobody needs them. Null where it has none, or they do not draw it. */
async function withoutText(svg: string, fonts: readonly TextFont[]): Promise<{ svg: string; families: string[] } | null> {
  const source = readSource(svg);
  const used = fonts.filter((f) => source.families.some((name) => name.toLowerCase() === f.family.toLowerCase()));
  if (!source.losses.includes('text') || used.length === 0) return null;
  const engine = await nodeSvgEngine();
  const drawn = engine.normalise(
    source.svg,
    used.map((f) => f.bytes),
  );
  // Without the faces the text is gone: where both are the same, they drew nothing of it.
  if (drawn.svg === engine.normalise(source.svg).svg) return null;
  return { svg: readSource(drawn.svg).svg, families: used.map((f) => f.family) };
}

/** Takes drawings that were sent into a set, of which only names matter here. */
export async function takeIcons(
  known: readonly Pick<Icon, 'id' | 'name' | 'aliases' | 'inking' | 'beneath' | 'cut' | 'place'>[],
  given: readonly GivenDrawing[] | { zip: string },
  by: 'itself' | 'groups',
  newIds: readonly string[],
): Promise<TakenIcons> {
  const { files, refused } = 'zip' in given ? await outOfZip(given.zip) : { files: [...given], refused: [] };
  const facts = { ...DEFAULT_FACTS, family: 'x', prefix: 'x-', base: 'x' };
  const set: IconSet = {
    facts,
    icons: known.map((k) => ({ ...k, codePoint: null, characters: [], words: [], svg: '', mirror: false })),
    given: [],
  };
  let next = 0;
  const { icons, taken } = take(set, files, {
    by,
    idOf: () => {
      const id = newIds[next++];
      if (id === undefined)
        throw new FontError(
          'too-large',
          `More than ${newIds.length.toLocaleString('en-US')} drawings came at once. Bring them in in parts; nothing was taken in.`,
        );
      return id;
    },
  });
  const fresh = icons.filter((icon) => icon.svg !== '');
  const originals = new Map(taken.flatMap((t) => [...t.added, ...t.replaced].map((id) => [id, t.path] as const)));
  return {
    taken: [...taken, ...refused],
    icons: fresh.map((icon) => ({ ...icon, original: originals.get(icon.id) ?? icon.name })),
    families: [...new Set(fresh.flatMap((icon) => familiesIn(icon.svg)))].slice(0, 20),
  };
}

async function outOfZip(path: string): Promise<{ files: GivenDrawing[]; refused: TakenDrawing[] }> {
  const files: GivenDrawing[] = [];
  const refused: TakenDrawing[] = [];
  const refuse = (name: string, why: string): void => void refused.push({ path: name, added: [], replaced: [], notes: [], refused: why });
  const dir = await mkdtemp(join(tmpdir(), 'drawings-'));
  try {
    const zip = await openZip(path);
    try {
      for (const { index, path: name, bytes, refusal } of zip.entries) {
        if (/(^|\/)(__MACOSX\/|\._)/.test(name)) continue;
        if (!/\.svg$/i.test(name)) refuse(name, 'It is no SVG; only drawings were taken out.');
        else if (refusal !== null) refuse(name, refusal);
        else if (bytes > MOST_BYTES) refuse(name, 'It is larger than 4 MiB, which no drawing of an icon is.');
        else if (files.length >= MOST_DRAWINGS)
          refuse(name, `The archive holds more than ${MOST_DRAWINGS.toLocaleString('en-US')} drawings; bring the rest in by itself.`);
        else {
          const out = join(dir, String(index));
          await zip.write(index, out);
          files.push({ path: name, text: await readFile(out, 'utf8') });
          await rm(out);
        }
      }
    } finally {
      zip.close();
    }
  } catch (error) {
    if (error instanceof ZipRefused) throw new FontError('unsupported', error.message);
    throw error;
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
  return { files, refused };
}

/** Glyphs of a face as drawings on a square board: the em, its lower edge at the descender. */
export function glyphDrawings(
  bytes: Uint8Array,
  faceIndex: number,
  characters: readonly number[],
): (GivenDrawing & { codePoint: number })[] {
  const face = openFace(bytes, nodeCodec, faceIndex);
  const em = face.unitsPerEm;
  return characters.flatMap((codePoint) => {
    const glyph = face.glyphOf(codePoint);
    const pen = new SvgPathPen(1);
    // Capitals about in the middle of the board, as a released set has it.
    const up = em - em / 8;
    const width = face.advanceOf(glyph);
    if (glyph === 0 || !face.draw(glyph, new TransformPen([1, 0, 0, -1, (em - width) / 2, up], pen)) || pen.path === '') return [];
    return [
      {
        path: `u${codePoint.toString(16).padStart(4, '0')}.svg`,
        text: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${em} ${em}"><path d="${pen.path}"/></svg>`,
        codePoint,
      },
    ];
  });
}

export interface MadeIcons {
  em: number;
  files: ReleaseFile[];
  given: { codePoint: number; name: string }[];
  /** By the drawings' ids. */
  codePoints: Record<string, number>;
  /** What only the making found, by the drawings' ids. */
  found: Record<string, IconFinding[]>;
  note: ReleaseNote;
  kits: Record<Layout, Uint8Array>;
}

/** Makes a release: fonts, and the kit laid out in each way. */
export async function makeIcons(set: IconSet, before: IconSet | null, number: number, day: string): Promise<MadeIcons> {
  const threads = iconThreads();
  const tools = {
    svg: await nodeSvgEngine(),
    paths: await nodePaths(),
    codec: nodeCodec,
    pause: () => new Promise<void>((done) => setImmediate(done)),
    ...(set.icons.length > 60 ? { readMany: threads.readMany, proveMany: threads.proveMany } : {}),
  };
  const built = await buildIconSet(set, number, day, tools).finally(() => threads.close());
  const unread = built.icons.find((i) => i.read === null);
  if (unread) throw new FontError('unsupported', `“${unread.name}” cannot be read: ${unread.findings[0]!.message}`);
  const note = compareReleases(before, set);
  const kits = {} as Record<Layout, Uint8Array>;
  for (const layout of LAYOUTS) {
    const zip = new yazl.ZipFile();
    const options = { mtime: new Date('2000-01-01T00:00:00Z') };
    for (const file of built.files)
      zip.addBuffer(Buffer.from(file.bytes), iconFontPath(layout, file.name), {
        ...options,
        compress: file.format === 'ttf' || file.format === 'otf',
      });
    for (const text of iconKitTexts({ set, built, number, day, layout, note, licenseText: '' }))
      zip.addBuffer(Buffer.from(text.content), text.path, options);
    zip.end();
    kits[layout] = new Uint8Array(await buffer(zip.outputStream));
  }
  return {
    em: built.em,
    files: built.files,
    given: built.given,
    codePoints: Object.fromEntries(built.icons.map((i) => [i.id, i.codePoint])),
    found: Object.fromEntries(built.icons.map((i) => [i.id, i.findings.filter((f) => f.code === 'differs')])),
    note,
    kits,
  };
}

/** A set from the file of its kit. */
export async function readIconFile(path: string): Promise<{ set: IconSet; release: number }> {
  const { set, release } = readManifest(await readFile(path, 'utf8'));
  for (const icon of set.icons)
    if (!ICON_NAME.test(icon.name)) throw new FontError('bad-table', `“${icon.name}” cannot be the name of a drawing.`);
  return { set, release: release?.number ?? 0 };
}
