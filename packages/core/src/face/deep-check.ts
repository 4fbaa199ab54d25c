import { CffOutlines, type Pen } from '../outline/index.js';
import type { Face } from '../font/index.js';
import { checkCmapSubtables, expectFontError, HEAD, Loca, MAXP, Reader } from '../sfnt/index.js';
import type { Finding } from './soundness.js';

const blocks = (code: string, table: string, message: string): Finding => ({
  code,
  severity: 'blocks',
  table,
  message: `${message} Browsers refuse the face.`,
});

/** Draws nothing; running a program is enough to know that it ends well. */
const NOWHERE: Pen = {
  moveTo: () => undefined,
  lineTo: () => undefined,
  quadTo: () => undefined,
  cubicTo: () => undefined,
  closePath: () => undefined,
};

/**
 * Looks into every glyph, as browsers do before they use a web font. Costs milliseconds where the facts cost
 * fractions of one, so it is a step of its own.
 * Source: OpenType specification, glyf, post, maxp, cmap; Adobe Technical Note 5177. Checked against OpenType Sanitizer.
 */
export function deepCheck(face: Face): Finding[] {
  const findings: Finding[] = [];
  const attempt = (table: string, check: () => Finding | null): void => {
    try {
      const found = check();
      if (found) findings.push(found);
    } catch (error) {
      expectFontError(error);
      findings.push(blocks('bad-table', table, error.message));
    }
  };
  const numGlyphs = face.glyphCount;
  attempt('maxp', () => checkMaxp(face));
  attempt('cmap', () => {
    const fault = face.has('cmap') ? checkCmapSubtables(face.bytes('cmap')!, numGlyphs) : null;
    return fault ? blocks('bad-character-map', 'cmap', fault) : null;
  });
  attempt('post', () => checkPost(face, numGlyphs));
  if (face.has('glyf') && face.has('loca')) attempt('glyf', () => checkGlyf(face, numGlyphs));
  const cff = face.bytes('CFF2') ?? face.bytes('CFF ');
  if (cff) attempt('CFF ', () => checkCff(cff, face.has('CFF2'), numGlyphs));
  return findings;
}

function checkMaxp(face: Face): Finding | null {
  const data = face.bytes('maxp')!;
  const { version } = face.need(MAXP);
  const glyf = face.has('glyf');
  if (version !== 0x00005000 && version !== 0x00010000)
    return blocks('bad-table', 'maxp', 'The maxp table has a version that does not exist.');
  if (version === 0x00010000 && data.length < 32) return blocks('bad-table', 'maxp', 'The maxp table is cut short.');
  if (version === 0x00005000 && glyf)
    return blocks('bad-table', 'maxp', 'The maxp table is of the version for CFF fonts and the outlines are TrueType.');
  return null;
}

function checkPost(face: Face, numGlyphs: number): Finding | null {
  const data = face.bytes('post');
  if (!data) return null;
  const r = new Reader(data, 'post');
  const version = r.u32(0);
  if (![0x00010000, 0x00020000, 0x00025000, 0x00030000, 0x00040000].includes(version))
    return blocks('bad-table', 'post', 'The post table has a version that does not exist.');
  if (version !== 0x00020000) return null;
  if (r.u16(32) !== numGlyphs) return blocks('bad-table', 'post', 'The post table names another number of glyphs than the font has.');
  let strings = 0;
  for (let at = 34 + 2 * numGlyphs; at < data.length; at += 1 + r.u8(at)) strings++;
  for (let i = 0; i < numGlyphs; i++) {
    const index = r.u16(34 + 2 * i);
    if (index >= 258 && index - 258 >= strings)
      return blocks('bad-table', 'post', `The name of glyph ${i} is missing from the post table.`);
  }
  return null;
}

function checkGlyf(face: Face, numGlyphs: number): Finding | null {
  for (const [id, fault] of damagedGlyf(face, numGlyphs))
    return blocks('bad-glyph', 'glyf', `The outline of glyph ${id} is damaged: ${fault}`);
  return null;
}

function* damagedGlyf(face: Face, numGlyphs: number): Generator<[number, string]> {
  const glyf = face.bytes('glyf')!;
  const loca = new Loca(face.bytes('loca')!, face.need(HEAD).indexToLocFormat !== 0);
  for (let id = 0; id < Math.min(numGlyphs, loca.count); id++) {
    const start = loca.offset(id);
    const end = loca.offset(id + 1);
    // Wrong offsets are a finding of their own.
    if (end <= start || end > glyf.length) continue;
    const fault = faultOf(() => glyphFault(new Reader(glyf.subarray(start, end), 'glyf'), numGlyphs));
    if (fault) yield [id, fault];
  }
}

function* damagedCff(data: Uint8Array, isCff2: boolean): Generator<[number, string]> {
  const outlines = new CffOutlines(data, isCff2, { strict: true });
  for (let glyph = 0; glyph < outlines.glyphCount; glyph++) {
    const fault = faultOf(() => {
      outlines.draw(glyph, NOWHERE);
      return null;
    });
    if (fault) yield [glyph, fault];
  }
}

function faultOf(look: () => string | null): string | null {
  try {
    return look();
  } catch (error) {
    expectFontError(error);
    return error.message;
  }
}

/** Numbers of the glyphs that browsers would refuse the face for. @throws FontError when their table cannot be read at all */
export function damagedGlyphs(face: Face): number[] {
  const cff = face.bytes('CFF2') ?? face.bytes('CFF ');
  if (cff) return [...damagedCff(cff, face.has('CFF2'))].map(([id]) => id);
  return face.has('glyf') && face.has('loca') ? [...damagedGlyf(face, face.glyphCount)].map(([id]) => id) : [];
}

/** What some programs write where they found nothing to bound; checkers warn of it and go on (OpenType Sanitizer, glyf). */
const NO_BOX = '32767,32767,-32767,-32767';

function glyphFault(r: Reader, numGlyphs: number): string | null {
  const contours = r.i16(0);
  r.need(0, 10);
  const box = [r.i16(2), r.i16(4), r.i16(6), r.i16(8)];
  if ((box[0]! > box[2]! || box[1]! > box[3]!) && box.join() !== NO_BOX) return 'its bounding box is inside out.';
  if (contours < -1) return 'it has a negative number of contours.';
  return contours < 0 ? compositeFault(r, numGlyphs) : simpleFault(r, contours);
}

function simpleFault(r: Reader, contours: number): string | null {
  if (contours === 0) return null;
  let last = -1;
  for (let i = 0; i < contours; i++) {
    const end = r.u16(10 + 2 * i);
    if (end <= last && i > 0) return 'its contours are out of order.';
    last = end;
  }
  if (last === 0xffff) return 'it has more points than a glyph may have.';
  let at = 10 + 2 * contours;
  at += 2 + r.u16(at);
  let bytes = 0;
  for (let i = 0; i <= last;) {
    const flag = r.u8(at++);
    if (flag & 0x80) return 'a reserved bit of its flags is set.';
    if (flag & 0x40 && i > 0) return 'its overlap flag is set after the first point.';
    let times = 1;
    if (flag & 0x08) {
      times += r.u8(at++);
      if (times === 1) return 'it repeats a flag no times at all.';
    }
    i += times;
    if (i > last + 1) return 'it repeats a flag past its last point.';
    bytes += times * ((flag & 0x02 ? 1 : flag & 0x10 ? 0 : 2) + (flag & 0x04 ? 1 : flag & 0x20 ? 0 : 2));
  }
  return at + bytes > r.length ? 'its coordinates are cut short.' : null;
}

function compositeFault(r: Reader, numGlyphs: number): string | null {
  let at = 10;
  let flags: number;
  let instructions = false;
  do {
    flags = r.u16(at);
    if (r.u16(at + 2) >= numGlyphs) return 'it is built from a part that does not exist.';
    at += 4 + (flags & 0x0001 ? 4 : 2) + (flags & 0x0008 ? 2 : flags & 0x0040 ? 4 : flags & 0x0080 ? 8 : 0);
    if (flags & 0x0100) instructions = true;
  } while (flags & 0x0020);
  r.need(0, at);
  if (instructions) r.need(at + 2, r.u16(at));
  return null;
}

function checkCff(data: Uint8Array, isCff2: boolean, numGlyphs: number): Finding | null {
  const outlines = new CffOutlines(data, isCff2, { strict: true });
  if (outlines.glyphCount !== numGlyphs)
    return blocks('bad-table', 'CFF ', 'The CFF table holds another number of glyphs than the font says.');
  for (const [id, fault] of damagedCff(data, isCff2)) return blocks('bad-glyph', 'CFF ', `The outline of glyph ${id} is damaged: ${fault}`);
  return null;
}
