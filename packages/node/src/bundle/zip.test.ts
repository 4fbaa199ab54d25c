import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { ZipFile } from 'yazl';
import { openZip } from './zip.js';

const dir = mkdtempSync(join(tmpdir(), 'zip-'));
afterAll(() => rmSync(dir, { recursive: true }));

const text = Buffer.from('Granted to whoever sets it. '.repeat(400));

async function archive(compress: boolean, change: (bytes: Buffer) => void = () => undefined): Promise<string> {
  const zip = new ZipFile();
  zip.addBuffer(text, 'terms.txt', { compress });
  zip.end();
  const bytes = await buffer(zip.outputStream);
  change(bytes);
  const path = join(dir, `${Math.random()}.zip`);
  writeFileSync(path, bytes);
  return path;
}

/** Where the central directory's header of the only entry begins. Source: APPNOTE.TXT 6.3.10 (PKWARE), 4.3.12. */
const central = (bytes: Buffer): number => bytes.indexOf(Buffer.from([0x50, 0x4b, 1, 2]));

async function takeOut(path: string): Promise<{ bytes: number; sha256: string }> {
  const zip = await openZip(path);
  try {
    return await zip.write(0, join(dir, 'out'));
  } finally {
    zip.close();
  }
}

describe.each([
  ['packed', true],
  ['stored', false],
])('an entry that is %s', (_, compress) => {
  it('comes out as it went in', async () => {
    const out = await takeOut(await archive(compress));
    expect(readFileSync(join(dir, 'out'))).toEqual(text);
    expect(out).toEqual({ bytes: text.length, sha256: createHash('sha256').update(text).digest('hex') });
  });

  it('is damaged where its CRC-32 is another', async () => {
    const path = await archive(compress, (bytes) => bytes.writeUInt32LE(0x12345678, central(bytes) + 16));
    await expect(takeOut(path)).rejects.toThrow('It is damaged inside the archive');
  });

  it('is refused where it is longer than it says', async () => {
    const path = await archive(compress, (bytes) => bytes.writeUInt32LE(text.length - 50, central(bytes) + 24));
    // An entry that is stored must be as long packed as unpacked, which already shows when the archive is listed.
    await expect(takeOut(path)).rejects.toThrow(compress ? 'It is damaged inside the archive' : 'The archive is broken');
  });
});

it('damage in the packed bytes is told', async () => {
  const path = await archive(true, (bytes) => bytes.fill(0xff, 60, 90));
  await expect(takeOut(path)).rejects.toThrow('It is damaged inside the archive');
});
