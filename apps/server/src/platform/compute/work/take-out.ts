import { createHash } from 'node:crypto';
import { createReadStream, readFileSync, statSync } from 'node:fs';
import { classify, openZip, type OpenZip, type Sorted, type ZipEntry, ZipRefused } from '@orderly-glyph/node';

/** Archives this process has open, the last used at the end: thousands of entries are taken out of one, one by one. */
const open = new Map<string, Promise<OpenZip>>();
const MOST_OPEN = 3;

function archive(path: string): Promise<OpenZip> {
  const known = open.get(path);
  open.delete(path);
  const zip = known ?? openZip(path);
  open.set(path, zip);
  zip.catch(() => open.delete(path));
  for (const [oldest, old] of open) {
    if (open.size <= MOST_OPEN) break;
    open.delete(oldest);
    void old.then((z) => z.close()).catch(() => undefined);
  }
  return zip;
}

/** What was refused, as a sentence; refusals cross to the server as data. */
export type Refusable<T> = { refused: string } | ({ refused: null } & T);

async function refusable<T extends object>(work: () => Promise<T>): Promise<Refusable<T>> {
  try {
    return { refused: null, ...(await work()) };
  } catch (error) {
    if (!(error instanceof ZipRefused)) throw error;
    return { refused: error.message };
  }
}

/** Lists an archive that lies in a file. */
export const listZip = (path: string): Promise<Refusable<{ entries: ZipEntry[] }>> =>
  refusable(async () => ({ entries: (await archive(path)).entries }));

/** A received file, taken out of its archive where it is in one, hashed, and sorted by its content. */
export interface TakenOut {
  /** The file that holds its bytes. */
  path: string;
  bytes: number;
  sha256: string;
  sorted: Sorted;
}

/**
 * @param entry the entry of the archive at `from`; null where `from` is the file itself
 * @param out where an entry is written to
 * @param name what the file is called
 */
export const takeOut = (from: string, entry: number | null, out: string, name: string): Promise<Refusable<TakenOut>> =>
  refusable(async () => {
    const path = entry === null ? from : out;
    const { bytes, sha256 } = entry === null ? await measure(from) : await (await archive(from)).write(entry, out);
    return { path, bytes, sha256, sorted: classify(new Uint8Array(readFileSync(path)), name) };
  });

async function measure(path: string): Promise<{ bytes: number; sha256: string }> {
  const hash = createHash('sha256');
  for await (const part of createReadStream(path)) hash.update(part as Buffer);
  return { bytes: statSync(path).size, sha256: hash.digest('hex') };
}
