import { parse } from 'content-disposition';
import type { Response } from 'express';
import { attachment } from './attach.js';

const headerOf = (name: string): string => {
  const headers = new Map<string, string>();
  attachment({ setHeader: (key: string, value: string) => headers.set(key, value) } as unknown as Response, name, 'font/ttf');
  expect(headers.get('Cache-Control')).toBe('private, no-store');
  return headers.get('Content-Disposition')!;
};

test('a name reaches whoever saves it whole, and leads to no folder', () => {
  // RFC 6266, section 4.3: names in other letters through filename*; receivers must not take paths.
  for (const [name, saved] of [
    ['Spring/Summer.pdf', 'Spring_Summer.pdf'],
    ['..\\up.ttf', '.._up.ttf'],
    ['Żółć "8".otf', 'Żółć "8".otf'],
    ['漢字.woff2', '漢字.woff2'],
  ])
    expect(parse(headerOf(name!)).parameters.filename).toBe(saved);
});

test('a name cannot end the header', () => {
  expect(headerOf('a\r\nSet-Cookie: b=c')).not.toMatch(/[\r\n]/);
});
