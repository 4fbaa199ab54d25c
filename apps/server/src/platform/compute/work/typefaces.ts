import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import {
  buildTypeface,
  channelOf,
  codeModules,
  describeLetterStep,
  findPages,
  FontError,
  INK_EM,
  judgeCoverage,
  language,
  layOut,
  lettersOf,
  openFace,
  outlineOf,
  pageCode,
  PAPERS,
  planTypeface,
  readIcon,
  readPage,
  readTypeface,
  shapeOf,
  sheetShapes,
  SvgPathPen,
  traceBox,
  TransformPen,
  writtenTarget,
  writeTypeface,
  drawContour,
  readBoards,
  type Cell,
  type CodeReader,
  type Contour,
  type Picture,
  type DrawnLetter,
  type Heights,
  type Plan,
  type ReadFinding,
  type ReleaseFile,
  type SheetPlan,
  type SheetShape,
  type Typeface,
} from '@orderly-glyph/core';
import { nodeCodec, nodeCodeReader, nodePaths, nodeSvgEngine, jpegOf, pageCountOf, pageOf } from '@orderly-glyph/node';
import yazl from 'yazl';
import { buffer } from 'node:stream/consumers';

/** Outlines as SVG path data in thousandths of the em, y down. */
export const pathOf = (contours: readonly Contour[], x = 0): string => {
  const pen = new SvgPathPen(1);
  for (const contour of contours) drawContour(contour, new TransformPen([1, 0, 0, -1, x, 0], pen));
  return pen.path;
};

/** A typeface's plan as it is shown. */
export interface ShownPlan {
  heights: Heights;
  white: number;
  whiteFrom: Plan['whiteFrom'];
  glyphs: (Omit<Plan['glyphs'][number], 'contours' | 'overlaps' | 'from' | 'to' | 'shifts'> & {
    path: string;
    /** Of its ink, thousandths of the em. */
    top: number;
    bottom: number;
    /** Character and variant. */
    letterKey: string;
  })[];
  missing: string[];
  pairs: Plan['pairs'];
  pairCount: number;
  languages: { full: string[]; lacking: { tag: string; name: string; missing: string[] }[] };
}

/** Pairs that are listed; the rest moves as well. */
const LISTED_PAIRS = 400;

/** Every glyph as it would be released, and what the face would write. */
export async function planFace(face: Typeface): Promise<ShownPlan> {
  const paths = await nodePaths();
  const plan = planTypeface(face, paths);
  const lacking: ShownPlan['languages']['lacking'] = [];
  const full: string[] = [];
  if (plan.glyphs.length > 0) {
    const built = buildTypeface(
      { ...face, kern: false, turns: false, facts: { ...face.facts, family: 'x', style: 'Regular', license: '', licenseUrl: '' } },
      1,
      '2000-01-01',
      paths,
      nodeCodec,
    );
    const coverage = judgeCoverage(openFace(built.files[0]!.bytes, nodeCodec, 0));
    for (const tag of face.wish.languages) {
      const verdict = coverage.languages.find((l) => l.tag === tag);
      if (verdict?.level === 'full') full.push(tag);
      else lacking.push({ tag, name: language(tag)?.name ?? tag, missing: verdict?.missing ?? [] });
    }
  }
  return {
    heights: plan.heights,
    white: plan.white,
    whiteFrom: plan.whiteFrom,
    glyphs: plan.glyphs.map(({ contours, overlaps: _, from, to: __, shifts: ___, ...g }) => ({
      ...g,
      path: pathOf(contours, g.kind === 'mark' ? 0 : g.left - from),
      top: shapeOf(contours)?.box.yMax ?? 0,
      bottom: shapeOf(contours)?.box.yMin ?? 0,
      letterKey: `${g.character}/${g.variant}`,
    })),
    missing: plan.missing,
    pairs: plan.pairs.slice(0, LISTED_PAIRS),
    pairCount: plan.pairs.length,
    languages: { full, lacking },
  };
}

/** One letter's outline as points, its ink as a path, and its steps in words. */
export async function letterPoints(
  letter: Pick<DrawnLetter, 'ink' | 'steps'>,
): Promise<{ ink: string; outline: Contour[]; steps: string[] }> {
  return { ink: pathOf(letter.ink), outline: outlineOf(letter, await nodePaths()), steps: letter.steps.map(describeLetterStep) };
}

/** The fonts of a typeface; for trying, WOFF2 alone. */
export async function makeTypeface(
  face: Typeface,
  number: number,
  day: string,
): Promise<{ files: ReleaseFile[]; paths: Record<string, string> }> {
  const built = buildTypeface(face, number, day, await nodePaths(), nodeCodec);
  return {
    files: built.files,
    paths: Object.fromEntries(
      built.plan.glyphs.map((g) => [`${g.character}/${g.variant}`, pathOf(g.contours, g.kind === 'mark' ? 0 : g.left - g.from)]),
    ),
  };
}

/** A release as ZIP: fonts, source, terms. */
export async function typefaceZip(
  face: Typeface,
  release: { number: number; day: string },
  files: readonly { name: string; bytes: Uint8Array }[],
  notes: string,
): Promise<Uint8Array> {
  const zip = new yazl.ZipFile();
  const options = { mtime: new Date('2000-01-01T00:00:00Z') };
  for (const f of files) zip.addBuffer(Buffer.from(f.bytes), `fonts/${f.name}`, { ...options, compress: !f.name.endsWith('.woff2') });
  const { maker, license, licenseUrl, family } = face.facts;
  zip.addBuffer(Buffer.from(writeTypeface(face, release)), 'typeface.json', options);
  zip.addBuffer(
    Buffer.from(
      `${[maker && `Made by ${maker}`, license, licenseUrl].filter(Boolean).join('\n\n') || 'Nothing is said about its terms. Ask whoever made it before you use it.'}\n`,
    ),
    'license/LICENSE.txt',
    options,
  );
  zip.addBuffer(
    Buffer.from(
      `${family.toUpperCase()}, RELEASE ${release.number}\n\n${notes ? `${notes}\n\n` : ''}fonts/ holds the face as OTF for design programs, TTF for shops and older programs, WOFF2 for websites.\ntypeface.json is its source: ink, recipes, spacing and kerning; the typeface is made again of it.\n`,
    ),
    'READ-ME.txt',
    options,
  );
  zip.end();
  return new Uint8Array(await buffer(zip.outputStream));
}

/** A typeface from its file. */
export async function readTypefaceFile(path: string): Promise<ReturnType<typeof readTypeface>> {
  return readTypeface(await readFile(path, 'utf8'));
}

/** A box that was read. */
export interface TakenBox {
  character: string;
  variant: number;
  ink: Contour[];
  findings: ReadFinding[];
  /** Corners of the box in `picture`, in parts of its width and height. */
  corners: [number, number][];
}
/** What one picture showed. */
export interface ShownPage {
  page: number;
  pages: number;
  findings: ReadFinding[];
  boxes: TakenBox[];
  /** White between written letters, thousandths of the em; null where no words were written or letters join. */
  learned: number | null;
  /** What was sent, small, as a data URL of JPEG: where something is to be looked at. */
  picture: string | null;
}

/** Width or height of the pictures that are shown again, px. */
const SHOWN_PX = 1100;

const stop = (code: ReadFinding['code'], message: string): ShownPage => ({
  page: 0,
  pages: 0,
  findings: [{ code, severity: 'stops', message }],
  boxes: [],
  learned: null,
  picture: null,
});

/** How many pictures or pages a file holds. @throws FontError when it is none that is read */
export async function countPages(path: string): Promise<number> {
  return pageCountOf(new Uint8Array(await readFile(path)));
}

/** Reads one picture of a filled page. @param page from 1 on. @param plans of the typeface's sheets */
export async function readSheetPage(path: string, page: number, plans: readonly SheetPlan[]): Promise<ShownPage> {
  const reader = await nodeCodeReader();
  const picture = await pageOf(new Uint8Array(await readFile(path)), page);
  const shown = await readOne(picture, reader, plans);
  const told = shown.findings.some((f) => f.severity !== 'note') || shown.boxes.some((b) => b.findings.some((f) => f.severity !== 'note'));
  if (told) shown.picture = `data:image/jpeg;base64,${Buffer.from((await jpegOf(picture, SHOWN_PX)).bytes).toString('base64')}`;
  return shown;
}

/** A page that could not be read, with the reason. */
export const unreadPage = (message: string): ShownPage => stop('no-code', message);

async function readOne(picture: Picture, reader: CodeReader, plans: readonly SheetPlan[]): Promise<ShownPage> {
  const gray = channelOf(picture, 'red');
  let found = await findPages(gray, reader);
  // Under colored light the code may show in brightness alone.
  if (found.length === 0) found = await findPages(channelOf(picture, 'luminance'), reader);
  if (found.length === 0)
    return stop('no-code', 'No page of a sheet was found in it: the square code at its top must be in the picture, whole and sharp.');
  if (found.length > 1)
    return stop('two-sheets', `The picture shows ${found.length} pages. Photograph each by itself; more of its letters are seen then.`);
  const plan = plans.find((p) => p.id === found[0]!.id);
  if (!plan) return stop('wrong-sheet', 'This page belongs to another typeface, or to a sheet that is not known here.');
  const pages = layOut(plan);
  const page = pages[found[0]!.page - 1];
  if (!page || found[0]!.layout !== plan.layout) return stop('wrong-sheet', 'This page is not one of its sheet as it is known here.');
  const read = readPage(picture, gray, found[0]!, plan, page);
  const shapes = new Map(
    read.cells.flatMap((c) => {
      const shape = c.cell.variant === 0 ? shapeOf(c.contours) : null;
      return shape ? [[c.cell.character, shape] as const] : [];
    }),
  );
  const xHeight = shapes.get('x')?.box.yMax ?? shapes.get('n')?.box.yMax ?? 480;
  const words = read.words.flatMap((w) => lettersOf(w.contours, w.text, (cs) => shapeOf(cs)?.box ?? null) ?? []);
  const learned = writtenTarget(
    words.map((w) => w.flatMap((l) => shapeOf(l) ?? [])),
    { xHeight, capHeight: 700 },
  );
  return {
    page: page.page,
    pages: page.pages,
    findings: read.findings,
    boxes: read.cells.map((c) => ({
      character: c.cell.character,
      variant: c.cell.variant,
      ink: c.contours,
      findings: c.findings,
      corners: c.corners.map(([x, y]) => [x / picture.width, y / picture.height]),
    })),
    learned,
    picture: null,
  };
}

/** Ink of a box that was drawn on screen: a gray byte a px, Base64. */
export function traceDrawn({ width, height, gray }: { width: number; height: number; gray: string }): Contour[] {
  const data = new Uint8Array(Buffer.from(gray, 'base64'));
  if (data.length !== width * height) throw new FontError('bad-table', 'The drawing is not as large as it says.');
  return traceBox({ width, height, data });
}

/** The character that a file's or a group's name means: itself, or U+0041, or a word for one. */
function characterOf(name: string): string | null {
  const plain = name
    .replace(/^.*[\\/]/, '')
    .replace(/\.svg$/i, '')
    .trim();
  if ([...plain].length === 1) return plain;
  const hex = /^(?:u\+?|uni)([0-9a-f]{4,6})$/i.exec(plain)?.[1];
  if (hex) return String.fromCodePoint(Math.min(0x10ffff, parseInt(hex, 16)));
  const word = plain.toLowerCase().replace(/[^a-z0-9]+/g, '-');
  const sided = /^(?:(upper|capital|lower|small)-)?([a-z])$|^([a-z])-(upper|capital|lower|small)$/.exec(word);
  if (sided) return /upper|capital/.test(sided[1] ?? sided[4] ?? '') ? (sided[2] ?? sided[3]!).toUpperCase() : (sided[2] ?? sided[3]!);
  return WORDS[word] ?? null;
}
const WORDS: Readonly<Record<string, string>> = {
  zero: '0',
  one: '1',
  two: '2',
  three: '3',
  four: '4',
  five: '5',
  six: '6',
  seven: '7',
  eight: '8',
  nine: '9',
  period: '.',
  comma: ',',
  colon: ':',
  semicolon: ';',
  exclam: '!',
  question: '?',
  hyphen: '-',
  slash: '/',
  ampersand: '&',
  at: '@',
  quotesingle: "'",
  quotedbl: '"',
  parenleft: '(',
  parenright: ')',
  euro: '€',
  dollar: '$',
  sterling: '£',
  plus: '+',
  equal: '=',
  percent: '%',
  asterisk: '*',
  numbersign: '#',
  underscore: '_',
  acute: '\u0301',
  grave: '\u0300',
  circumflex: '\u0302',
  tilde: '\u0303',
  dieresis: '\u0308',
  ring: '\u030a',
  caron: '\u030c',
  cedilla: '\u0327',
  ogonek: '\u0328',
  breve: '\u0306',
  macron: '\u0304',
};

/** Letters from vector drawings: read as drawings of icons are, set on the baseline and to the height of their kind. */
export async function vectorLetters(
  files: readonly { path: string; text: string }[],
  heights: Heights,
): Promise<{ letters: { character: string; ink: Contour[]; from: string }[]; told: string[] }> {
  const tools = { svg: await nodeSvgEngine(), paths: await nodePaths() };
  const letters: { character: string; ink: Contour[]; from: string }[] = [];
  const told: string[] = [];
  for (const { path, text } of files) {
    try {
      let boards = readBoards(text, 'itself');
      if (boards.length === 1 && characterOf(path) === null) boards = readBoards(text, 'groups');
      for (const board of boards) {
        const name = boards.length === 1 ? path : (board.name ?? path);
        const character = characterOf(name);
        if (character === null) {
          told.push(`“${name}” names no character. Call it by the character itself, as “a”, by “U+0061”, or “upper-a”.`);
          continue;
        }
        const read = readIcon({ svg: board.source.svg, inking: null, cut: false, place: [] }, INK_EM, 16, tools);
        const box = shapeOf(read.contours)?.box;
        if (!box) {
          told.push(`Nothing is drawn in “${name}”.`);
          continue;
        }
        letters.push({ character, ink: standing(read.contours, character, box, heights), from: path });
      }
    } catch (error) {
      if (!(error instanceof FontError)) throw error;
      told.push(`${path}: ${error.message}`);
    }
  }
  return { letters, told };
}

/** A vector letter on the baseline, as high as capitals, small letters or figures are; what hangs below keeps its share. */
function standing(
  contours: readonly Contour[],
  character: string,
  box: { xMin: number; yMin: number; yMax: number },
  { xHeight, capHeight }: Heights,
): Contour[] {
  const mark = /^\p{M}$/u.test(character);
  const height = box.yMax - box.yMin;
  const flat = /^[acemnorsuvwxz\u0430-\u044f]$/u.test(character);
  const hangs = /^[gpqy]$/.test(character);
  const wanted = mark
    ? 180
    : /^[.,:;'"\-–—·]$/.test(character)
      ? Math.min(height, 200)
      : hangs
        ? xHeight + 230
        : flat
          ? xHeight
          : capHeight;
  const s = wanted / Math.max(1, height);
  const y = mark ? xHeight + 60 : hangs ? -230 : 0;
  const out: Contour[] = [];
  for (const c of contours) {
    const at = (v: readonly number[]): number[] => v.map((n, i) => (i % 2 === 0 ? (n - box.xMin) * s + 30 : (n - box.yMin) * s + y));
    out.push({ start: at(c.start) as [number, number], segments: c.segments.map(at) });
  }
  return out;
}

let lettering: Uint8Array | null = null;
/** Outlines of the letters that are printed beside the boxes. */
async function letteringFace(): Promise<ReturnType<typeof openFace>> {
  lettering ??= new Uint8Array(
    await readFile(createRequire(import.meta.url).resolve('@expo-google-fonts/noto-sans/400Regular/NotoSans_400Regular.ttf')),
  );
  return openFace(lettering, nodeCodec, 0);
}

/** A sheet to print, or one page of it to draw in. */
export async function sheetFile(plan: SheetPlan, title: string, as: 'pdf' | 'png' | 'svg', number: number): Promise<Uint8Array> {
  const pages = layOut(plan);
  const face = await letteringFace();
  const { width, height } = PAPERS[plan.paper];
  const shapesOf = async (page: (typeof pages)[number]): Promise<SheetShape[]> =>
    sheetShapes(plan, page, await codeModules(pageCode(plan, page.page)), title);
  const textPath = (s: Extract<SheetShape, { kind: 'text' }>): string => {
    const scale = s.size / face.unitsPerEm;
    const glyphs: { glyph: number; x: number }[] = [];
    let x = 0;
    for (const c of s.text.normalize('NFC')) {
      const glyph = face.glyphOf(c.codePointAt(0)!);
      glyphs.push({ glyph, x });
      x += face.advanceOf(glyph) * scale;
    }
    const pen = new SvgPathPen(3);
    const from = s.align === 'middle' ? s.x - x / 2 : s.x;
    for (const g of glyphs) face.draw(g.glyph, new TransformPen([scale, 0, 0, -scale, from + g.x, s.y], pen));
    return pen.path;
  };
  if (as === 'pdf') {
    const { default: PDFDocument } = await import('pdfkit');
    const pdf = new PDFDocument({ autoFirstPage: false, info: { Title: title, CreationDate: new Date('2000-01-01T00:00:00Z') } });
    const done = buffer(pdf as unknown as AsyncIterable<Buffer>);
    const pt = 72 / 25.4;
    for (const page of pages) {
      pdf.addPage({ size: [width * pt, height * pt], margin: 0 });
      pdf.save().scale(pt);
      for (const s of await shapesOf(page)) {
        if (s.kind === 'line') pdf.lineWidth(s.width).moveTo(s.from[0], s.from[1]).lineTo(s.to[0], s.to[1]).stroke(s.color);
        else if (s.kind === 'rect') pdf.rect(s.x, s.y, s.width, s.height).fill(s.color);
        else if (s.kind === 'disc') {
          pdf.circle(s.middle[0], s.middle[1], s.radius);
          if (s.hole > 0) pdf.circle(s.middle[0], s.middle[1], s.hole);
          pdf.fillColor(s.color).fill('even-odd');
        } else {
          const d = textPath(s);
          if (d !== '') pdf.path(d).fill(s.color);
        }
      }
      pdf.restore();
    }
    pdf.end();
    return new Uint8Array(await done);
  }
  const page = pages[number - 1];
  if (!page) throw new FontError('does-not-fit', `The sheet has ${pages.length} ${pages.length === 1 ? 'page' : 'pages'}.`);
  const shapes = await shapesOf(page);
  if (as === 'svg') {
    const one = (s: SheetShape): string =>
      s.kind === 'line'
        ? `<path d="M${s.from[0]} ${s.from[1]}L${s.to[0]} ${s.to[1]}" stroke="${s.color}" stroke-width="${s.width}"/>`
        : s.kind === 'rect'
          ? `<rect x="${s.x}" y="${s.y}" width="${s.width}" height="${s.height}" fill="${s.color}"/>`
          : s.kind === 'disc'
            ? `<circle cx="${s.middle[0]}" cy="${s.middle[1]}" r="${s.hole > 0 ? (s.radius + s.hole) / 2 : s.radius}" ${s.hole > 0 ? `fill="none" stroke="${s.color}" stroke-width="${s.radius - s.hole}"` : `fill="${s.color}"`}/>`
            : `<path d="${textPath(s)}" fill="${s.color}"/>`;
    const marks = shapes.filter((s) => s.kind === 'disc' || s.kind === 'rect');
    const guides = shapes.filter((s) => s.kind === 'line' || s.kind === 'text');
    return new TextEncoder().encode(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}">\n<rect width="${width}" height="${height}" fill="#ffffff"/>\n<g id="guides">\n${guides.map(one).join('\n')}\n</g>\n<g id="marks-leave-as-they-are">\n${marks.map(one).join('\n')}\n</g>\n<g id="draw-here"></g>\n</svg>\n`,
    );
  }
  const { createCanvas, Path2D } = await import('@napi-rs/canvas');
  const px = 300 / 25.4;
  const canvas = createCanvas(Math.round(width * px), Math.round(height * px));
  const context = canvas.getContext('2d');
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.setTransform(px, 0, 0, px, 0, 0);
  for (const s of shapes) {
    context.fillStyle = context.strokeStyle = s.color;
    if (s.kind === 'line') {
      context.lineWidth = s.width;
      context.beginPath();
      context.moveTo(s.from[0], s.from[1]);
      context.lineTo(s.to[0], s.to[1]);
      context.stroke();
    } else if (s.kind === 'rect') context.fillRect(s.x, s.y, s.width, s.height);
    else if (s.kind === 'disc') {
      context.beginPath();
      context.arc(s.middle[0], s.middle[1], s.radius, 0, 2 * Math.PI);
      if (s.hole > 0) context.arc(s.middle[0], s.middle[1], s.hole, 0, 2 * Math.PI, true);
      context.fill('evenodd');
    } else context.fill(new Path2D(textPath(s)));
  }
  return new Uint8Array(await canvas.encode('png'));
}

export type { Cell };
