import { fileBase, siteKitTexts, stackOf, type Layout, type SiteFile } from './index.js';

const face: SiteFile = {
  family: 'Hollin “Bank” \\ "Serif"',
  style: 'Bold Italic',
  weightClass: 700,
  weightRange: null,
  italic: true,
  fileBase: 'Hollin-Bold-Italic.0a1b2c3d',
  bytes: 40_000,
  sourceBytes: 90_000,
  sha384: 'abc',
  runs: [0x20, 0x7e],
  unicodeRange: null,
  fallback: { local: 'Times New Roman Bold', sizeAdjust: 1.0412, ascentOverride: 0.9, descentOverride: 0.25, lineGapOverride: 0 },
  generic: 'serif',
  licenseName: null,
};
const kit = (layout: Layout, changes: Partial<SiteFile> = {}): Record<string, string> =>
  Object.fromEntries(
    siteKitTexts({ name: 'Hollin web', layout, files: [{ ...face, ...changes }], sample: 'Beans & peas <3' }, () => 'hash').map((t) => [
      t.path,
      t.content,
    ]),
  );

test('the rules name the face and its stand-in safely', () => {
  const sheet = kit('siblings')['css/fonts.css']!;
  // CSS Syntax Level 3: backslash and quote are escaped in a string.
  expect(sheet).toContain('font-family: "Hollin “Bank” \\\\ \\"Serif\\"";');
  expect(sheet).toContain('font-style: italic;');
  expect(sheet).toContain('font-weight: 700;');
  expect(sheet).toMatch(
    /src: local\("Times New Roman Bold"\);\s+size-adjust: 104.12%;\s+ascent-override: 90%;\s+descent-override: 25%;\s+line-gap-override: 0%;/,
  );
  expect(kit('flat', { weightRange: [200, 900] })['fonts.css']).toContain('font-weight: 200 900;');
  expect(kit('flat', { unicodeRange: 'U+0020-007E' })['fonts.css']).toContain('unicode-range: U+0020-007E;');
  expect(stackOf([{ ...face, fallback: null, generic: 'monospace' }], face.family)).toMatch(/", monospace$/);
});

test.each<[Layout, string, string]>([
  ['flat', 'fonts.css', 'url("Hollin'],
  ['siblings', 'css/fonts.css', 'url("../fonts/Hollin'],
  ['nested', 'css/fonts.css', 'url("fonts/Hollin'],
])('laid out %s, the way from the style sheet to the fonts is right (common practice)', (layout, sheet, way) => {
  const texts = kit(layout);
  expect(texts[sheet]).toContain(way);
  expect(texts['test.html']).toContain(`href="${sheet}"`);
  expect(texts['test.html']).toContain('Beans &#38; peas &#60;3');
  expect(texts['HOW-TO.txt']).toContain('no license on record');
  expect(texts['HOW-TO.txt']).toContain('Hollin-Bold-Italic.0a1b2c3d.woff2');
  expect(texts['sizes.csv']).toContain('Hollin-Bold-Italic.0a1b2c3d.woff2,40000,90000,95');
});

test('families whose names come to the same token are told apart', () => {
  const files = ['Łąka', 'Laka!', 'laka'].map((family) => ({ ...face, family }));
  const sheet = siteKitTexts({ name: 'x', layout: 'flat', files, sample: '' }, () => '').find((t) => t.path === 'fonts.css')!.content;
  expect(new Set([...sheet.matchAll(/(--font-[a-z0-9-]+):/g)].map((m) => m[1])).size).toBe(3);
});

test('file names are plain in every script', () => {
  expect(fileBase('Łódź & Söhne', 'Halbfett')).toBe('Lodz-Sohne-Halbfett');
  expect(fileBase('ひらがな', '')).toBe('font-Regular');
});
