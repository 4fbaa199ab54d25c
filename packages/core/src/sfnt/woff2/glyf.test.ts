import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { nodeCodec } from '@orderly-glyph/node';
import { python } from '../../../test/python.js';
import { faceOf } from '../../../test/face.js';
import { GLYF, HMTX, readFontFile, writeWoff2 } from '../index.js';

const dir = mkdtempSync(join(tmpdir(), 'woff2-'));
afterAll(() => rmSync(dir, { recursive: true }));

/** Where the ways of packing a point change. Source: WOFF 2.0 (W3C Recommendation), 5.2, table of triplets. */
const EDGES = [
  0, 1, 2, 15, 16, 17, 32, 33, 48, 49, 63, 64, 65, 66, 255, 256, 257, 511, 512, 513, 767, 768, 769, 1023, 1024, 1279, 1280, 1281, 4095,
  4096, 4097,
];
const STEPS = EDGES.flatMap((a) => EDGES.map((b): [number, number] => [a, b]));
const SIGNS = [
  [1, 1],
  [-1, 1],
  [1, -1],
  [-1, -1],
] as const;
/** Glyphs whose points make every step in every direction and come back; every fourth point is off the curve. */
const GLYPHS = SIGNS.map(([sx, sy]) => STEPS.map(([a, b]): [number, number] => [sx * a, sy * b])).flatMap((steps) => {
  const out: [number, number][][] = [];
  for (let i = 0; i < steps.length; i += 60) {
    const points: [number, number][] = [[0, 0]];
    let [x, y] = [0, 0];
    for (const [dx, dy] of steps.slice(i, i + 60)) {
      for (const k of [1, -1]) {
        x += k * dx;
        y += k * dy;
        points.push([x, y]);
      }
    }
    out.push(points);
  }
  return out;
});
const ttf = join(dir, 'steps.ttf');
python(
  `
from fontTools.fontBuilder import FontBuilder
from fontTools.ttLib.tables._g_l_y_f import Glyph, GlyphCoordinates
from fontTools.ttLib.tables.ttProgram import Program
import array
names = ['.notdef'] + ['g%d' % i for i in range(len(given['glyphs']))] + ['pair', 'scaled']
fb = FontBuilder(1000, isTTF=True); fb.setupGlyphOrder(names); fb.setupCharacterMap({65 + i: n for i, n in enumerate(names[1:])})
glyphs = {'.notdef': Glyph()}
for i, points in enumerate(given['glyphs']):
    g = Glyph(); g.numberOfContours = 1; g.endPtsOfContours = [len(points) - 1]; g.coordinates = GlyphCoordinates([tuple(p) for p in points])
    g.flags = array.array('B', [0 if k % 4 == 3 else 1 for k in range(len(points))]); g.program = Program(); g.program.fromBytecode(b'' if i % 3 else bytes([0x4f] * (i * 37 % 600)))
    glyphs['g%d' % i] = g
from fontTools.pens.ttGlyphPen import TTGlyphPen
pen = TTGlyphPen({n: None for n in names}); pen.addComponent('g0', (1, 0, 0, 1, 10, -20)); pen.addComponent('g1', (1, 0, 0, 1, 300, 400)); glyphs['pair'] = pen.glyph()
pen = TTGlyphPen({n: None for n in names}); pen.addComponent('g1', (0.5, 0.25, -0.25, 0.5, 5, 6)); glyphs['scaled'] = pen.glyph()
fb.setupGlyf(glyphs); fb.setupHorizontalMetrics({n: (600, getattr(fb.font['glyf'][n], 'xMin', 0)) for n in names}); fb.setupHorizontalHeader(ascent=800, descent=-200)
fb.setupNameTable({'familyName': 'Steps', 'styleName': 'Regular'}); fb.setupOS2(); fb.setupPost(); fb.save(given['path']); print('0')`,
  { glyphs: GLYPHS, path: ttf },
);
/** Points, flags and instructions of every glyph as fontTools reads them. */
const seen = (path: string) =>
  python<unknown[]>(
    `
from fontTools.ttLib import TTFont
f = TTFont(given); out = []
for n in f.getGlyphOrder():
    g = f['glyf'][n]
    if g.isComposite(): out.append([[c.glyphName, c.x, c.y, [list(r) for r in getattr(c, 'transform', [])]] for c in g.components] + [[g.xMin, g.yMin, g.xMax, g.yMax]])
    elif g.numberOfContours == 0: out.append([])
    else: out.append([list(g.endPtsOfContours), [list(p) for p in g.coordinates], [x & 1 for x in g.flags], g.program.getBytecode().hex(), [g.xMin, g.yMin, g.xMax, g.yMax]])
out.append([list(m) for m in f['hmtx'].metrics.values()])
print(json.dumps(out))`,
    path,
  );
const run = (program: string, path: string): void => expect(spawnSync(program, [path], { encoding: 'utf8' }).status).toBe(0);

test('every step between points, packed by us, is what woff2_decompress unpacks', () => {
  const packed = writeWoff2(readFontFile(new Uint8Array(readFileSync(ttf)), nodeCodec).fonts[0]!, nodeCodec);
  writeFileSync(join(dir, 'ours.woff2'), packed);
  run('woff2_decompress', join(dir, 'ours.woff2'));
  expect(seen(join(dir, 'ours.ttf'))).toEqual(seen(ttf));
});

test('what woff2_compress packed is unpacked by us point for point, bearings too', () => {
  writeFileSync(join(dir, 'theirs.ttf'), readFileSync(ttf));
  run('woff2_compress', join(dir, 'theirs.ttf'));
  const face = faceOf(new Uint8Array(readFileSync(join(dir, 'theirs.woff2'))));
  const glyphs = face.need(GLYF);
  GLYPHS.forEach((points, i) => {
    const glyph = glyphs[i + 1]!;
    expect(glyph.kind === 'simple' && [[...glyph.x], [...glyph.y]]).toEqual([points.map((p) => p[0]), points.map((p) => p[1])]);
  });
  const { advances, bearings } = python<{ advances: number[]; bearings: number[] }>(
    `from fontTools.ttLib import TTFont
m = TTFont(given)['hmtx'].metrics
print(json.dumps({'advances': [v[0] for v in m.values()], 'bearings': [v[1] for v in m.values()]}))`,
    ttf,
  );
  expect(face.need(HMTX)).toEqual({ advances: Uint16Array.from(advances), sideBearings: Int16Array.from(bearings) });
});
