import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import * as fontkit from 'fontkit';
import { nodeCodec, nodePaths, nodeSvgEngine } from '@orderly-glyph/node';
import { TUNED, UNSEEN, type SvgFeature } from '../../../test/svg-features.js';
import { areaOf, drawContour, FlattenPen, type Polygon } from '../../outline/index.js';
import { buildIconSet, differs, proveGlyph, readIcon, type BuildTools, type ReadIcon } from './build.js';
import { freeName, iconName } from './names.js';
import type { PlaceStep } from './place.js';
import { DEFAULT_FACTS, newIcon, type IconSet } from './set.js';
import { readBoards, readSource } from './svg/source.js';
import { takeDrawings } from './take.js';

const tools: BuildTools = await Promise.all([nodeSvgEngine(), nodePaths()]).then(([svg, paths]) => ({
  svg,
  paths,
  codec: nodeCodec,
  pause: () => new Promise((done) => setImmediate(done)),
}));
const facts = { ...DEFAULT_FACTS, family: 'Test Icons', prefix: 't-', base: 't-icon', formats: ['ttf'] as const };
const svg = (body: string, attributes = 'viewBox="0 0 24 24"'): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${body}</svg>`;
const read = (text: string): ReadIcon => readIcon(newIcon('x', 'x', readSource(text).svg), 1200, 16, tools);
const polygonsOf = ({ contours }: ReadIcon): Polygon[] => {
  const pen = new FlattenPen(0.3);
  for (const contour of contours) drawContour(contour, pen);
  pen.closePath();
  return pen.polygons;
};
const codes = (r: ReadIcon): string[] => r.findings.map((f) => f.code);

// Each small drawing is covered as its own rendering covers it, or told by name. The renderer is resvg's; where it is known to be
// off itself (it measures the length of arcs roughly) Chromium was looked at, and the bound is lower.
const LOWER: Readonly<Record<string, number>> = { 'dashes of an odd number, shifted, on a curve': 0.97 };
test.each([...TUNED, ...UNSEEN].map((f) => [f.name, f] as const))(
  '%s is drawn as it looks, or told',
  (name, { svg: text, told }: SvgFeature) => {
    const icon = newIcon('x', 'x', text);
    const r = readIcon(icon, 1200, 16, tools);
    if (told !== undefined) return expect(codes(r)).toContain(told);
    const proof = proveGlyph({ ...r, drawing: { ...r.drawing, losses: [] } }, icon, polygonsOf(r), tools.svg)!;
    expect(proof.overlap).toBeGreaterThanOrEqual(LOWER[name] ?? 0.98);
    expect(r.findings.filter((f) => f.severity === 'lost')).toEqual([]);
  },
);

test('a line that lies on a shape’s edge does not turn it into a hole', () => {
  // Its ends miss one another by a hair, which leaves a contour without area beside the shape.
  const r = read(
    svg(
      '<path d="M7.009 12.139A7.6 7.6 0 0 1 5.205 10.787 7.6 7.6 0 0 1 3.794 8.86C2.692 9.852 1.829 13.914 1.955 14.04 2.08 14.166 5.891 13.144 7.009 12.138Z"/>',
      'viewBox="0 0 16 16"',
    ),
  );
  expect(r.contours.length).toBe(1);
  expect(areaOf(r.contours[0]!)).toBeGreaterThan(0);
});

test('a glyph that differs from its drawing is noticed', () => {
  const icon = newIcon('x', 'x', svg('<rect x="4" y="4" width="16" height="16"/>'));
  const r = readIcon(icon, 1200, 16, tools);
  const prove = (polygons: Polygon[]): { overlap: number; local: number } => proveGlyph(r, icon, polygons, tools.svg)!;
  expect(prove(polygonsOf(r)).overlap).toBeGreaterThan(0.999);
  const [a, b] = [4 * 50, 20 * 50];
  expect(prove([[a, a, b, a, b, b, a, b].map((v, i) => (i === 0 ? v + 200 : v))]).overlap).toBeLessThan(0.96);
  // A small hole that should not be there is little of the whole, and all of one place.
  expect([differs({ overlap: 0.99, local: 0.9 }), differs({ overlap: 0.9, local: 0.1 }), differs({ overlap: 0.99, local: 0.1 })]).toEqual([
    true,
    true,
    false,
  ]);
  const hole = [500, 500, 500, 540, 540, 540, 540, 500];
  const local = prove([...polygonsOf(r), hole]);
  expect([local.overlap > 0.99, local.local > 0.5]).toEqual([true, true]);
});

/** Folders of packages that ship as development dependencies; each file is one drawing. */
const require = createRequire(import.meta.url);
const PACKAGES = [
  ['lucide-static', 'icons', 1200],
  ['@tabler/icons', 'icons/outline', 1200],
  ['bootstrap-icons', 'icons', 1024],
] as const;

// Some twenty of each here; the whole of it is measured in bench/icons.mjs. The reader is fontkit, the renderer resvg: both at 1,024 px
// averaged to 256, overlap as the sum of least by the sum of most.
test.each(PACKAGES)(
  'drawings of %s are covered by their glyphs as read back from the font',
  async (name, folder, em) => {
    const dir = join(dirname(require.resolve(`${name}/package.json`)), folder);
    const files = readdirSync(dir)
      .filter((f) => f.endsWith('.svg'))
      .filter((_, i, all) => i % Math.floor(all.length / 22) === 7);
    const icons = files.map((f) => newIcon(f, iconName(f, 'x').name, readFileSync(join(dir, f), 'utf8')));
    const built = await buildIconSet({ facts: { ...facts, line: 'baseline' }, icons, given: [] }, 1, '2026-01-01', tools);
    expect(built.em).toBe(em);
    const font = fontkit.create(Buffer.from(built.files[0]!.bytes)) as fontkit.Font;
    const averaged = (text: string): Float32Array => {
      const { alpha, columns } = tools.svg.coverage(text, 1024);
      const out = new Float32Array(256 * 256);
      for (let y = 0; y < 1024; y++) for (let x = 0; x < 1024; x++) out[(y >> 2) * 256 + (x >> 2)]! += alpha[y * columns + x]! / 16;
      return out;
    };
    const overlaps: number[] = [];
    for (const [i, icon] of built.icons.entries()) {
      if (icon.findings.some((f) => f.code === 'opacity')) continue;
      const d = font.glyphForCodePoint(icon.codePoint).path.toSVG();
      const ours = averaged(
        `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${em} ${em}" width="1024" height="1024"><path transform="matrix(1 0 0 -1 0 ${em})" d="${d}"/></svg>`,
      );
      const theirs = averaged(readSource(icons[i]!.svg).svg);
      let [least, most] = [0, 0];
      ours.forEach((v, k) => {
        least += Math.min(v, theirs[k]!);
        most += Math.max(v, theirs[k]!);
      });
      overlaps.push(least / most);
      await tools.pause!();
    }
    overlaps.sort((a, b) => a - b);
    expect(overlaps.length).toBeGreaterThan(18);
    expect(overlaps[0]).toBeGreaterThanOrEqual(0.988);
    // The median of some twenty is a little off that of all, which is 0.997 and more.
    expect(overlaps[overlaps.length >> 1]).toBeGreaterThanOrEqual(0.9965);
  },
  120_000,
);

describe('what is told of a drawing', () => {
  const told = (body: string, attributes?: string): string[] => codes(read(svg(body, attributes)));
  test.each([
    ['colors', '<rect width="9" height="9" fill="#a00"/><rect x="12" width="9" height="9" fill="#00a"/>'],
    ['empty', '<g/>'],
    ['outside', '<circle cx="20" cy="12" r="9"/>'],
    ['hairline', '<path d="M2 6h20M2 18h20" stroke="#000" stroke-width=".8"/>'],
    ['closing-hole', '<path fill-rule="evenodd" d="M2 2h20v20H2zM11 6h.8v12h-.8z"/>'],
    ['specks', '<rect x="4" y="4" width="16" height="12"/><rect x="12" y="20" width=".2" height=".2"/>'],
    ['open-filled', '<path d="M4 4h16v16" stroke="#000"/>'],
  ])('%s', (code, body) => {
    expect(told(body)).toContain(code);
  });
  test('and nothing of a plain one', () => {
    expect(told('<path fill="none" stroke="#000" stroke-width="2" stroke-linecap="round" d="M4 12h16M12 4v16"/>')).toEqual([]);
    expect(told('<circle cx="12" cy="12" r="10"/>')).toEqual([]);
  });
  test('paint lighter than halfway between black and white to the eye is paper where light is cut out', () => {
    // CIE L* 50 is a luminance of 0.184, sRGB #777777.
    const left = (over: string): number =>
      Math.round(
        readIcon(
          {
            ...newIcon('x', 'x', svg(`<rect x="2" y="2" width="20" height="20"/><rect x="8" y="8" width="8" height="8" fill="${over}"/>`)),
            inking: 'dark',
          },
          1200,
          16,
          tools,
        ).contours.reduce((sum, c) => sum + areaOf(c), 0) / 2500,
      );
    expect([left('#666666'), left('#888888')]).toEqual([400, 336]);
  });
  test('a mask leaves what is at least half there', () => {
    const area = (tone: string): number =>
      read(svg(`<mask id="m"><rect width="24" height="24" fill="${tone}"/></mask><rect width="24" height="24" mask="url(#m)"/>`)).measures
        .area;
    // Luminance 0.4 and 0.6 are sRGB #aaaaaa and #cccccc, nearly.
    expect([area('#aaaaaa'), Math.round(area('#cccccc'))]).toEqual([0, 1]);
  });
  test('a third of the ink in hairlines is told', () => {
    expect(told('<rect x="2" y="2" width="20" height="4"/><path d="M2 12h20M2 16h20M2 20h20" stroke="#000" stroke-width=".6"/>')).toContain(
      'hairline',
    );
  });
  test('a shape filled and stroked in one color is one shape, mirrored too', () => {
    for (const transform of ['', 'matrix(-1 0 0 1 24 0)', 'matrix(1 0 0 -1 0 24)'])
      expect(
        read(svg(`<g transform="${transform}"><circle cx="12" cy="12" r="6" stroke="#000" stroke-width="2"/></g>`)).measures.area,
      ).toBeCloseTo((Math.PI * 49) / 576, 3);
  });
  test('a board that is not square', () => {
    expect(told('<rect width="48" height="24"/>', 'viewBox="0 0 48 24"')).toContain('not-square');
  });
  test('thousands of points', () => {
    const dots = Array.from({ length: 300 }, (_, i) => `<circle cx="${2 + (i % 20)}" cy="${2 + Math.floor(i / 20)}" r=".4"/>`).join('');
    expect(told(dots)).toContain('many-points');
  });
  test('light paint over dark is cut out, and all of it joined on request', () => {
    const text = svg('<rect x="2" y="2" width="20" height="20"/><rect x="8" y="8" width="8" height="8" fill="#fff"/>');
    const area = (inking: 'merge' | 'dark' | null): number =>
      Math.round(readIcon({ ...newIcon('x', 'x', text), inking }, 1200, 16, tools).contours.reduce((sum, c) => sum + areaOf(c), 0) / 2500);
    expect([area(null), area('dark'), area('merge')]).toEqual([400 - 64, 400 - 64, 400]);
  });
});

describe('two layers', () => {
  const areas = (text: string, ...place: PlaceStep[]): number[] =>
    (['front', 'back'] as const).map((inking) =>
      Math.round(
        readIcon({ ...newIcon('x', 'x', text), inking, place }, 1200, 16, tools).contours.reduce((sum, c) => sum + areaOf(c), 0) / 2500,
      ),
    );
  const DARK = '<rect x="4" y="4" width="8" height="8" fill="#123"/>';
  const PALE = (fill: string): string => `<rect x="8" y="8" width="12" height="12" ${fill}/>`;
  test('what is darker, and what is lighter or see-through, as much as is seen of each', () => {
    // The dark square lies on the pale one, or under it.
    expect(areas(svg(PALE('fill="#9ab"') + DARK))).toEqual([64, 144 - 16]);
    expect(areas(svg(DARK + PALE('fill="#9ab"')))).toEqual([64 - 16, 144]);
    expect(areas(svg(PALE('fill="#123" opacity=".4"') + DARK))).toEqual([64, 144 - 16]);
    // Paper is neither; of one tone all is in front.
    expect(areas(svg(PALE('fill="#9ab"') + DARK + '<rect x="5" y="5" width="2" height="2" fill="#fff"/>'))).toEqual([60, 128]);
    expect(areas(svg(DARK))).toEqual([64, 0]);
  });
  test('are told apart where most lies between them, and stand as both together stand', () => {
    const three = svg('<path fill="#000" d="M0 0h4v4H0z"/><path fill="#222" d="M8 0h4v4H8z"/><path fill="#ccc" d="M8 8h8v8H8z"/>');
    expect(areas(three)).toEqual([32, 64]);
    const fit: PlaceStep = { step: 'fit', margin: 0 };
    // Both reach over 16 units, which become 24.
    expect(areas(svg(PALE('fill="#9ab"') + DARK), fit)).toEqual([64 * 2.25, 128 * 2.25]);
  });
  test('each is proved by what it should cover', () => {
    for (const inking of ['front', 'back'] as const) {
      const icon = { ...newIcon('x', 'x', svg(PALE('fill="#9ab"') + DARK)), inking };
      const read = readIcon(icon, 1200, 16, tools);
      const polygons = read.contours.map((c) => [c.start, ...c.segments].flat());
      expect(proveGlyph(read, icon, polygons, tools.svg)!.overlap).toBeGreaterThan(0.99);
    }
  });
});

describe('text in a drawing', () => {
  const text = svg('<text x="0" y="20" font-size="24" font-family="Gochi Hand">B</text>');
  const hand = readFileSync(require.resolve('@expo-google-fonts/gochi-hand/400Regular/GochiHand_400Regular.ttf'));
  test('becomes shapes where its face is at hand, and is told where not', () => {
    expect(codes(read(text))).toEqual(['text', 'empty']);
    const asked: string[][] = [];
    const fonts = (families: readonly string[]): Uint8Array[] => {
      asked.push([...families]);
      return [hand];
    };
    const r = readIcon(newIcon('x', 'x', readSource(text).svg), 1200, 16, { ...tools, fonts });
    expect(asked).toEqual([['Gochi Hand']]);
    expect(r.findings.map((f) => f.code)).not.toContain('text');
    // A B of a pen has two holes.
    expect(r.contours.filter((c) => areaOf(c) < 0).length).toBe(2);
  });
});

describe('what a stranger sends', () => {
  const refusal = (text: string): string => {
    try {
      readSource(text);
      return '';
    } catch (error) {
      return (error as Error).message;
    }
  };
  test.each([
    ['50 MB', `<svg xmlns="http://www.w3.org/2000/svg">${' '.repeat(50 * 1024 * 1024)}</svg>`, /50 MiB of text|51 MiB of text/],
    ['10,000 groups in one another', svg('<g>'.repeat(10_000) + '</g>'.repeat(10_000)), /more than 200 deep/],
    ['100,000 elements', svg('<g/>'.repeat(100_000)), /more than 60,000 elements/],
    ['text saved as SVG', 'Dear customer, please find the icons attached.', /no SVG/],
    ['a page', '<html><body>404</body></html>', /no SVG/],
    ['half a file', '<svg xmlns="http://www.w3.org/2000/svg"><path d="M1 1', /cannot be read/],
    ['an entity that is not there', svg('<text>&boom;</text>'), /cannot be read/],
  ])('%s is refused in words', (_, text, why) => {
    expect(refusal(text)).toMatch(why);
  });
  test('entities that multiply come to nothing', () => {
    const bomb = `<!DOCTYPE svg [<!ENTITY a "${'x'.repeat(200)}">${Array.from({ length: 9 }, (_, i) => `<!ENTITY ${'bcdefghij'[i]!} "&${'abcdefghi'[i]!};&${'abcdefghi'[i]!};&${'abcdefghi'[i]!};&${'abcdefghi'[i]!};&${'abcdefghi'[i]!};">`).join('')}]>${svg('<text>&j;</text><rect width="9" height="9"/>')}`;
    expect(refusal(bomb)).toMatch(/cannot be read/);
  });
  test('numbers that are none, and a board without size, are told or drawn', () => {
    expect(codes(read(svg('<path d="MNaN 3L9 9"/><rect width="9" height="9"/>')))).toContain('broken-path');
    expect(read(svg('<rect width="5" height="5"/>', 'viewBox="0 0 0 0"')).contours.length).toBe(1);
    expect(read(svg('<rect x="1e30" width="1e30" height="5"/><rect width="9" height="9"/>')).measures.area).toBeGreaterThan(0.1);
  });
  test('what runs or is fetched is not in what is kept', () => {
    const { svg: kept, losses } = readSource(
      '<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>' +
        svg(
          '<script>alert(1)</script><rect onload="alert(1)" onclick="alert(2)" ONMOUSEOVER="alert(3)" width="9" height="9" fill="url(https://a.example/x#y)"/><image href="https://a.example/p.png"/>' +
            '<a href="javascript:alert(1)"><rect width="1" height="1"/></a><style>@import "https://a.example/s.css";rect{fill:url("https://a.example/y")}</style>' +
            '<foreignObject><iframe xmlns="http://www.w3.org/1999/xhtml" src="https://a.example"/></foreignObject><use href="data:image/svg+xml,x"/>',
        ),
    );
    expect(kept).not.toMatch(/script|alert|onload|example|iframe|passwd|data:/i);
    expect(losses).toEqual(expect.arrayContaining(['script', 'external', 'foreign-object']));
  });
  test('long style sheets and paths are read in time that grows with their length', () => {
    const time = (n: number): number => {
      const text = svg(
        `<style>${'@media x{a{b:c}}'.repeat(n)}</style><path d="M0 0${'1'.repeat(n * 8)}x"/><rect style="${'fill:var(--a,'.repeat(n)}" width="9" height="9"/>`,
      );
      const began = performance.now();
      readSource(text);
      return performance.now() - began;
    };
    time(2000);
    expect(time(40_000)).toBeLessThan(20 * 12 * Math.max(1, time(2000)));
  });
});

test('a name that is taken twice gets the next figure', () => {
  expect(freeName('sun', new Set(['sun', 'sun-2', 'sun-3']))).toBe('sun-4');
});

describe('several drawings in one text', () => {
  const names = (text: string, by?: 'groups'): string[] => readBoards(text, by).map((b) => b.name);
  test('symbols, views and, on request, groups', () => {
    const symbols = svg(
      '<symbol id="sun" viewBox="0 0 10 10"><circle cx="5" cy="5" r="4"/></symbol><symbol id="rain" viewBox="0 0 20 20"><path d="M0 0h20v20z"/></symbol>',
      '',
    );
    expect(names(symbols)).toEqual(['sun', 'rain']);
    const sun = readIcon(newIcon('x', 'x', readBoards(symbols)[0]!.source.svg), 1000, 16, tools);
    expect(sun.measures.area).toBeCloseTo(Math.PI * 0.16, 3);
    const views = svg(
      '<view id="left" viewBox="0 0 24 24"/><view id="right" viewBox="24 0 24 24"/><rect width="12" height="24"/><circle cx="36" cy="12" r="12"/>',
      'viewBox="0 0 48 24"',
    );
    expect(names(views)).toEqual(['left', 'right']);
    const right = readIcon(newIcon('x', 'x', readBoards(views)[1]!.source.svg), 1200, 16, tools);
    expect(right.measures.area).toBeCloseTo(Math.PI / 4, 3);
    const groups = svg('<g id="one"><rect width="9" height="9"/></g><g><title>two</title><rect width="9" height="9"/></g>');
    expect([names(groups).length, names(groups, 'groups')]).toEqual([1, ['one', 'two']]);
  });
  test('files of one name, names without a letter, and one that cannot be read', () => {
    const one = svg('<rect width="9" height="9"/>');
    const set: IconSet = { facts, icons: [newIcon('old', 'water', one)], given: [] };
    const { icons, taken } = takeDrawings(
      set,
      [
        { path: 'a/Sow Under Glass.svg', text: one },
        { path: 'b/sow-under-glass.svg', text: one },
        { path: 'ماء.svg', text: one },
        { path: '🌱.svg', text: one },
        { path: 'water.svg', text: svg('<circle r="5"/>') },
        { path: 'broken.svg', text: 'no' },
        { path: 'Łopata 2.SVG', text: one },
        { path: 'moonPhase.svg', text: one },
      ],
      { idOf: (n) => `id-${n}` },
    );
    expect(icons.map((i) => i.name)).toEqual([
      'water',
      'sow-under-glass',
      'sow-under-glass-2',
      'drawing-4',
      'drawing-5',
      'lopata-2',
      'moon-phase',
    ]);
    expect(taken.map((t) => [t.added.length, t.replaced, t.refused !== null])).toEqual([
      [1, [], false],
      [1, [], false],
      [1, [], false],
      [1, [], false],
      [0, ['old'], false],
      [0, [], true],
      [1, [], false],
      [1, [], false],
    ]);
    expect(icons[0]!.svg).toContain('circle');
    expect(taken[1]!.notes.join()).toMatch(/name of another drawing/);
    expect(taken[2]!.notes.join()).toMatch(/no letter or figure/);
  });
});
