import { fileBase, fontFaceRule, kitTexts, type KitFace } from './index.js';

const face: KitFace = {
  family: 'Hollin “Bank” \\ "Serif"',
  style: 'Bold Italic',
  weightClass: 700,
  weightRange: null,
  italic: true,
  fileBase: 'Hollin-Bold-Italic',
  sizes: { woff2: 40_000, woff: 52_000 },
  licenseName: null,
};

test('the rule names the face safely, WOFF2 first', () => {
  const rule = fontFaceRule(face, '../fonts/');
  // CSS Syntax Level 3: backslash and quote are escaped in a string.
  expect(rule).toContain('font-family: "Hollin “Bank” \\\\ \\"Serif\\"";');
  expect(rule).toContain('font-style: italic;');
  expect(rule).toContain('font-weight: 700;');
  expect(rule.indexOf('format("woff2")')).toBeLessThan(rule.indexOf('format("woff")'));
  expect(fontFaceRule({ ...face, weightRange: [200, 900] }, '').includes('font-weight: 200 900;')).toBe(true);
});

test('the path from the style sheet to the fonts goes up and down again (common practice)', () => {
  const texts = Object.fromEntries(kitTexts([face], 'Beans & peas <3').map((t) => [t.path, t.content]));
  expect(texts['css/fonts.css']).toContain('url("../fonts/Hollin-Bold-Italic.woff2")');
  expect(texts['example.html']).toContain('href="css/fonts.css"');
  expect(texts['example.html']).toContain('Beans &#38; peas &#60;3');
  expect(texts['HOW-TO.txt']).toContain('../fonts/');
  expect(texts['HOW-TO.txt']).toContain('no license on record');
});

test('file names are plain in every script', () => {
  expect(fileBase('Łódź & Söhne', 'Halbfett')).toBe('Lodz-Sohne-Halbfett');
  expect(fileBase('ひらがな', '')).toBe('font-Regular');
});
