import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as csstree from 'css-tree';
import { nodeCodec, nodePaths, nodeSvgEngine } from '@orderly-glyph/node';
import { random } from '../../../test/fonts.js';
import { python } from '../../../test/python.js';
import { LAYOUTS } from '../../webkit/index.js';
import { keepsCodePoints } from '../product.js';
import {
  assignCodes,
  buildIconSet,
  collisions,
  compareReleases,
  contradictionsOf,
  DEFAULT_FACTS,
  emFor,
  iconFontPath,
  iconKitTexts,
  isPrivateUse,
  newIcon,
  noteText,
  placed,
  readManifest,
  setFindings,
  sizesOf,
  writeManifest,
  type BuildTools,
  type BuiltSet,
  type Icon,
  type IconSet,
  type SetFacts,
} from './index.js';
import { boundsOf } from './drawing.js';

const tools: BuildTools = await Promise.all([nodeSvgEngine(), nodePaths()]).then(([svg, paths]) => ({ svg, paths, codec: nodeCodec }));
const svg = (body: string, box = '0 0 24 24'): string => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box}">${body}</svg>`;
const icon = (name: string, body: string, more: Partial<Icon> = {}): Icon => ({ ...newIcon(`id-${name}`, name, svg(body)), ...more });
const facts: SetFacts = {
  ...DEFAULT_FACTS,
  family: 'Hollin Icons',
  prefix: 'seed-',
  base: 'seed-icon',
  maker: 'Hollin Bank Seeds',
  license: 'All rights reserved',
  licenseUrl: 'https://hollin-bank.example/icons',
  formats: ['ttf', 'otf', 'woff', 'woff2'],
};
const ARROW = '<path d="M4 11h12l-4-4 2-2 7 7-7 7-2-2 4-4H4z"/>';
const icons: Icon[] = [
  icon('sun', '<circle cx="12" cy="12" r="5"/><path stroke="#000" stroke-width="2" d="M12 1v4M12 19v4M1 12h4M19 12h4"/>', {
    words: ['sun'],
  }),
  icon('sow-under-glass', '<path d="M4 20V10a8 8 0 0 1 16 0v10z" fill="none" stroke="#000" stroke-width="2"/>', {
    words: ['sow', 'sow-under-glass'],
  }),
  icon('next', ARROW, { characters: [0x2192], mirror: true, aliases: ['forward'] }),
  icon('berry', '<circle cx="12" cy="14" r="8" fill="#a02030"/><path d="M12 2l3 5H9z" fill="#2b6a3f"/>', { inking: 'color' }),
  icon('24-hours', '<rect x="2" y="2" width="20" height="20"/>'),
];
const set: IconSet = { facts, icons, given: [] };
const built = await buildIconSet(set, 3, '2026-11-01', tools);
const dir = mkdtempSync(join(tmpdir(), 'icons-'));
const at = (format: string): string => join(dir, `icons.${format}`);
for (const f of built.files) writeFileSync(at(f.format), f.bytes);
afterAll(() => rmSync(dir, { recursive: true }));

describe('the fonts', () => {
  test.each(['ttf', 'otf', 'woff', 'woff2'])('%s is taken by OpenType Sanitizer', (format) => {
    const run = spawnSync('ots-sanitize', [at(format)], { encoding: 'utf8' });
    expect([run.status, run.stdout + run.stderr]).toEqual([0, expect.not.stringMatching(/WARNING|ERROR/)]);
  });

  test('fontTools reads every table, the names, the maps and the metrics', () => {
    const told = python<Record<string, unknown>>(`
from fontTools.ttLib import TTFont
f = TTFont(${JSON.stringify(at('ttf'))})
for tag in f.keys():
    f[tag]
n = f['name']
out = {
  'names': {str(i): n.getDebugName(i) for i in (0, 1, 2, 4, 5, 6, 8, 13, 14)},
  'cmaps': sorted((t.platformID, t.platEncID, t.format) for t in f['cmap'].tables),
  'map': {hex(k): v for k, v in f.getBestCmap().items() if k > 0x7f},
  'upem': f['head'].unitsPerEm,
  'lines': [f['hhea'].ascent, f['hhea'].descent, f['hhea'].lineGap],
  'typo': [f['OS/2'].sTypoAscender, f['OS/2'].sTypoDescender, f['OS/2'].usWinAscent, f['OS/2'].usWinDescent],
  'advances': sorted(set(f['hmtx'][g][0] for g in f.getBestCmap().values() if not g.startswith('letter') and g != 'space')),
  'modified': f['head'].modified, 'revision': f['head'].fontRevision, 'fsType': f['OS/2'].fsType,
  'layers': {k: [(l.name, l.colorID) for l in v] for k, v in f['COLR'].ColorLayers.items()},
  'palette': [[c.red, c.green, c.blue, c.alpha] for c in f['CPAL'].palettes[0]],
}
print(__import__('json').dumps(out))
`);
    expect(told).toEqual({
      names: {
        0: 'Copyright 2026 Hollin Bank Seeds',
        1: 'Hollin Icons',
        2: 'Regular',
        4: 'Hollin Icons',
        5: 'Version 3.000',
        6: 'HollinIcons-Regular',
        8: 'Hollin Bank Seeds',
        13: 'All rights reserved',
        14: 'https://hollin-bank.example/icons',
      },
      // Character maps: OpenType specification, cmap; format 12 only where something lies beyond the first plane.
      cmaps: expect.arrayContaining([[3, 1, 4]]),
      map: { '0x2192': 'next', '0xe000': 'sun', '0xe001': 'sow_under_glass', '0xe002': 'next', '0xe003': 'berry', '0xe004': 'n24_hours' },
      upem: 1200,
      // An eighth of the em below the baseline: the middle of the board within 0.025 em of that of capitals 0.7 em high.
      lines: [1050, -150, 0],
      typo: [1050, -150, 1050, 150],
      advances: [1200],
      // Seconds since 1904. Source: OpenType specification, head, LONGDATETIME.
      modified: Date.parse('2026-11-01T00:00:00Z') / 1000 + 2082844800,
      revision: 3,
      fsType: 0,
      layers: {
        berry: [
          ['berry.l1', 0],
          ['berry.l2', 1],
        ],
      },
      palette: [
        [0xa0, 0x20, 0x30, 255],
        [0x2b, 0x6a, 0x3f, 255],
      ],
    });
  });

  test('a drawing beyond the first plane is in a map of format 12', async () => {
    const far = await buildIconSet({ ...set, icons: [{ ...icons[0]!, codePoint: 0xf0001 }, icons[4]!] }, 1, '2026-01-01', tools);
    writeFileSync(at('far.ttf'), far.files[0]!.bytes);
    expect(
      python(`
from fontTools.ttLib import TTFont
f = TTFont(${JSON.stringify(at('far.ttf'))})
print(__import__('json').dumps([sorted(t.format for t in f['cmap'].tables if t.platformID == 3), f.getBestCmap()[0xf0001]]))`),
    ).toEqual([[4, 12], 'sun']);
  });

  test.each(['ttf', 'otf'])('HarfBuzz sets words as drawings in %s, the longest first, and letters as nothing', (format) => {
    const shape = (text: string): string => spawnSync('hb-shape', ['--no-positions', at(format), text], { encoding: 'utf8' }).stdout.trim();
    expect(shape('sun')).toBe('[sun=0]');
    expect(shape('sow-under-glass')).toBe('[sow_under_glass=0]');
    expect(shape('sow')).toBe('[sow_under_glass=0]');
    expect(spawnSync('hb-shape', ['--no-clusters', at(format), 'wun'], { encoding: 'utf8' }).stdout).toMatch(
      /^\[letter\.u77\+0\|letter\.u75\+0\|letter\.u6e\+0\]/,
    );
  });

  test('the same set, number and day give the same bytes, on threads or not', async () => {
    const again = await buildIconSet({ ...set, icons: icons.map((i) => ({ ...i })) }, 3, '2026-11-01', tools, false);
    expect(
      again.files.map((f) => Buffer.compare(Buffer.from(f.bytes), Buffer.from(built.files.find((b) => b.format === f.format)!.bytes))),
    ).toEqual([0, 0, 0, 0]);
    const other = await buildIconSet(set, 4, '2026-11-01', tools, false);
    expect(Buffer.compare(Buffer.from(other.files[0]!.bytes), Buffer.from(built.files[0]!.bytes))).not.toBe(0);
  });

  test('what contradicts itself is not made', async () => {
    const wrong = (change: Partial<IconSet>): string => contradictionsOf({ ...set, ...change }).join(' ');
    expect(contradictionsOf(set)).toEqual([]);
    expect(wrong({ icons: [icons[0]!, { ...icons[1]!, name: 'sun' }] })).toMatch(/class of two drawings/);
    expect(wrong({ icons: [icons[0]!, { ...icons[1]!, aliases: ['sun'] }] })).toMatch(/class of two drawings/);
    expect(
      wrong({
        icons: [
          { ...icons[0]!, codePoint: 0xe001 },
          { ...icons[1]!, codePoint: 0xe001 },
        ],
      }),
    ).toMatch(/U\+E001 would be two drawings/);
    expect(wrong({ icons: [{ ...icons[0]!, codePoint: 0x41 }] })).toMatch(/not in the private-use area/);
    expect(wrong({ icons: [{ ...icons[0]!, characters: [0x41] }] })).toMatch(/stay with text/);
    expect(wrong({ icons: [icons[0]!, { ...icons[1]!, words: ['sun'] }] })).toMatch(/word “sun” would become two/);
    expect(wrong({ given: [{ codePoint: 0xe005, name: 'id-sun' }] })).toMatch(/released as U\+E005; a released code point never moves/);
    expect(wrong({ icons: [{ ...icons[0]!, codePoint: 0xe007 }], given: [{ codePoint: 0xe007, name: 'gone' }] })).toMatch(
      /belongs to another drawing/,
    );
    expect(wrong({ facts: { ...facts, base: 'seed-sun' } })).toMatch(/base class and a drawing’s own/);
    expect(wrong({ icons: [] })).toMatch(/no drawing/);
    await expect(buildIconSet({ ...set, icons: [] }, 1, '2026-01-01', tools)).rejects.toThrow(/no drawing/);
  });

  test('names that the font has itself, and those that are cut to the same, become names of their own', async () => {
    const long = 'a'.repeat(58);
    const { icons: out } = await buildIconSet(
      {
        ...set,
        icons: [
          icon('space', ARROW),
          icon(`${long}-b`, ARROW, { words: ['one'] }),
          icon(`2${long}b`, ARROW, { words: ['two'] }),
          icon(`n2${long}`, ARROW),
        ],
      },
      1,
      '2026-01-01',
      tools,
      false,
    );
    expect(new Set([...out.map((i) => i.glyph), 'space']).size).toBe(5);
  });

  test('one drawing that cannot be read is told, and the rest is made', async () => {
    const { icons: out, files } = await buildIconSet({ ...set, icons: [icons[0]!, { ...icons[1]!, svg: '<svg' }] }, 1, '2026-01-01', tools);
    expect(out.map((i) => [i.read !== null, i.findings.map((f) => f.severity)])).toEqual([
      [true, []],
      [false, ['lost']],
    ]);
    expect(files.length).toBe(4);
  });
});

describe('code points', () => {
  test('are given in order, without what is taken, and on from the end of the area', () => {
    const given = [{ codePoint: 0xe001, name: 'gone' }];
    const icons = ['a', 'b', 'c'].map((name, i) => ({ name, codePoint: i === 1 ? 0xe000 : null }));
    expect(assignCodes(icons, given)).toEqual([0xe002, 0xe000, 0xe003]);
    expect(
      assignCodes(
        [
          { name: 'a', codePoint: null },
          { name: 'b', codePoint: null },
        ],
        [],
        0xf8fe,
      ),
    ).toEqual([0xf8fe, 0xf0000]);
    // The Unicode Standard, 23.5.
    expect([0xdfff, 0xe000, 0xf8ff, 0xeffff, 0xf0000, 0xffffd, 0xffffe].map(isPrivateUse)).toEqual([
      false,
      true,
      false,
      false,
      true,
      true,
      false,
    ]);
  });
  test('that mean two things are found', () => {
    const found = collisions(
      [
        { name: 'sun', codePoint: 0xe000 },
        { name: 'moon', codePoint: 0xe000 },
        { name: 'rain', codePoint: 0xe002 },
      ],
      [],
      [{ what: 'Other Icons', codePoints: [0xe001, 0xe002] }],
    );
    expect(found.map((c) => [c.name, c.with])).toEqual([
      ['moon', '“sun” of this set'],
      ['rain', 'Other Icons'],
    ]);
  });
  test('an em is a multiple of the grid', () => {
    expect([24, 16, 20, 32, 48, 500, 512, 18, 1000, 12.5].map(emFor)).toEqual([1200, 1024, 1000, 1024, 1440, 1000, 1024, 1080, 1000, 1000]);
  });

  test('hold through a history of adding, renaming and removing', () => {
    const chance = random(7);
    const pick = (n: number): number => Math.floor(chance() * n);
    for (let story = 0; story < 40; story++) {
      let now: IconSet = { facts, icons: [], given: [] };
      let serial = 0;
      const first = new Map<number, string>();
      for (let number = 1; number <= 5; number++) {
        let list = [...now.icons];
        for (let k = 0; k < 3 + pick(5); k++) list.push(newIcon(`i${++serial}`, `n${serial}`, svg('<rect width="9" height="9"/>')));
        if (number > 1) {
          list = list.filter(() => chance() > 0.2);
          list = list.map((i) => (chance() < 0.3 ? { ...i, name: `r${++serial}`, aliases: [...i.aliases, i.name] } : i));
          list.sort(() => chance() - 0.5);
        }
        if (list.length === 0) continue;
        const codes = assignCodes(list, now.given);
        const icons = list.map((i, k) => ({ ...i, codePoint: codes[k]! }));
        const known = new Set(now.given.map((g) => g.codePoint));
        const given = [...now.given, ...icons.filter((i) => !known.has(i.codePoint)).map((i) => ({ codePoint: i.codePoint, name: i.id }))];
        const next: IconSet = { facts, icons, given };
        expect(contradictionsOf(next)).toEqual([]);
        keepsCodePoints(now.given, given);
        for (const i of icons) {
          expect(first.get(i.codePoint) ?? i.id).toBe(i.id);
          first.set(i.codePoint, i.id);
        }
        now = next;
      }
    }
  });
});

describe('placing', () => {
  const square = [
    {
      start: [300, 200],
      segments: [
        [500, 200],
        [500, 600],
        [300, 600],
      ],
    },
  ] as const;
  const box = (...steps: Parameters<typeof placed>[1]): number[] => {
    const b = boundsOf(placed(square as never, steps, 1200))!;
    return [b.xMin, b.yMin, b.xMax, b.yMax].map((v) => Math.round(v * 100) / 100);
  };
  test('steps act one after another', () => {
    expect(box()).toEqual([300, 200, 500, 600]);
    expect(box({ step: 'fit', margin: 0.1 })).toEqual([360, 120, 840, 1080]);
    expect(box({ step: 'align', to: 'middle' })).toEqual([500, 400, 700, 800]);
    expect(box({ step: 'align', to: 'bottom' })).toEqual([500, 0, 700, 400]);
    expect(box({ step: 'nudge', x: 0.1, y: -0.05 })).toEqual([420, 140, 620, 540]);
    expect(box({ step: 'scale', by: 0.5 })).toEqual([450, 400, 550, 600]);
    expect(box({ step: 'turn', degrees: 90 })).toEqual([600, 300, 1000, 500]);
    expect(box({ step: 'flip', across: 'vertical' })).toEqual([700, 200, 900, 600]);
    expect(box({ step: 'snap', px: 24 })).toEqual([300, 200, 500, 600]);
    expect(box({ step: 'nudge', x: 0.01, y: 0 }, { step: 'snap', px: 24 })).toEqual([300, 200, 500, 600]);
    expect(box({ step: 'nudge', x: 0.03, y: 0 }, { step: 'snap', px: 24 })).toEqual([350, 200, 550, 600]);
  });
  test('a mirror keeps ink ink', () => {
    const [contour] = placed(square as never, [{ step: 'flip', across: 'horizontal' }], 1200);
    const [x0, y0] = contour!.start;
    const [[x1, y1], [x2, y2]] = contour!.segments as [number[], number[]];
    expect(Math.sign((x1! - x0) * (y2! - y1!) - (x2! - x1!) * (y1! - y0))).toBe(1);
  });
});

describe('the set as a whole', () => {
  test('drawings unlike the others, and two alike, are told', async () => {
    const many: Icon[] = Array.from({ length: 9 }, (_, i) =>
      icon(`n${i}`, `<path stroke="#000" stroke-width="2" stroke-linecap="round" d="M3 ${3 + i}h18M3 21h18M${3 + i} 3v18"/>`),
    );
    many.push(
      icon('blunt', '<path stroke="#000" stroke-width="2" d="M3 3h18M3 21h18M12 3v9"/>'),
      icon('small', '<path stroke="#000" stroke-width="2" stroke-linecap="round" d="M10 10h4M12 10v4"/>'),
    );
    many.push(
      { ...icon('twin', ''), svg: many[2]!.svg },
      { ...icon('board', ''), svg: svg('<path stroke="#000" stroke-width="3" stroke-linecap="round" d="M4 4h24M4 28h24"/>', '0 0 32 32') },
    );
    const made = await buildIconSet({ facts: { ...facts, formats: ['ttf'] }, icons: many, given: [] }, 1, '2026-01-01', tools, false);
    const told = (name: string): string[] => made.icons.find((i) => i.name === name)!.findings.map((f) => f.code);
    expect(told('blunt')).toContain('caps-unlike');
    expect(told('small')).toContain('size-unlike');
    expect(told('twin')).toContain('alike');
    expect(told('board')).toContain('board-unlike');
    expect(told('n4')).toEqual([]);
  });
  test('sizes are told by how far they are from the middle one', () => {
    const of = (width: number, height: number) => ({ area: 0.2, width, height, points: 4, raster: new Float32Array(576) });
    const [a, b, c] = sizesOf([of(0.8, 0.8), of(0.8, 0.8), of(0.4, 0.4)]);
    expect([a!.off, b!.off, Math.exp(c!.off)].map((v) => Math.round(v * 100) / 100)).toEqual([0, 0, 0.5]);
    expect(setFindings([]).size).toBe(0);
  });
});

describe('releases', () => {
  const before: IconSet = { ...set, icons: icons.map((i, k) => ({ ...i, codePoint: 0xe000 + k })), given: built.given };
  test('say what came, changed and went, and whether pages keep working', () => {
    expect(compareReleases(null, set).added).toEqual(icons.map((i) => i.name));
    const kept = compareReleases(before, {
      ...before,
      icons: [...before.icons.slice(1), { ...before.icons[0]!, name: 'full-sun', aliases: ['sun'] }, icon('frost', ARROW)],
    });
    expect([kept.added, kept.renamed, kept.breaks, kept.changed]).toEqual([['frost'], [{ from: 'sun', to: 'full-sun' }], [], []]);
    expect(noteText(kept, 4)).toMatch(/keep working/);
    const lost = compareReleases(before, {
      ...before,
      icons: [{ ...before.icons[2]!, aliases: [], svg: svg('<g/>') }, ...before.icons.slice(3)],
    });
    expect([lost.removed, lost.changed]).toEqual([['sun', 'sow-under-glass'], ['next']]);
    expect(lost.breaks.join(' ')).toMatch(/“seed-forward” is gone.*|“seed-sun” is gone/);
    expect(lost.breaks.join(' ')).toMatch(/U\+E000 \(sun\) shows nothing/);
    expect(compareReleases(before, { ...before, facts: { ...facts, family: 'Other', prefix: 'x-' } }).breaks.length).toBe(2);
  });

  test('the file of a set gives the set back, and what is none is refused in words', () => {
    const text = writeManifest(before, { number: 3, day: '2026-11-01' });
    expect(readManifest(text)).toEqual({ set: before, release: { number: 3, day: '2026-11-01' } });
    const wrong = (change: (m: Record<string, unknown>) => void): string => {
      const m = JSON.parse(text) as Record<string, unknown>;
      change(m);
      try {
        readManifest(JSON.stringify(m));
        return '';
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect(wrong((m) => (m.format = 'x'))).toMatch(/“format”/);
    expect(wrong((m) => (m.version = 2))).toMatch(/version/);
    expect(wrong((m) => ((m.icons as { name: unknown }[])[0]!.name = 5))).toMatch(/name of drawing 1/);
    expect(wrong((m) => ((m.icons as { id: unknown }[])[1]!.id = 'id-sun'))).toMatch(/two drawings have the id/);
    expect(wrong((m) => ((m.icons as { codePoint: unknown }[])[0]!.codePoint = 1e9))).toMatch(/not a code point/);
    expect(wrong((m) => ((m.icons as { place: unknown }[])[0]!.place = [{ step: 'melt' }]))).toMatch(/step/);
    expect(() => readManifest('{')).toThrow(/no JSON/);
  });
});

describe('the kit', () => {
  const kit = (layout: (typeof LAYOUTS)[number], change: Partial<SetFacts> = {}): Map<string, string> => {
    const changed: BuiltSet = built;
    const texts = iconKitTexts({
      set: { ...set, facts: { ...facts, ...change } },
      built: changed,
      number: 3,
      day: '2026-11-01',
      layout,
      note: compareReleases(null, set),
      licenseText: '',
    });
    return new Map(texts.map((t) => [t.path, t.content]));
  };
  // The style sheet as css-tree, an independent parser, reads it.
  const contents = (css: string): Map<string, string> => {
    const faults: string[] = [];
    const out = new Map<string, string>();
    csstree.walk(csstree.parse(css, { onParseError: (e) => void faults.push(e.message) }), (node) => {
      if (node.type !== 'Rule') return;
      csstree.walk(node.block, (d) => {
        if (d.type === 'Declaration' && d.property === 'content' && !csstree.generate(d.value).includes('/'))
          out.set(csstree.generate(node.prelude), csstree.generate(d.value));
      });
    });
    expect(faults).toEqual([]);
    return out;
  };
  test('its style sheet shows each drawing by class or by attribute, old names too', () => {
    const rules = contents(kit('siblings').get('css/icons.css')!);
    expect(rules.get('.seed-sun::before')).toBe('"\ue000"');
    expect(rules.get('.seed-next::before,.seed-forward::before')).toBe('"\ue002"');
    const by = contents(kit('flat', { selector: 'attribute' }).get('icons.css')!);
    expect(by.get('[data-seed-icon="sun"]::before')).toBe('"\ue000"');
  });
  test('only what was said to be mirrored is mirrored from right to left', () => {
    const css = kit('siblings').get('css/icons.css')!;
    expect([...css.matchAll(/\.seed-([a-z-]+):dir\(rtl\)::before/g)].map((m) => m[1])).toEqual(['next', 'forward']);
  });
  test('a drawing over another one is shown with it, in a style sheet and as SVG', async () => {
    const two = { ...set, icons: icons.map((i) => (i.name === 'next' ? { ...i, beneath: 'id-sun' } : i)) };
    const made = await buildIconSet(two, 3, '2026-11-01', tools, false);
    const texts = new Map(
      iconKitTexts({
        set: two,
        built: made,
        number: 3,
        day: '2026-11-01',
        layout: 'flat',
        note: compareReleases(null, two),
        licenseText: '',
      }).map((t) => [t.path, t.content]),
    );
    const rules = contents(texts.get('icons.css')!);
    expect([rules.get('.seed-next::before,.seed-forward::before'), rules.get('.seed-next::after,.seed-forward::after')]).toEqual([
      '"\ue002"',
      '"\ue000"',
    ]);
    expect(texts.get('icons.css')).toMatch(/\.seed-forward:dir\(rtl\)::after \{ transform: scaleX\(-1\)/);
    expect(texts.get('svg/next.svg')).toMatch(/fill-opacity="0\.4" d=.*fill="currentColor" d=/);
    expect(texts.get('svg/sun.svg')).not.toMatch(/opacity/);
    expect(JSON.parse(texts.get('icons.json')!).icons.next.beneath).toBe('U+E000');
    expect(readManifest(texts.get('icon-set.json')!).set.icons[2]!.beneath).toBe('id-sun');
    expect(contents(kit('flat').get('icons.css')!).has('.seed-next::after,.seed-forward::after')).toBe(false);
    expect(compareReleases({ ...set, given: [] }, two).changed).toEqual(['next']);
    expect(contradictionsOf({ ...two, icons: two.icons.filter((i) => i.name !== 'sun') }).join()).toMatch(
      /layer beneath “next” is not in the set/,
    );
    expect(
      contradictionsOf({ ...two, icons: two.icons.map((i) => (i.name === 'sun' ? { ...i, beneath: 'id-berry' } : i)) }).join(),
    ).toMatch(/two are all there are/);
  });
  test.each(LAYOUTS)('laid out as %s its addresses lead from the style sheet to the fonts', (layout) => {
    const texts = kit(layout);
    const path = [...texts.keys()].find((p) => p.endsWith('icons.css'))!;
    const ways = [...texts.get(path)!.matchAll(/url\("([^"?]+)/g)].map((m) =>
      new URL(m[1]!, `https://x.example/${path}`).pathname.slice(1),
    );
    expect(ways).toEqual(['woff2', 'woff', 'ttf', 'otf'].map((f) => iconFontPath(layout, `hollin-icons.${f}`)));
  });
  test('names as a type, characters, single drawings, and lines that screen readers understand', () => {
    const texts = kit('siblings');
    expect(texts.get('icons.ts')).toContain("| 'sow-under-glass'");
    expect(texts.get('icons.ts')).toContain("'sun': '\\u{e000}'");
    expect(JSON.parse(texts.get('icons.json')!)).toMatchObject({
      family: 'Hollin Icons',
      release: 3,
      icons: { next: { codePoint: 'U+E002', characters: ['U+2192'], aliases: ['forward'] } },
    });
    expect(texts.get('icons.html')).toContain('&#60;span class=&#34;seed-icon seed-sun&#34; aria-hidden=&#34;true&#34;&#62;');
    expect(texts.get('icons.html')).toContain('role=&#34;img&#34; aria-label=&#34;Sow under glass&#34;');
    expect(texts.get('svg/berry.svg')).toMatch(/fill="#a02030".*fill="#2b6a3f"/);
    expect(texts.get('svg/sun.svg')).toMatch(/fill="currentColor"/);
    expect(readManifest(texts.get('icon-set.json')!).set.icons.map((i) => i.codePoint)).toEqual([0xe000, 0xe001, 0xe002, 0xe003, 0xe004]);
    expect(texts.get('license/LICENSE.txt')).toMatch(/All rights reserved/);
  });
  test('a single drawing of the kit is drawn as its source is', () => {
    const ours = tools.svg.coverage(kit('siblings').get('svg/sow-under-glass.svg')!, 256);
    const theirs = tools.svg.coverage(icons[1]!.svg, 256);
    const off = ours.alpha.reduce((sum, v, i) => sum + Math.abs(v - theirs.alpha[i]!), 0);
    expect(off / theirs.alpha.reduce((a, b) => a + b, 0)).toBeLessThan(0.01);
  });
});
