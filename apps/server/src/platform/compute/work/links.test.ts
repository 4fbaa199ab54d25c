import { fontAddresses, sheetAddresses } from './links.js';

test('style sheets of a page and fonts of a sheet are found as a browser resolves them', () => {
  const page = `<link rel="stylesheet" href="css/a.css"><LINK REL="Alternate StyleSheet" href='/b.css'><link rel=icon href=c.ico><link rel=stylesheet>`;
  expect(sheetAddresses(page, 'https://shop.example/goods/')).toEqual([
    'https://shop.example/goods/css/a.css',
    'https://shop.example/b.css',
  ]);
  const sheet = `/* url(no.woff2) */ @import url("no.css"); body { background: url(no.png) }
    @font-face { font-family: "A"; src: local("A"), url("../fonts/a%20b.woff2") format("woff2"), url(//cdn.example/a.woff); }
    @media print { @FONT-FACE { src: url('data:font/woff2;base64,AA') } } @font-face { src: url(broken`;
  expect(fontAddresses(sheet, 'https://shop.example/css/a.css')).toEqual([
    'https://shop.example/fonts/a%20b.woff2',
    'https://cdn.example/a.woff',
    'data:font/woff2;base64,AA',
    'https://shop.example/css/broken',
  ]);
});

test('a hostile page or sheet is read in time that grows with its length', () => {
  const time = (n: number): number => {
    const at = performance.now();
    sheetAddresses('<link rel=stylesheet href=a>'.repeat(n) + '<'.repeat(n), 'https://a.example/');
    fontAddresses('@font-face{src:url(a)}'.repeat(n) + '{'.repeat(n), 'https://a.example/');
    return performance.now() - at;
  };
  time(2000);
  expect(time(16_000) / Math.max(1, time(2000))).toBeLessThan(40);
});
