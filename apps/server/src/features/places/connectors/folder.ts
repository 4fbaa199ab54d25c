import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { access, lstat, mkdir, open, readdir, readFile, realpath, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { MAX_FILE } from '@orderly-glyph/node';
import { PlaceError, type Allowed, type Connector } from './connector.js';
import type { PlaceRow } from '../rows.js';

/** One folder below the operator's: no path, no dots at the start, nothing a file system reads in its own way. */
const NAME = /^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,79}$/u;
const FILE = /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}$/;

/** No font that we put there is larger; whatever is, is somebody else's and is not read. */
const MOST_BYTES = MAX_FILE;

async function folderOf(place: PlaceRow, allowed: Allowed, make = false): Promise<string> {
  if (!NAME.test(place.address) || place.address.endsWith('.'))
    throw new PlaceError('refused', 'A folder has a name of letters, figures, spaces, hyphens and dots, and no path.', 'address');
  // A workspace's folders lie in one of its own, so that nobody names another's.
  const folder = join(allowed.folders, place.workspaceId, place.address);
  try {
    if (make) await mkdir(folder, { recursive: true });
    // Somebody may have put a link there that leads out of the folders of places.
    if ((await realpath(folder)) !== join(await realpath(allowed.folders), place.workspaceId, place.address))
      throw new PlaceError('refused', `${place.name} leads out of the folders that places may lie in.`, 'address');
    return folder;
  } catch (error) {
    if (error instanceof PlaceError) throw error;
    throw unreachable(place, error);
  }
}

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
  async try(place, allowed) {
    const folder = await folderOf(place, allowed, true);
    await access(folder, constants.R_OK | constants.W_OK).catch((error: unknown) => {
      throw unreachable(place, error);
    });
  },
  async list(place, allowed) {
    const folder = await folderOf(place, allowed);
    const names = (await readdir(folder)).filter((name) => FILE.test(name));
    return { files: names.map((name) => ({ name, family: null, style: null, sha256: null })), types: null };
  },
  async put(place, allowed, { name, bytes }) {
    const folder = await folderOf(place, allowed, true);
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
      throw unreachable(place, error);
    }
  },
  async read(place, allowed, name) {
    const file = fileIn(await folderOf(place, allowed), place, name);
    try {
      const about = await lstat(file);
      if (!about.isFile()) throw new PlaceError('refused', `${name} is not a file.`);
      if (about.size > MOST_BYTES)
        throw new PlaceError('refused', `${name} is larger than any file that was put there. Somebody replaced it; look at the folder.`);
      return new Uint8Array(await readFile(file));
    } catch (error) {
      if (isAbsent(error)) return null;
      throw error instanceof PlaceError ? error : unreachable(place, error);
    }
  },
  async remove(place, allowed, name) {
    const file = fileIn(await folderOf(place, allowed), place, name);
    try {
      await rm(file);
      return 'removed';
    } catch (error) {
      if (isAbsent(error)) return 'absent';
      throw unreachable(place, error);
    }
  },
};
