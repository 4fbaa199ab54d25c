import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, posix } from 'node:path';
import { unzip, zip } from '../../server/test/zips.js';
import { collection, FONTS, readFont } from '../../../packages/core/test/fonts.js';

const dir = mkdtempSync(join(tmpdir(), 'glyph-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const glyph = (...args: string[]) =>
  spawnSync(process.execPath, ['apps/cli/dist/glyph.js', ...args], { encoding: 'utf8', maxBuffer: 1 << 26 });
const file = (name: string, bytes: Uint8Array | string): string => {
  const path = join(dir, name);
  writeFileSync(path, bytes);
  return path;
};

test('inspect prints one JSON document, and exits 1 when a file was refused', () => {
  const text = file('text.ttf', 'not a font');
  const run = glyph('inspect', FONTS.serifVariable, text, join(dir, 'missing.ttf'), '--json');
  expect(run.status).toBe(1);
  const { files } = JSON.parse(run.stdout) as {
    files: {
      path: string;
      sha256: string;
      bytes: number;
      format: string;
      faces: Record<string, unknown>[];
      refused: { code: string } | null;
    }[];
  };
  expect(files.map((f) => f.refused?.code ?? null)).toEqual([null, 'text-not-font', 'unreadable']);
  expect(files[0]).toMatchObject({
    path: FONTS.serifVariable,
    format: 'ttf',
    sha256: createHash('sha256').update(readFont('serifVariable')).digest('hex'),
  });
  expect(Object.keys(files[0]!.faces[0]!)).toEqual(
    expect.arrayContaining([
      'index',
      'family',
      'subfamily',
      'typographicFamily',
      'typographicSubfamily',
      'fullName',
      'postScriptName',
      'version',
      'weightClass',
      'widthClass',
      'italic',
      'monospaced',
      'outlines',
      'glyphCount',
      'unitsPerEm',
      'ascender',
      'descender',
      'lineGap',
      'xHeight',
      'capHeight',
      'codePoints',
      'ranges',
      'embedding',
      'color',
      'axes',
      'features',
      'layoutScripts',
    ]),
  );
  expect((files[0]!.faces[0]!.axes as { tag: string }[]).map((a) => a.tag).sort()).toEqual(['opsz', 'wght']);
});

test('inspect exits 0 when all were read', () => {
  expect(glyph('inspect', FONTS.gochiHand).status).toBe(0);
});

test('wrong use exits 2 and says how', async () => {
  const wrong = [
    [],
    ['inspect'],
    ['shout'],
    ['convert', FONTS.gochiHand],
    ['convert', FONTS.gochiHand, '--to', 'eot', '-o', 'x'],
    ['convert', FONTS.gochiHand, '--to', 'ttf', '-o', 'x', '--tolerance', '0'],
    ['convert', FONTS.gochiHand, '--to', 'ttf', '-o', 'x', '--subset-text', 'a', '--subset-languages', 'pl'],
    ['convert', FONTS.gochiHand, '--to', 'ttf', '-o', 'x', '--subset-languages', 'klingon'],
    ['convert', FONTS.gochiHand, '--to', 'ttf', '-o', 'x', '--subset-unicodes', 'A-Z'],
    ['convert', FONTS.gochiHand, '--to', 'ttf', '-o', 'x', '--keep-features', 'kern', '--drop-features', 'liga'],
    ['convert', FONTS.gochiHand, FONTS.notoMono, '--to', 'ttf', '-o', 'x'],
    ['webkit', FONTS.gochiHand, '-o', 'x'],
    ['webkit', FONTS.gochiHand, '--name', '../up', '-o', 'x'],
    ['webkit', FONTS.gochiHand, '--name', 'a', '--layout', 'heap', '-o', 'x'],
    ['inspect', '--nonsense', 'x'],
  ];
  const runs = await Promise.all(
    wrong.map(
      (args) =>
        new Promise<[number | null, string]>((done) => {
          const child = spawn(process.execPath, ['apps/cli/dist/glyph.js', ...args], { stdio: ['ignore', 'ignore', 'pipe'] });
          let said = '';
          child.stderr.on('data', (d) => (said += String(d)));
          child.once('close', (code) => done([code, said]));
        }),
    ),
  );
  for (const [i, args] of wrong.entries()) {
    expect([args, runs[i]![0]]).toEqual([args, 2]);
    expect(runs[i]![1]).toContain('glyph convert IN... --to');
  }
});

test('convert writes the whole file or nothing', () => {
  const out = join(dir, 'out/x.woff2');
  expect(glyph('convert', FONTS.gochiHand, '--to', 'woff2', '-o', out).status).toBe(1);
  const good = join(dir, 'x.woff2');
  expect(glyph('convert', FONTS.gochiHand, '--to', 'woff2', '-o', good).status).toBe(0);
  expect(spawnSync('ots-sanitize', [good]).status).toBe(0);
  const kept = readFileSync(good);
  const refused = glyph('convert', FONTS.serifVariable, '--to', 'otf', '-o', good);
  expect(refused.status).toBe(1);
  expect(refused.stderr).toContain('Choose one of its instances first');
  expect(readFileSync(good).equals(kept)).toBe(true);
  expect(readdirSync(dir).filter((f) => f.endsWith('.part'))).toEqual([]);
});

test('a face of a collection is taken out by its number', () => {
  const ttc = file('two.ttc', collection([readFont('gochiHand'), readFont('notoMono')]));
  const out = join(dir, 'second.ttf');
  expect(glyph('convert', ttc, '--to', 'ttf', '--face', '1', '-o', out).status).toBe(0);
  expect(glyph('inspect', out).stdout).toContain('Noto Sans Mono');
  expect(glyph('convert', ttc, '--to', 'ttf', '--face', '7', '-o', out).status).toBe(1);
});

test('convert makes what its flags say, and reports on it', () => {
  const [out, report] = [join(dir, 'polish.woff2'), join(dir, 'polish.json')];
  expect(
    glyph(
      'convert',
      FONTS.serifOtf,
      '--to',
      'woff2',
      '--subset-languages',
      'pl',
      '--drop-features',
      'smcp,c2sc',
      '--report',
      report,
      '-o',
      out,
    ).status,
  ).toBe(0);
  const bytes = readFileSync(out);
  const said = JSON.parse(readFileSync(report, 'utf8')) as {
    done: boolean;
    result: { sha256: string; bytes: number };
    faces: { steps: string; equal: boolean; glyphsCompared: number; source: { sha256: string } }[];
  };
  expect(said).toMatchObject({ done: true, result: { bytes: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') } });
  expect(said.faces).toEqual([
    expect.objectContaining({
      equal: true,
      steps: expect.stringMatching(/cut down to .* without the features smcp,c2sc, converted to WOFF2/),
    }),
  ]);
  expect(said.faces[0]!.source.sha256).toBe(createHash('sha256').update(readFileSync(FONTS.serifOtf)).digest('hex'));
  expect(glyph('check', out, '--text', file('pl.txt', Buffer.from('Zażółć gęślą jaźń, 3,50 zł'))).status).toBe(0);

  const bold = join(dir, 'bold.ttf');
  expect(glyph('convert', FONTS.serifVariable, '--to', 'ttf', '--instance', 'wght=700', '--subset-text', 'Seeds', '-o', bold).status).toBe(
    0,
  );
  const [inspected] = JSON.parse(glyph('inspect', bold, '--json').stdout).files;
  expect(inspected.faces[0]).toMatchObject({ weightClass: 700, codePoints: 4, axes: [], outlines: 'glyf' });

  const both = join(dir, 'both.ttc');
  expect(glyph('convert', FONTS.gochiHand, FONTS.notoMono, '--to', 'ttc', '-o', both).status).toBe(0);
  expect(JSON.parse(glyph('inspect', both, '--json').stdout).files[0].faces.map((f: { family: string }) => f.family)).toEqual([
    'Gochi Hand',
    'Noto Sans Mono',
  ]);

  const data = join(dir, 'glyphs.json');
  expect(glyph('convert', FONTS.serifOtf, '--to', 'json', '--subset-unicodes', 'U+0041-0043', '-o', data).status).toBe(0);
  expect(JSON.parse(readFileSync(data, 'utf8')).glyphs.map((g: { codePoints: number[] }) => g.codePoints[0])).toEqual(
    expect.arrayContaining([0x41, 0x42, 0x43]),
  );
  expect(glyph('convert', FONTS.gochiHand, '--to', 'svg', '--subset-text', 'AB', '-o', join(dir, 'glyphs.zip')).status).toBe(0);
  const zipped = readFileSync(join(dir, 'glyphs.zip'));
  expect([zipped.readUInt32LE(0), zipped.includes('-uni0041.svg'), zipped.includes('-uni0043.svg')]).toEqual([0x04034b50, true, false]);

  for (const [flags, why] of [
    [['--instance', 'wght=9000'], /lies outside/],
    [['--subset-text', '中'], /none of these characters/],
    [['--face', '3'], /no number 3/],
  ] as const) {
    const refused = glyph('convert', FONTS.serifVariable, '--to', 'ttf', ...flags, '-o', bold);
    expect([flags, refused.status, refused.stderr]).toEqual([flags, 1, expect.stringMatching(why)]);
  }
  expect(readdirSync(dir).filter((f) => f.endsWith('.part'))).toEqual([]);
});

test.each(['flat', 'siblings', 'nested'] as const)(
  'a kit for a website, %s: every address in its style sheet and pages leads to a file',
  async (layout) => {
    const out = join(dir, `kit-${layout}.zip`);
    expect(
      glyph('webkit', FONTS.serifOtf, FONTS.gochiHand, '--name', 'Hollin web', '--layout', layout, '--languages', 'pl', '-o', out).status,
    ).toBe(0);
    const files = await unzip(readFileSync(out));
    const text = (path: string): string => Buffer.from(files.get(`Hollin web/${path}`)!).toString('utf8');
    const sheet = [...files.keys()].find((f) => f.endsWith('fonts.css'))!;
    const css = Buffer.from(files.get(sheet)!).toString('utf8');
    const urls = [...css.matchAll(/url\("([^"]+)"\)/g)].map((m) => posix.join(posix.dirname(sheet), m[1]!));
    expect([urls.length, urls.filter((u) => !files.has(u))]).toEqual([2, []]);
    for (const page of ['preload.html', 'test.html'])
      for (const [, href] of text(page).matchAll(/href="([^"]+)"/g))
        expect([page, href, files.has(`Hollin web/${href}`)]).toEqual([page, href, true]);
    // The fonts are what they are said to be, and write the language.
    for (const line of text('integrity.txt').trim().split('\n')) {
      const [hash, path] = line.split('  ') as [string, string];
      const bytes = files.get(`Hollin web/${path}`)!;
      expect(hash).toBe(`sha384-${createHash('sha384').update(bytes).digest('base64')}`);
      expect(spawnSync('ots-sanitize', [file('kit.woff2', bytes)]).status).toBe(0);
      if (path.includes('Serif'))
        expect(glyph('check', join(dir, 'kit.woff2'), '--text', file('pl.txt', 'Zażółć gęślą jaźń')).status).toBe(0);
    }
    expect(text('preload.html')).toContain(`integrity="sha384-${createHash('sha384').update(files.get(sheet)!).digest('base64')}"`);
    expect(css).toMatch(
      /font-family: "Source Serif 4 fallback";[^}]*local\("Times New Roman"\);\s+size-adjust: 1\d\d(\.\d+)?%;\s+ascent-override/,
    );
    expect(JSON.parse(text('tokens.json')).font.family['source-serif-4'].$value).toEqual([
      'Source Serif 4',
      'Source Serif 4 fallback',
      'serif',
    ]);
    expect(text('license/Gochi-Hand-Regular.txt')).toMatch(/Open Font License/i);
    // The same files make the same kit.
    const again = join(dir, `again-${layout}.zip`);
    glyph('webkit', FONTS.serifOtf, FONTS.gochiHand, '--name', 'Hollin web', '--layout', layout, '--languages', 'pl', '-o', again);
    expect(readFileSync(again).equals(readFileSync(out))).toBe(true);
  },
);

test('inspect says of what kind a face is and how sure that is', () => {
  const run = glyph('inspect', FONTS.gochiHand, '--json');
  const { files } = JSON.parse(run.stdout) as { files: { faces: { kind: { value: string; confidence: number } }[] }[] };
  expect(files[0]!.faces[0]!.kind.value).toBe('handwriting');
  expect(files[0]!.faces[0]!.kind.confidence).toBeGreaterThan(0.6);
});

test('alike ranks faces, and says which could not be compared', () => {
  const text = file('text.otf', 'not a font');
  const run = glyph('alike', FONTS.serifOtf, '--among', FONTS.gochiHand, FONTS.serifTtf, FONTS.literata, text, '--json');
  expect(run.status).toBe(1);
  const found = JSON.parse(run.stdout) as { alike: { path: string; score: number }[]; refused: { path: string }[] };
  // The same face with the other kind of outlines first, the handwriting last.
  expect(found.alike.map((a) => a.path)).toEqual([FONTS.serifTtf, FONTS.literata, FONTS.gochiHand]);
  expect(found.alike[0]!.score).toBeGreaterThan(0.8);
  expect(found.refused.map((r) => r.path)).toEqual([text]);
  expect(glyph('alike', FONTS.serifOtf).status).toBe(2);
});

test('rights says what a face may be used for under the license its text is recognized as', () => {
  const terms = join(process.cwd(), 'node_modules/source-serif/LICENSE.md');
  const own = file('own.txt', 'Free for personal use only. Web use requires a separate license.');
  const run = glyph('rights', FONTS.serifOtf, '--terms', terms, '--terms', own, '--json');
  expect(run.status).toBe(0);
  const { faces, passages, general } = JSON.parse(run.stdout) as {
    faces: {
      license: { spdxId: string; score: number };
      reservedNames: string[];
      verdicts: Record<string, { answer: string; reasons: string[] }>;
    }[];
    passages: { terms: string; use: string; sentences: string[] }[];
    general: string[];
  };
  expect(faces[0]!.license).toMatchObject({ spdxId: 'OFL-1.1', basis: 'text' });
  expect(faces[0]!.reservedNames).toEqual(['Source']);
  const bare = JSON.parse(glyph('rights', FONTS.khmer, '--terms', own, '--json').stdout) as {
    faces: { verdicts: Record<string, { answer: string; reasons: string[] }> }[];
  };
  // The second text takes it back: all of them are read.
  expect(faces[0]!.verdicts.website!.answer).toBe('ask');
  const alone = JSON.parse(glyph('rights', FONTS.serifOtf, '--terms', terms, '--json').stdout) as typeof bare;
  expect(alone.faces[0]!.verdicts.website!.answer).toBe('yes');
  // OFL 1.1, section 3: a changed version may not carry the reserved name.
  expect(alone.faces[0]!.verdicts.changing).toMatchObject({
    answer: 'ask',
    reasons: [expect.stringContaining('“Source”'), expect.anything()],
  });
  expect(passages).toContainEqual({ terms: own, use: 'website', sentences: ['Web use requires a separate license.'] });
  expect(general).toEqual(['Free for personal use only.']);
  // A guess from free-form terms never makes a verdict.
  expect(new Set(Object.values(bare.faces[0]!.verdicts).map((v) => v.answer)).has('no')).toBe(false);
  expect(glyph('rights').status).toBe(2);
});

test('rights reads the terms that a font carries in its license field', () => {
  // One face holds the whole text of the OFL 1.1 in name ID 13; another a draft of it ("1.1-review1"), which is no known text.
  const basis = (font: string): unknown =>
    (JSON.parse(glyph('rights', font, '--json').stdout) as { faces: { license: { spdxId: string; basis: string } }[] }).faces[0]!.license;
  expect(basis(FONTS.scheherazade)).toMatchObject({ spdxId: 'OFL-1.1', basis: 'text' });
  expect(basis(FONTS.didot)).toMatchObject({ spdxId: 'OFL-1.1', basis: 'mention' });
  const made = spawnSync('/usr/bin/python3', [
    '-c',
    `
from fontTools.ttLib import TTFont
font = TTFont(${JSON.stringify(FONTS.khmer)})
for id in (0, 13, 14):
    font['name'].removeNames(nameID=id)
font['name'].setName('Free for personal use only. You may not use it on a website.', 13, 3, 1, 0x409)
font.save(${JSON.stringify(join(dir, 'own-terms.ttf'))})`,
  ]);
  expect(made.status).toBe(0);
  const { faces, suggestions } = JSON.parse(glyph('rights', join(dir, 'own-terms.ttf'), '--json').stdout) as {
    faces: { license: null; verdicts: Record<string, { answer: string }> }[];
    suggestions: { terms: string; use: string; answer: string }[];
  };
  expect(faces[0]!.license).toBeNull();
  expect(faces[0]!.verdicts.website!.answer).toBe('ask');
  expect(suggestions).toContainEqual(
    expect.objectContaining({ terms: expect.stringContaining('name ID 13'), use: 'website', answer: 'no' }),
  );
});

test('rights reads documents, shows what differs from a known text, and passes over what cannot be read', () => {
  const ofl = readFileSync(join(process.cwd(), 'node_modules/source-serif/LICENSE.md'), 'utf8');
  const rtf = file('terms.rtf', `{\\rtf1\\ansi ${ofl.replace(/[\\{}]/g, ' ').replace(/\n/g, '\\par\n')}}`);
  const utf16 = file('utf16.txt', new Uint8Array(Buffer.from('\ufeffYou may use the font on your website.', 'utf16le')));
  const twisted = file('twisted.txt', ofl.replace('to use, study, copy', 'not to use, study, copy'));
  const broken = file('broken.pdf', '%PDF-1.4 nothing');
  const run = glyph('rights', FONTS.khmer, '--terms', rtf, '--terms', utf16, '--terms', twisted, '--terms', broken, '--json');
  expect(run.status).toBe(1);
  expect(run.stderr).toMatch(/broken\.pdf: It was.* could not be read/);
  const { faces, near, suggestions } = JSON.parse(run.stdout) as {
    faces: { license: { spdxId: string; basis: string } }[];
    near: { terms: string; spdxId: string; differences: { found: string }[] }[];
    suggestions: { terms: string; use: string; answer: string }[];
  };
  expect(faces[0]!.license).toMatchObject({ spdxId: 'OFL-1.1', basis: 'text' });
  expect(near).toMatchObject([{ terms: twisted, spdxId: 'OFL-1.1' }]);
  expect(near[0]!.differences.some((d) => d.found.startsWith('not'))).toBe(true);
  expect(suggestions).toContainEqual(expect.objectContaining({ terms: utf16, use: 'website', answer: 'yes' }));
});

test('sort says what bringing a bundle in would make of each file, and keeps nothing', async () => {
  const ofl = readFileSync(join(process.cwd(), 'node_modules/source-serif/LICENSE.md'));
  const inner = await zip([['hand/Gochi.ttf', readFont('gochiHand')]]);
  const bundle = file(
    'bundle.zip',
    await zip([
      ['serif/Serif.otf', readFont('serifOtf')],
      ['serif/again.otf', readFont('serifOtf')],
      ['serif/LICENSE.md', ofl],
      ['more.zip', inner],
      ['receipt.txt', 'Order number 12. Amount paid 48.00 EUR'],
      ['saved.ttf', '<html>Log in</html>'],
      ['.DS_Store', 'x'],
    ]),
  );
  const run = glyph('sort', bundle, '--json');
  expect(run.status).toBe(1);
  const { items, texts } = JSON.parse(run.stdout) as { items: { path: string; outcome: string; family: string | null }[]; texts: object[] };
  expect(Object.fromEntries(items.map((i) => [i.path, `${i.outcome}${i.family ? ` ${i.family}` : ''}`]))).toEqual({
    'serif/Serif.otf': 'added Source Serif 4',
    'serif/again.otf': 'already-here Source Serif 4',
    'serif/LICENSE.md': 'companion',
    'more.zip/hand/Gochi.ttf': 'added Gochi Hand',
    'receipt.txt': 'companion',
    'saved.ttf': 'refused',
    '.DS_Store': 'set-aside',
  });
  expect(texts).toEqual([
    { path: 'serif/LICENSE.md', license: 'OFL-1.1', kind: 'terms', covers: ['Source Serif 4'], leavesOut: [] },
    { path: 'receipt.txt', license: null, kind: 'receipt', covers: [], leavesOut: [] },
  ]);
  // Beside a face of another maker it counts for its own alone, and says why.
  const loose = glyph('sort', FONTS.serifOtf, FONTS.gochiHand, file('LICENSE.md', ofl), '--json');
  expect((JSON.parse(loose.stdout) as { texts: unknown[] }).texts).toEqual([
    expect.objectContaining({
      covers: ['Source Serif 4'],
      leavesOut: [{ family: 'Gochi Hand', why: expect.stringContaining('“Source”') }],
    }),
  ]);
  expect(glyph('sort', file('broken.zip', new Uint8Array([0x50, 0x4b, 3, 4, 0])), '--json').status).toBe(1);
  expect(glyph('sort').status).toBe(2);
});
