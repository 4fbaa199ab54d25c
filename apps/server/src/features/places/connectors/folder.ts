import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { access, mkdir, open, readdir, realpath, rename, rm, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { MAX_FILE } from '@orderly-glyph/node';
import { PlaceError, type Allowed, type Connector } from './connector.js';
import type { PlaceRow } from '../rows.js';

/** One folder below the operator's: no path, no dots at the start, nothing a file system reads in its own way. */
const NAME = /^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,79}$/u;
const FILE = /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}$/;

/** No font that we put there is larger; whatever is, is somebody else's and is not read. */
const MOST_BYTES = MAX_FILE;

/**
 * A place's folder as an open directory: paths below `/proc/self/fd` lead into that very directory, whatever is put under its
 * name meanwhile. Source: proc(5), /proc/pid/fd. Where the system has none, the name is used.
 */
async function withFolder<T>(place: PlaceRow, allowed: Allowed, make: boolean, work: (folder: string) => Promise<T>): Promise<T> {
  if (!NAME.test(place.address) || place.address.endsWith('.'))
    throw new PlaceError('refused', 'A folder has a name of letters, figures, spaces, hyphens and dots, and no path.', 'address');
  // A workspace's folders lie in one of its own, so that nobody names another's.
  const folder = join(allowed.folders, place.workspaceId, place.address);
  let handle: FileHandle | null = null;
  try {
    if (make) await mkdir(folder, { recursive: true });
    handle = await open(folder, constants.O_RDONLY | constants.O_DIRECTORY | constants.O_NOFOLLOW);
    const held = `/proc/self/fd/${handle.fd}`;
    const where = await realpath(held).catch(() => null);
    // Somebody may have put a link there that leads out of the folders of places.
    if ((where ?? (await realpath(folder))) !== join(await realpath(allowed.folders), place.workspaceId, place.address))
      throw leadsOut(place);
    return await work(where === null ? folder : held);
  } catch (error) {
    if (error instanceof PlaceError) throw error;
    if (['ELOOP', 'ENOTDIR'].includes((error as NodeJS.ErrnoException).code ?? '')) throw leadsOut(place);
    throw unreachable(place, error);
  } finally {
    await handle?.close();
  }
}

const leadsOut = (place: PlaceRow): PlaceError =>
  new PlaceError('refused', `${place.name} leads out of the folders that places may lie in.`, 'address');

const unreachable = (place: PlaceRow, error: unknown): PlaceError =>
  new PlaceError(
    'unreachable',
    `${place.name} cannot be opened (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}). Nothing was changed there; ask whoever runs the server.`,
    'address',
  );

const isAbsent = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ENOENT';

function fileIn(folder: string, place: PlaceRow, name: string): string {
  if (!FILE.test(name)) throw new PlaceError('refused', `${place.name} takes no file of the name “${name}”.`);
  return join(folder, name);
}

/** A folder of the server's own disk, below the one its operator set aside. */
export const FOLDER: Connector = {
  id: 'folder',
  where: ({ address }, name) => `${address}/${name}`,
  try: (place, allowed) => withFolder(place, allowed, true, (folder) => access(folder, constants.R_OK | constants.W_OK)),
  list: (place, allowed) =>
    withFolder(place, allowed, false, async (folder) => ({
      files: (await readdir(folder)).filter((name) => FILE.test(name)).map((name) => ({ name, family: null, style: null, sha256: null })),
      types: null,
    })),
  put: (place, allowed, { name, bytes }) =>
    withFolder(place, allowed, true, async (folder) => {
      const target = fileIn(folder, place, name);
      // Programs that read the folder must never see half a font.
      const partial = join(folder, `.${randomUUID()}.part`);
      try {
        const file = await open(partial, 'wx');
        try {
          await file.writeFile(bytes);
          await file.sync();
        } finally {
          await file.close();
        }
        await rename(partial, target);
      } catch (error) {
        await rm(partial, { force: true });
        throw error;
      }
    }),
  read: (place, allowed, name) =>
    withFolder(place, allowed, false, async (folder) => {
      let file: FileHandle;
      try {
        // Neither followed if it is a link, nor waited for if it is a pipe; what is opened is what is judged and read.
        file = await open(fileIn(folder, place, name), constants.O_RDONLY | constants.O_NOFOLLOW | constants.O_NONBLOCK);
      } catch (error) {
        if (isAbsent(error)) return null;
        if ((error as NodeJS.ErrnoException).code === 'ELOOP') throw new PlaceError('refused', `${name} is not a file.`);
        throw error;
      }
      try {
        const about = await file.stat();
        if (!about.isFile()) throw new PlaceError('refused', `${name} is not a file.`);
        if (about.size > MOST_BYTES)
          throw new PlaceError('refused', `${name} is larger than any file that was put there. Somebody replaced it; look at the folder.`);
        // One byte more than it had shows whether somebody makes it longer just now.
        const bytes = new Uint8Array(about.size + 1);
        let at = 0;
        for (;;) {
          const { bytesRead } = await file.read(bytes, at, bytes.length - at, at);
          at += bytesRead;
          if (bytesRead === 0 || at === bytes.length) break;
        }
        if (at > about.size) throw new PlaceError('unreachable', `${name} is being written just now. Look again in a moment.`);
        return bytes.slice(0, at);
      } finally {
        await file.close();
      }
    }),
  remove: (place, allowed, name) =>
    withFolder(place, allowed, false, async (folder) => {
      try {
        await rm(fileIn(folder, place, name));
        return 'removed';
      } catch (error) {
        if (isAbsent(error)) return 'absent';
        throw error;
      }
    }),
};
