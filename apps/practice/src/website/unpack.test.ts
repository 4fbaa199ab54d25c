import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import { Refused } from '../common/refused.js';
import { checkFont } from './unpack.js';

const serif = join(process.cwd(), 'node_modules/source-serif');
const woff2 = readFileSync(join(serif, 'WOFF2/TTF/SourceSerif4-Regular.ttf.woff2'));
const woff = readFileSync(join(serif, 'WOFF/OTF/SourceSerif4-Regular.otf.woff'));
const refusal = (data: Buffer): string => {
  try {
    return checkFont(data);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    return `${error.status} ${error.message}`;
  }
};

test('WOFF2 and WOFF made by others are taken', () => {
  expect(refusal(woff2)).toBe('woff2');
  expect(refusal(woff)).toBe('woff');
});

test('everything else is refused with a status that says why', () => {
  expect(refusal(readFileSync(join(serif, 'OTF/SourceSerif4-Regular.otf')))).toMatch(/^415/);
  expect(refusal(Buffer.alloc(1024 * 1024 + 1))).toMatch(/^413/);
  expect(refusal(woff2.subarray(0, woff2.length - 4))).toMatch(/^422/);
  const damaged = Buffer.from(woff2);
  damaged.fill(0x55, 600, 4000);
  expect(refusal(damaged)).toMatch(/^422/);
  expect(refusal(Buffer.from('wOF2'))).toMatch(/^422/);
});

/** The least WOFF2 that gets as far as its embedding permission. Source: WOFF 2.0, section 4. */
function oneTableWoff2(fsType: number): Buffer {
  const head = Buffer.alloc(54);
  head.writeUInt32BE(0x5f0f3cf5, 12);
  const os2 = Buffer.alloc(78);
  os2.writeUInt16BE(fsType, 8);
  const tables: [number, Buffer][] = [
    [0, Buffer.alloc(4)],
    [1, head],
    [2, Buffer.alloc(36)],
    [3, Buffer.alloc(4)],
    [4, Buffer.alloc(6)],
    [6, os2],
    [13, Buffer.alloc(8)],
  ];
  const directory = Buffer.concat(tables.map(([tag, data]) => Buffer.from([tag, data.length])));
  const body = brotliCompressSync(Buffer.concat(tables.map(([, data]) => data)));
  const file = Buffer.alloc(48);
  file.write('wOF2', 0, 'latin1');
  file.writeUInt32BE(48 + directory.length + body.length, 8);
  file.writeUInt16BE(tables.length, 12);
  file.writeUInt32BE(body.length, 20);
  return Buffer.concat([file, directory, body]);
}

test('the permissions the specification allows to embed are taken', () => {
  for (const fsType of [0, 4, 8]) expect(refusal(oneTableWoff2(fsType))).toBe('woff2');
  expect(refusal(oneTableWoff2(2))).toMatch(/^403 .*forbids embedding/);
});
