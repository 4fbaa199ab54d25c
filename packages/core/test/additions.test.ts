/**
 * One more of each thing that docs/maintainers.md tells how to add: each is one file in the shipped code, and here a fixture
 * that is not shipped. What is shown is that the rest of the house works with it without knowing it.
 */
import { nodeCodec } from '@orderly-glyph/node';
import { containerRecipe, type FaceState } from '../src/convert/index.js';
import { derive, DERIVED, inspect, valueOf, type Derived } from '../src/derived/index.js';
import { decodeEmbedding } from '../src/face/index.js';
import {
  CHECKS,
  contextFor,
  conversionFor,
  isClear,
  preflight,
  profile,
  PROFILES,
  type Check,
  type CheckContext,
  type Profile,
} from '../src/place/index.js';
import { keepsCodePoints, PRODUCTS, type ProductKind } from '../src/product/index.js';
import { Builder } from '../src/font/index.js';
import { declare, writeSfnt, type Data, type Table } from '../src/sfnt/index.js';
import { counted, int16, list, record, tag, uint16 } from '../src/sfnt/declare/index.js';
import { faceFrom, faceOf } from './face.js';
import { FONTS, readFont } from './fonts.js';
import { python } from './python.js';

test('an OpenType table: fields declared once, read and written', () => {
  // Source: OpenType specification, VDMX and LTSH have the same shape of header; here the control values of hinting.
  const values = record({ values: list(() => 4, int16) });
  const CVT: Table<Data<typeof values>> = declare('cvt ', values);
  const face = faceOf(readFont('notoSans'));
  const theirs = python<number[]>(
    `
from fontTools.ttLib import TTFont
print(json.dumps(list(TTFont(given)['cvt '].values)[:4]))`,
    FONTS.notoSans,
  );
  expect(face.need(CVT).values).toEqual(theirs);
  expect(CVT.read(CVT.write({ values: [1, -2, 3, -4] }, face), face)).toEqual({ values: [1, -2, 3, -4] });
  // A value that does not fit is told with the name of its field.
  const MADE = declare('made', record({ name: tag, sizes: counted(uint16) }));
  expect(() => MADE.write({ name: 'abcd', sizes: [70_000] }, face)).toThrow(/made table cannot hold 70000 as its sizes/);
});

test('a derived fact: made with the others, from the others, and alone when its version is raised', () => {
  const WIDEST: Derived<{ glyph: number; advance: number }> = {
    id: 'widest',
    version: 3,
    from({ face }) {
      let best = { glyph: 0, advance: 0 };
      for (let glyph = 0; glyph < face.glyphCount; glyph++) {
        const advance = face.advances!.advanceWidth(glyph);
        if (advance > best.advance) best = { glyph, advance };
      }
      return best;
    },
  };
  const face = faceOf(readFont('gochiHand'));
  const all = derive(face, { fileName: 'a.ttf' }, [...DERIVED, WIDEST]);
  const widest = python<number>(
    `
from fontTools.ttLib import TTFont
print(max(a for a, b in TTFont(given)['hmtx'].metrics.values()))`,
    FONTS.gochiHand,
  );
  expect(valueOf(all, WIDEST)!.advance).toBe(widest);
  expect(Object.keys(all)).toEqual([...DERIVED.map((d) => d.id), 'widest']);
  // Only what is asked for is made.
  expect(Object.keys(inspect(readFont('gochiHand'), nodeCodec, { fileName: 'a.ttf' }, ['naming']).faces[0]!)).toEqual(['naming']);
});

const SHELF: Profile = {
  ...profile('website')!,
  id: 'shelf',
  name: 'Shelf',
  connector: 'shelf',
  accepts: {
    formats: ['woff'],
    prefer: 'woff',
    maxBytes: 10_000_000,
    collections: 'refused',
    variable: 'accepted',
    color: 'refused',
  },
  checks: ['rights', 'calm', 'format'],
  roles: [],
};
const CALM: Check = {
  id: 'calm',
  look: (context) =>
    context.state.variable
      ? [
          {
            code: 'restless',
            severity: 'stops',
            message: 'The shelf takes no face that moves.',
            remedies: [conversionFor(context)].filter((r) => r !== null),
            overridable: false,
          },
        ]
      : [],
};

test('a kind of place and a check with its remedy: data and one function', () => {
  const look = (state: FaceState) =>
    preflight(
      {
        ...contextFor(profile('shelf', [...PROFILES, SHELF])!, {
          family: 'A face',
          style: 'Regular',
          format: state.format,
          facts: { outlines: 'glyf', axes: [], color: [], embedding: decodeEmbedding(0, 4), findings: [], instances: [] },
          files: [{ format: state.format, bytes: 1000 }],
          sha256: null,
        }),
        state,
      },
      [...CHECKS, CALM],
    );
  const still: FaceState = { format: 'ttf', outlines: 'glyf', variable: false, color: false };
  expect(look(still).map((f) => [f.code, f.remedies[0]!.steps])).toEqual([['format', containerRecipe('woff')]]);
  expect(look({ ...still, variable: true }).map((f) => f.code)).toEqual(['restless', 'format']);
  expect(isClear(look({ ...still, format: 'woff' }))).toBe(true);
  // A profile that names a check nobody wrote is noticed.
  expect(() => preflight({ profile: { ...SHELF, checks: ['none'] } } as unknown as CheckContext)).toThrow(/“none” that does not exist/);
});

test('a kind of product: released twice, with code points that never move', () => {
  const DOTS: ProductKind<{ names: readonly string[] }> = {
    id: 'dots',
    name: 'Dots',
    changes: [],
    check: (_, recipe) => (recipe.names.length === 0 ? [{ code: 'empty', severity: 'stops', message: 'Nothing is drawn.' }] : []),
    build(_, recipe, number, previous) {
      const codePoints = [...(previous?.codePoints ?? [])];
      for (const name of recipe.names)
        if (!codePoints.some((c) => c.name === name)) codePoints.push({ codePoint: 0xe000 + codePoints.length, name });
      const builder = new Builder({ names: { 1: 'Dots' }, revision: number });
      builder.add({ name: '.notdef', codePoints: [], advance: 500, draw: null });
      for (const { name, codePoint } of codePoints)
        builder.add({
          name,
          codePoints: [codePoint],
          advance: 1000,
          draw(pen) {
            pen.moveTo(100, 100);
            pen.lineTo(100, 500);
            pen.lineTo(500, 500);
            pen.closePath();
          },
        });
      return {
        files: [{ name: 'dots.ttf', format: 'ttf', bytes: writeSfnt(builder.build()) }],
        comparison: { equal: true, differences: [], glyphsCompared: 0 },
        codePoints,
      };
    },
  };
  expect(PRODUCTS.map((p) => p.id)).not.toContain(DOTS.id);
  const tools = { codec: nodeCodec };
  const first = DOTS.build([], { names: ['sun', 'rain'] }, 1, null, tools);
  const second = DOTS.build([], { names: ['frost', 'rain'] }, 2, { number: 1, codePoints: first.codePoints }, tools);
  keepsCodePoints(first.codePoints, second.codePoints);
  expect(second.codePoints.map((c) => [c.codePoint, c.name])).toEqual([
    [0xe000, 'sun'],
    [0xe001, 'rain'],
    [0xe002, 'frost'],
  ]);
  const face = faceFrom(faceOf(second.files[0]!.bytes).font);
  expect([face.glyphOf(0xe001), face.name(5)]).toEqual([2, 'Version 2.000']);
  expect(() => keepsCodePoints(first.codePoints, second.codePoints.slice(1))).toThrow(/U\+E000 was “sun” in a release and would be gone/);
  expect(() => keepsCodePoints(first.codePoints, [{ codePoint: 0xe000, name: 'rain' }])).toThrow(/would become “rain”/);
});
