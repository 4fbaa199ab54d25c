import { execFileSync, spawnSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { nodeCodec, nodeSubsetter } from '@orderly-glyph/node';
import { faceOf } from '../../test/face.js';
import { FONTS, readFont, withTable } from '../../test/fonts.js';
import { glyphOf, readCmap, readFontFile } from '../sfnt/index.js';
import { python } from '../../test/python.js';
import { inRuns, missingFrom, smallestSet, suspicions, writesOf } from '../text/index.js';
import { auxiliaryLetters, language, languages, reach, scripts } from '../unicode/index.js';
import { judgeCoverage, needsFor } from './index.js';

const NOTO = '/usr/share/fonts/truetype/noto';
const noto = (name: string): Uint8Array => new Uint8Array(readFileSync(`${NOTO}/${name}.ttf`));
const judge = (bytes: Uint8Array) => judgeCoverage(faceOf(bytes));
const level = (bytes: Uint8Array, tag: string): string => judge(bytes).languages.find((l) => l.tag === tag)?.level ?? 'none';
const without = (bytes: Uint8Array, table: string): Uint8Array => withTable(readFontFile(bytes, nodeCodec).fonts[0]!, table, null);
const letters = (tag: string): string => String.fromCodePoint(...language(tag)!.letters);

test('the compiled letters are CLDR’s', () => {
  // CLDR 48, main/pl/characters.json and main/de: the alphabet with its capitals.
  expect([...letters('pl')].filter((c) => c > '\u007f').join('')).toBe('ÓóĄąĆćĘęŁłŃńŚśŹźŻż');
  expect(letters('de')).toContain('ß');
  // Capitals by the language's own rules: Turkish dotted I; Greek capitals keep the accent at the head of a word (Άνοιξη).
  expect(letters('tr')).toContain('İ');
  expect(letters('el')).toContain('Ά');
  // Digraphs count through their letters: Croatian dž and nj need no characters of their own.
  expect(letters('hr')).not.toContain('ǆ');
  expect(letters('hr')).toContain('ž');
  // Georgian has no customary capitals.
  expect(letters('ka')).not.toMatch(/[Ა-Ჿ]/);
  expect(languages().length).toBeGreaterThan(350);
  expect(scripts().length).toBeGreaterThan(160);
});

test.each([
  ['NotoNaskhArabic-Regular', 'ar'],
  ['NotoSansDevanagari-Regular', 'hi'],
  ['NotoSansKhmer-Regular', 'km'],
  ['NotoSansMyanmar-Regular', 'my'],
  ['NotoSansBengali-Regular', 'bn'],
  ['NotoSansSinhala-Regular', 'si'],
])('%s writes %s, and no longer when its substitutions are taken out', (name, tag) => {
  const bytes = noto(name);
  expect(level(bytes, tag)).toBe('full');
  expect(level(without(bytes, 'GSUB'), tag)).toBe('none');
});

// Tone marks over vowels, letters under letters, conjuncts: without the tables that move them they run into each other.
test.each([
  ['NotoSansThai-Regular', 'Thai', ['GSUB', 'GPOS']],
  ['NotoSerifLao-Regular', 'Laoo', ['GSUB', 'GPOS']],
  ['NotoSerifTibetan-Regular', 'Tibt', ['GSUB']],
  ['NotoSansChakma-Regular', 'Cakm', ['GSUB']],
])('%s sets %s, and no longer without %j', (name, script, tables) => {
  const bytes = noto(name);
  const judged = (font: Uint8Array) => {
    const { broken, writes, scripts: found } = judge(font);
    const letter = scripts().find((s) => s.code === script)!.runs[0]!;
    return [
      broken.some((b) => b.script === script) || !found.some((s) => s.script === script && s.level === 'full'),
      inRuns(writes.runs, letter),
    ];
  };
  expect(judged(bytes)).toEqual([false, true]);
  expect(judged(tables.reduce(without, bytes))).toEqual([true, false]);
});

test('a letter without a character of its own counts when its parts are anchored', () => {
  const bytes = readFont('literata');
  // Literata has no Ẽ-like gaps in Polish; take GPOS away and languages that lean on anchors fall.
  const whole = judge(bytes).languages.filter((l) => l.level === 'full').length;
  const bare = judge(without(bytes, 'GPOS')).languages.filter((l) => l.level === 'full').length;
  expect(bare).toBeLessThan(whole);
  expect(level(without(bytes, 'GPOS'), 'pl')).toBe('full');
});

test('letters that have forms for the ends of a word and none between them do not join', () => {
  const bytes = noto('NotoNaskhArabic-Regular');
  const features = (drop: string): Uint8Array =>
    Uint8Array.from(
      python<number[]>(
        `
import io
from fontTools.ttLib import TTFont
font = TTFont(io.BytesIO(bytes(given)))
for record in font['GSUB'].table.FeatureList.FeatureRecord:
    if record.FeatureTag == '${drop}':
        record.Feature.LookupListIndex = []
out = io.BytesIO(); font.save(out); print(json.dumps(list(out.getvalue())))`,
        [...bytes],
      ),
    );
  const writesBeh = (font: Uint8Array): boolean => inRuns(judge(font).writes.runs, 0x628);
  expect([writesBeh(bytes), writesBeh(features('medi'))]).toEqual([true, false]);
});

test('a tenth is the most that may be missing of a short alphabet', async () => {
  const { sfnt, faceIndex } = faceOf(readFont('notoSans')).sfnt;
  // English has 52 letters, capitals counted.
  const without = async (letters: string) => {
    const kept = [...String.fromCodePoint(...language('en')!.letters)].filter((c) => !letters.includes(c)).map((c) => c.codePointAt(0)!);
    return level((await nodeSubsetter()).subset(sfnt, faceIndex, kept), 'en');
  };
  expect([await without(''), await without('QXZqx'), await without('QXZqxz')]).toEqual(['full', 'near', 'none']);
});

test('nearly means at most six letters and a tenth, each named', () => {
  const found = judge(readFont('gochiHand')).languages;
  expect(found.find((l) => l.tag === 'hu')).toMatchObject({ level: 'near', missing: ['Ő', 'ő', 'Ű', 'ű'] });
  expect(found.find((l) => l.tag === 'pl')).toBeUndefined();
  for (const l of found.filter((x) => x.level === 'near')) expect(l.missing.length).toBeLessThanOrEqual(6);
});

test('what a face needs for a language and the table of its languages are one answer', () => {
  for (const name of ['gochiHand', 'devanagari', 'didot', 'khmer', 'scheherazade'] as const) {
    const face = faceOf(readFont(name));
    const known = new Map(judgeCoverage(face).languages.map((l) => [l.tag, l]));
    for (const { tag } of languages()) {
      const needs = needsFor(face, tag)!;
      const verdict = known.get(tag);
      expect([name, tag, needs.level]).toEqual([name, tag, verdict?.level ?? 'none']);
      expect(needs.letters.slice(0, verdict?.missing.length ?? 0)).toEqual(verdict?.missing ?? []);
      if (verdict?.level === 'full') expect([needs.letters, needs.failure, needs.inBrowsers]).toEqual([[], null, 0]);
    }
  }
  expect(needsFor(faceOf(readFont('gochiHand')), 'no-such')).toBeNull();
  expect(needsFor(faceOf(without(readFont('gochiHand'), 'cmap')), 'en')).toBeNull();
});

test('figures and punctuation never cost a language', () => {
  const found = judge(readFont('gochiHand')).languages.find((l) => l.tag === 'en')!;
  expect(found.level).toBe('full');
  expect(found.missingPunctuation).not.toContain('‑');
  expect(found.missingRare.every((c) => '′″‰†‡'.includes(c))).toBe(true);
});

const MODULES = `${process.cwd()}/node_modules/@expo-google-fonts`;
/** Regular faces of fonts-noto-core, of the packages the project ships, and of a folder named by hand (docs/maintainers.md). */
const faces = [
  ...readdirSync(NOTO)
    .filter((f) => f.endsWith('-Regular.ttf'))
    .map((f) => `${NOTO}/${f}`),
  ...Object.values(FONTS).filter((f) => f.endsWith('.ttf') && !f.startsWith(NOTO)),
  ...readdirSync(MODULES).flatMap((p) =>
    readdirSync(`${MODULES}/${p}`)
      .filter((d) => d === '400Regular')
      .flatMap((d) => readdirSync(`${MODULES}/${p}/${d}`).map((f) => `${MODULES}/${p}/${d}/${f}`))
      .filter((f) => f.endsWith('Regular.ttf')),
  ),
  ...(process.env.MORE_FACES ? readdirSync(process.env.MORE_FACES).map((f) => `${process.env.MORE_FACES}/${f}`) : []),
].filter((f, i, all) => all.indexOf(f) === i);

/** What fontconfig's own orthography of a language misses in a font (Debian's fc-validate). */
function missingForFontconfig(path: string, tag: string): number[] {
  const { stdout } = spawnSync('fc-validate', ['-v', '-l', tag, path], { encoding: 'utf8' });
  return [...stdout.matchAll(/^\s+0x([0-9a-f]+)/gm)].map((m) => parseInt(m[1]!, 16));
}

/**
 * The class a difference with fontconfig falls into, or null when none explains it. Fontconfig's orthographies are lists
 * of its own; ours are CLDR's main exemplars with their capitals.
 */
function explain(path: string, bytes: Uint8Array, tag: string, onlyWe: boolean): string | null {
  const own = language(tag)!;
  const cmap = readCmap(readFontFile(bytes, nodeCodec).fonts[0]!.tables.get('cmap')!, 65535)!;
  const has = (c: number): boolean => glyphOf(cmap, c) !== 0;
  if (!onlyWe) {
    const absent = [...own.letters].filter((c) => !has(c));
    if (absent.length > 0 && absent.every((c) => c === 0x2bb || c === 0x2bc)) return 'modifier apostrophes that CLDR counts as letters';
    if (absent.some((c) => scriptsOf(c) !== own.script && own.script !== 'Latn')) return 'fontconfig has the language in another script';
    if (absent.length > 0) return 'letters that only CLDR counts';
    if (judge(bytes).broken.some((b) => b.script === own.script)) return 'its shaping does not work, which fontconfig does not look at';
    return own.clusters.length > 0 ? 'letters with marks that have no character of their own' : null;
  }
  const absent = missingForFontconfig(path, tag);
  if (absent.length === 0) return null;
  const auxiliary = new Set(auxiliaryLetters(tag));
  if (absent.every((c) => own.letters.includes(c))) return 'decomposition accepted';
  if (absent.filter((c) => !own.letters.includes(c)).every((c) => auxiliary.has(c) || auxiliary.has(lower(c))))
    return 'letters only auxiliary in CLDR';
  if (absent.length > 40) return 'fontconfig has the language in another script';
  return 'letters in neither of the lists of CLDR';
}
const lower = (c: number): number => String.fromCodePoint(c).toLowerCase().codePointAt(0)!;
const scriptsOf = (c: number): string => scripts().find((s) => inRuns(s.runs, c))?.code ?? '';

test('over fonts-noto-core and our own faces, every difference with fontconfig has a documented reason', () => {
  const listed = execFileSync('fc-query', ['--format', '%{file}\t%{lang}\n', ...faces], { encoding: 'utf8', maxBuffer: 1 << 26 })
    .trim()
    .split('\n')
    .map((l) => l.split('\t') as [string, string]);
  const theirs = new Set(listed.flatMap(([, l]) => l.split('|')));
  const common = languages()
    .map((l) => l.tag)
    .filter((tag) => theirs.has(tag));
  expect(common.length).toBeGreaterThan(150);
  const classes = new Map<string, number>();
  const unexplained: string[] = [];
  let agreed = 0;
  for (const [path, list] of listed) {
    const bytes = new Uint8Array(readFileSync(path));
    const full = new Set(
      judge(bytes)
        .languages.filter((l) => l.level === 'full')
        .map((l) => l.tag),
    );
    const fontconfig = new Set(list.split('|'));
    for (const tag of common) {
      if (full.has(tag) === fontconfig.has(tag)) {
        agreed++;
        continue;
      }
      const reason = explain(path, bytes, tag, full.has(tag));
      if (reason) classes.set(reason, (classes.get(reason) ?? 0) + 1);
      else unexplained.push(`${path} ${tag}`);
    }
  }
  if (process.env.MORE_FACES) console.log(listed.length, common.length, agreed, Object.fromEntries(classes));
  expect(unexplained).toEqual([]);
  const differed = [...classes.values()].reduce((a, b) => a + b, 0);
  expect(agreed / (agreed + differed)).toBeGreaterThan(process.env.MORE_FACES ? 0.98 : 0.99);
});

test('marks that only a browser sets right are nearly, in browsers only, and nowhere else', () => {
  // Noto Sans cut down by fontTools to bare Latin letters and three marks, without GPOS: as its designer drew the marks, over the
  // letter before them, and with the marks drawn a letter's width to the right, where no program but a browser's shaper fetches them.
  const made = python<{ near: string; far: string }>(
    `
import base64, io
from fontTools import subset
from fontTools.ttLib import TTFont
def cut(shift):
    font = TTFont(given)
    s = subset.Subsetter(subset.Options(layout_features=['*'], drop_tables=['GPOS'], notdef_outline=True))
    s.populate(unicodes=list(range(0x20, 0x7f)) + [0x131, 0x300, 0x301, 0x303, 0x308, 0xa1, 0xbf])
    s.subset(font)
    cmap = font.getBestCmap()
    for c in (0x301, 0x303, 0x308):
        g = font['glyf'][cmap[c]]
        if g.isComposite():
            for k in g.components: k.x += shift
        else: g.coordinates.translate((shift, 0))
        g.recalcBounds(font['glyf'])
        font['hmtx'][cmap[c]] = (0, g.xMin)
    out = io.BytesIO(); font.save(out)
    return base64.b64encode(out.getvalue()).decode()
print(json.dumps({'near': cut(0), 'far': cut(600)}))`,
    FONTS.notoSans,
  );
  const spanish = (encoded: string) => {
    const { languages: list, writes } = judge(new Uint8Array(Buffer.from(encoded, 'base64')));
    const found = list.find((l) => l.tag === 'es');
    const lacking = (text: string): number => missingFrom(text, writesOf(writes.runs, writes.loose)).length;
    return [found?.level ?? 'none', found?.missing ?? [], found?.browsersOnly ?? [], lacking('señá'), lacking('SEÑÁ')];
  };
  // Drawn for small letters, they strike through capitals, and a browser would raise them; too much is missing outside of one.
  expect(spanish(made.near)).toEqual(['near', [], expect.arrayContaining(['Á', 'Ñ']), 0, 2]);
  expect(spanish(made.far)).toEqual(['near', [], expect.arrayContaining(['Á', 'Ñ']), 2, 2]);
});

test('the complete writing of a language is told from its usual one', () => {
  const complete = (bytes: Uint8Array, tag: string) => judge(bytes).languages.find((l) => l.tag === tag)?.complete ?? null;
  const arabic = noto('NotoNaskhArabic-Regular');
  expect(complete(arabic, 'ar')).toEqual({ what: 'vowel signs', comesOut: true });
  expect(complete(noto('NotoSans-Regular'), 'ru')).toEqual({ what: 'stress marks', comesOut: true });
  // Without anchors the letters stand there and the marks over them do not.
  const bare = without(readFont('didot'), 'GPOS');
  expect([level(bare, 'el'), complete(bare, 'el')]).toEqual(['full', { what: 'breathings and all accents', comesOut: true }]);
  expect(complete(without(noto('NotoSans-Regular'), 'GPOS'), 'ru')).toMatchObject({ what: 'stress marks' });
  expect(complete(noto('NotoSans-Regular'), 'pl')).toBeNull();
  const hebrew = noto('NotoSansHebrew-Regular');
  expect(complete(hebrew, 'he')).toEqual({ what: 'points', comesOut: true });
  expect([level(without(hebrew, 'GPOS'), 'he'), complete(without(hebrew, 'GPOS'), 'he')?.comesOut]).toEqual(['full', false]);
  // A text with stress marks is answered as the language is.
  const { writes } = judge(noto('NotoSans-Regular'));
  expect(missingFrom('за́мок замо́к', writesOf(writes.runs, writes.loose))).toEqual([]);
});

test('a letter without a character of its own counts only where its mark stands at the anchor or reads right by its ink', () => {
  // Noto Sans cut down by fontTools to the bare Greek letters and the acute: with its anchors, with anchors for Latin only,
  // and without any.
  const made = python<{ anchored: string; latin: string; bare: string }>(
    `
import base64, io
from fontTools import subset
from fontTools.ttLib import TTFont
def cut(drop=(), latin=False):
    font = TTFont(given)
    options = subset.Options(layout_features=['*'], drop_tables=list(drop), notdef_outline=True)
    s = subset.Subsetter(options)
    s.populate(unicodes=[c for c in range(0x391, 0x3ca) if c not in (0x3aa, 0x3ab, 0x3ac, 0x3ad, 0x3ae, 0x3af, 0x3b0)] + [0x301, 0x308] + list(range(0x20, 0x7f)))
    s.subset(font)
    if latin:
        gpos = font['GPOS'].table
        marks = {i for i, r in enumerate(gpos.FeatureList.FeatureRecord) if r.FeatureTag in ('mark', 'mkmk')}
        for r in gpos.ScriptList.ScriptRecord:
            if r.ScriptTag == 'latn': continue
            for ls in [r.Script.DefaultLangSys] + [x.LangSys for x in r.Script.LangSysRecord]:
                if ls is None: continue
                ls.FeatureIndex = [i for i in ls.FeatureIndex if i not in marks]; ls.FeatureCount = len(ls.FeatureIndex)
    out = io.BytesIO(); font.save(out)
    return base64.b64encode(out.getvalue()).decode()
print(json.dumps({'anchored': cut(), 'latin': cut(latin=True), 'bare': cut(drop=['GPOS'])}))`,
    FONTS.notoSans,
  );
  const of = (encoded: string) => {
    const { languages: list, writes } = judge(new Uint8Array(Buffer.from(encoded, 'base64')));
    return {
      greek: list.find((l) => l.tag === 'el')?.level ?? 'none',
      missing: missingFrom('Ώ Ή Έ ΐ', writesOf(writes.runs, writes.loose)).map((m) => String.fromCodePoint(m.codePoint)),
    };
  };
  expect(of(made.anchored)).toEqual({ greek: 'full', missing: [] });
  for (const how of ['latin', 'bare'] as const) {
    expect([how, of(made[how]).missing]).toEqual([how, ['Ώ', 'Ή', 'Έ', 'ΐ']]);
    expect([how, of(made[how]).greek]).not.toEqual([how, 'full']);
  }
});

test('languages and checks of a text give one answer', () => {
  for (const name of ['notoSans', 'literata', 'gochiHand', 'didot', 'scheherazade', 'devanagari', 'khmer'] as const) {
    const { languages: list, writes } = judge(readFont(name));
    const full = new Map(list.map((l) => [l.tag, l.level]));
    const own = writesOf(writes.runs, writes.loose);
    for (const l of languages()) {
      const text = [...Array.from(l.letters, (c) => String.fromCodePoint(c)), ...l.clusters].join(' ');
      // A language in full means that its letters are there; the other way round syllables may still fail.
      if (full.get(l.tag) === 'full') expect([name, l.tag, missingFrom(text, own)]).toEqual([name, l.tag, []]);
      else expect([name, l.tag, missingFrom(text, own).length > 0]).toEqual([name, l.tag, true]);
    }
  }
});

test('reach is bounded by territory and never a sum of languages', () => {
  const both = reach(['nl', 'en']);
  expect(both.atLeast).toBeGreaterThanOrEqual(reach(['en']).atLeast);
  // Most people in the Netherlands write both.
  expect(both.atMost).toBeLessThan(reach(['en']).atMost + reach(['nl']).atMost);
  expect(reach(languages().map((l) => l.tag)).atMost).toBeLessThan(8.5e9);
  expect(reach([])).toEqual({ atLeast: 0, atMost: 0, officialIn: 0 });
});

test('a text is checked character by character', () => {
  const has = { has: (c: number): boolean => c >= 0x20 && c < 0x7f, sets: () => false };
  expect(missingFrom('Żółw ż\u00a0\u200bno-break', has)).toEqual([
    { codePoint: 0x17b, count: 1 },
    { codePoint: 0xf3, count: 1 },
    { codePoint: 0x142, count: 1 },
    { codePoint: 0x17c, count: 1 },
  ]);
  // A decomposed text is the same text.
  expect(missingFrom('z\u0307', has)).toEqual([{ codePoint: 0x17c, count: 1 }]);
  expect(
    smallestSet(
      [1, 2, 3, 4],
      [
        { id: 'a', has: (c) => c < 3 },
        { id: 'b', has: (c) => c === 3 },
        { id: 'c', has: (c) => c === 2 || c === 3 },
      ],
    ),
  ).toEqual(['a', 'b']);
});

test('what looks right and is not is pointed out', () => {
  expect(suspicions('Тhе price')[0]).toMatchObject({ kind: 'mixed-scripts', start: 0, end: 3 });
  expect(suspicions('сat')[0]!.suggestion).toBe('cat');
  expect(suspicions("o'r ardd")[0]).toMatchObject({ kind: 'apostrophe', suggestion: '’' });
  expect(suspicions('cafe\u0301')[0]).toMatchObject({ kind: 'decomposed', suggestion: 'café' });
  expect(suspicions('Straβe')[0]).toMatchObject({ kind: 'sharp-s', suggestion: 'Straße' });
  expect(suspicions('GROßE')[0]).toMatchObject({ kind: 'sharp-s', suggestion: 'GROẞE' });
  // Official German spelling, section 25: ß after a long vowel or diphthong; Kuss, Fluss and Masse keep their ss.
  expect(suspicions('Bohnen und Erbsen mit der Strasse, weisse Masse, ein Kuss am Fluss').map((s) => s.suggestion)).toEqual([
    'Straße',
    'weiße',
  ]);
  expect(suspicions('The grass and the pass')).toEqual([]);
  expect(suspicions('a\u200bb')[0]).toMatchObject({ kind: 'invisible', suggestion: '' });
  expect(suspicions('Ffa dringo a phŷs pêr o’r ardd')).toEqual([]);
});
