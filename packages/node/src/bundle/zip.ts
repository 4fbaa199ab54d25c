import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { crc32, inflateRawSync } from 'node:zlib';
import yauzl from 'yauzl';
import { MAX_BUNDLE, MAX_FILE } from './limits.js';

export const MAX_ENTRIES = 5000;
/** Real fonts and texts deflate to a tenth at most; a thousandfold is an attack. */
const MAX_RATIO = 300;

export class ZipRefused extends Error {}

export interface ZipEntry {
  index: number;
  path: string;
  bytes: number;
  /** Why this entry cannot be taken out, or null. */
  refusal: string | null;
}

export interface OpenZip {
  entries: ZipEntry[];
  /** @throws ZipRefused when the entry is damaged. */
  write(index: number, out: string): Promise<{ bytes: number; sha256: string }>;
  close(): void;
}

function openFile(path: string): Promise<yauzl.ZipFile> {
  const options = { lazyEntries: true, autoClose: false, strictFileNames: false, validateEntrySizes: true, decodeStrings: false };
  return new Promise((resolve, reject) => {
    yauzl.open(path, options, (error, zip) => (error || !zip ? reject(broken()) : resolve(zip)));
  });
}

/**
 * The name of an entry. Archives made on macOS hold UTF-8 without saying so; bytes that are well-formed UTF-8 are
 * taken as that, whatever the flag says. Unsafe paths are judged one by one, so that one does not spoil the archive.
 */
function nameOf(entry: yauzl.Entry): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(entry.fileNameRaw);
  } catch {
    return yauzl.getFileNameLowLevel(entry.generalPurposeBitFlag, entry.fileNameRaw, entry.extraFields, false);
  }
}

const broken = (): ZipRefused => new ZipRefused('The archive is broken or was cut short, so it cannot be opened. Download it again.');

/** Path tricks: leaving the archive's folder, absolute paths, drives. */
function pathRefusal(path: string): string | null {
  if (/^([A-Za-z]:|\/|\\)/.test(path) || path.split(/[\\/]/).includes('..'))
    return 'Its path points outside the archive, as harmful archives do. It was not taken out.';
  return null;
}

function entryRefusal(entry: yauzl.Entry): string | null {
  if ((entry.generalPurposeBitFlag & 1) !== 0) return 'It is locked with a password. Unlock the archive and bring in the files.';
  if (entry.compressionMethod !== 0 && entry.compressionMethod !== 8)
    return 'It is packed in a way we do not open. Unpack the archive and bring in the files.';
  if (entry.uncompressedSize > MAX_FILE) return 'It is larger than 100 MiB, which is the most one file may be.';
  if (entry.uncompressedSize > 1024 * 1024 && entry.uncompressedSize > MAX_RATIO * Math.max(1, entry.compressedSize))
    return 'It would grow more than 300-fold when unpacked, as harmful archives do. It was not taken out.';
  return null;
}

/** Lists an archive. @throws ZipRefused with the sentence to show when it cannot be opened or is over a limit. */
export async function openZip(path: string): Promise<OpenZip> {
  const zip = await openFile(path);
  if (zip.entryCount > MAX_ENTRIES) {
    zip.close();
    throw new ZipRefused(
      `The archive holds ${zip.entryCount.toLocaleString('en-US')} files; 5,000 is the most one bundle may hold. Bring it in in parts.`,
    );
  }
  const raw: yauzl.Entry[] = [];
  try {
    await new Promise<void>((resolve, reject) => {
      zip.on('entry', (entry: yauzl.Entry) => {
        raw.push(entry);
        zip.readEntry();
      });
      zip.on('end', () => resolve());
      zip.on('error', () => reject(broken()));
      zip.readEntry();
    });
    let total = 0;
    for (const entry of raw) total += entry.uncompressedSize;
    if (total > MAX_BUNDLE)
      throw new ZipRefused(
        'Unpacked, the archive would be larger than 500 MiB, which is the most one bundle may be. Bring it in in parts.',
      );
  } catch (error) {
    zip.close();
    throw error;
  }
  const entries = raw
    .map((entry, index) => ({ entry, index, name: nameOf(entry) }))
    .filter(({ name }) => !/[\\/]$/.test(name))
    .map(({ entry, index, name }) => ({
      index,
      path: name
        .replace(/\\/g, '/')
        .replace(/[\p{Cc}]/gu, '')
        .slice(0, 900),
      bytes: entry.uncompressedSize,
      refusal: pathRefusal(name) ?? entryRefusal(entry),
    }));
  if (entries.length > 0 && entries.every((e) => e.refusal?.includes('password'))) {
    zip.close();
    throw new ZipRefused('The archive is locked with a password. Unlock it and bring in the files, or ask the seller for one without.');
  }
  return {
    entries,
    write: (index, out) => writeEntry(zip, raw[index]!, out),
    close: () => zip.close(),
  };
}

const damaged = (): ZipRefused => new ZipRefused('It is damaged inside the archive and cannot be taken out. Download the archive again.');

/** An entry up to this size is unpacked in one go: in pieces, most of the time goes into handing them round. */
const IN_ONE_GO = 16 * 1024 * 1024;

/** Writes an entry to a file. @throws ZipRefused when it is damaged */
function writeEntry(zip: yauzl.ZipFile, entry: yauzl.Entry, out: string): Promise<{ bytes: number; sha256: string }> {
  const small = Math.max(entry.uncompressedSize, entry.compressedSize) <= IN_ONE_GO;
  return small ? writeAtOnce(zip, entry, out) : writeInPieces(zip, entry, out);
}

async function writeAtOnce(zip: yauzl.ZipFile, entry: yauzl.Entry, out: string): Promise<{ bytes: number; sha256: string }> {
  let data: Buffer;
  try {
    const packed = await buffer(await openPacked(zip, entry));
    // One byte beyond what was promised shows that the promise was broken, without unpacking any further.
    data = entry.compressionMethod === 0 ? packed : inflateRawSync(packed, { maxOutputLength: entry.uncompressedSize + 1 });
  } catch {
    throw damaged();
  }
  // CRC-32 (ISO 3309), which yauzl leaves to its caller.
  if (data.length !== entry.uncompressedSize || crc32(data) !== entry.crc32) throw damaged();
  await writeFile(out, data);
  return { bytes: data.length, sha256: createHash('sha256').update(data).digest('hex') };
}

function openPacked(zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Readable> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, { decodeFileData: false } as never, (error, stream) => (stream ? resolve(stream) : reject(error!))),
  );
}

/** As it unpacks, a piece at a time. */
function writeInPieces(zip: yauzl.ZipFile, entry: yauzl.Entry, out: string): Promise<{ bytes: number; sha256: string }> {
  return new Promise((resolve, reject) => {
    zip.openReadStream(entry, (error, stream) => {
      if (error || !stream) return reject(damaged());
      let sum = 0;
      let bytes = 0;
      const hash = createHash('sha256');
      stream.on('data', (part: Buffer) => {
        sum = crc32(part, sum);
        bytes += part.length;
        hash.update(part);
      });
      pipeline(stream, createWriteStream(out)).then(
        () => (sum === entry.crc32 ? resolve({ bytes, sha256: hash.digest('hex') }) : reject(damaged())),
        (problem: NodeJS.ErrnoException) => reject(problem.code === 'ENOSPC' ? problem : damaged()),
      );
    });
  });
}
