import yauzl from 'yauzl';
import yazl from 'yazl';

/** A ZIP in memory. */
export async function zip(entries: readonly (readonly [string, Uint8Array | string])[]): Promise<Buffer> {
  const file = new yazl.ZipFile();
  for (const [path, data] of entries) file.addBuffer(Buffer.from(data as Uint8Array), path);
  file.end();
  const parts: Buffer[] = [];
  for await (const part of file.outputStream as AsyncIterable<Buffer>) parts.push(part);
  return Buffer.concat(parts);
}

/** Renames an entry in place to one of the same length, which lets a test make paths no writer would. */
export function rename(data: Buffer, from: string, to: string): Buffer {
  if (from.length !== to.length) throw new Error('Both names must be of one length.');
  return Buffer.from(data.toString('latin1').replaceAll(from, to), 'latin1');
}

/** Takes a ZIP apart with the library's reader. */
export const unzip = (data: Buffer): Promise<Map<string, Buffer>> =>
  new Promise((resolve, reject) => {
    const out = new Map<string, Buffer>();
    yauzl.fromBuffer(data, { lazyEntries: true }, (error, file) => {
      if (error || !file) return reject(error ?? new Error('no ZIP'));
      file.on('entry', (entry: yauzl.Entry) => {
        file.openReadStream(entry, (_e, stream) => {
          const parts: Buffer[] = [];
          stream!.on('data', (p: Buffer) => parts.push(p));
          stream!.on('end', () => {
            out.set(entry.fileName, Buffer.concat(parts));
            file.readEntry();
          });
        });
      });
      file.on('end', () => resolve(out));
      file.readEntry();
    });
  });
