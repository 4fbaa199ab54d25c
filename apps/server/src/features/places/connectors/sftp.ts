import { createHash } from 'node:crypto';
import type { Socket } from 'node:net';
import { MAX_FILE } from '@orderly-glyph/node';
import Sftp from 'ssh2-sftp-client';
import type { PlaceRow } from '../rows.js';
import { PlaceError, type Allowed, type Connector } from './connector.js';
import { connectOutside, OutsideError } from './outside.js';
import { SHEET_NAME } from './sheet.js';
import { asVisitor } from './visitor.js';

const FILE = /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}$/;
const FONT = /\.(ttf|otf|ttc|woff2?)$/i;
const WITHIN_MS = 20_000;
/** All of one errand; a test makes it shorter. */
const ALL_MS = Number(process.env.SFTP_ERRAND_MS ?? 120_000);
/** No font that we put there is larger; whatever is, is somebody else's and is not read. */
const MOST_BYTES = MAX_FILE;
/** What a server may send in answer to anything but a file: a folder of some ten thousand names. */
const MOST_TALK = 16 * 1024 * 1024;

interface Target {
  host: string;
  port: number;
  folder: string;
}

/** An address as people write it: sftp://host:port/folder, or host/folder. @throws PlaceError */
export function targetOf(place: Pick<PlaceRow, 'address' | 'name'>): Target {
  const text = /^sftp:\/\//i.test(place.address) ? place.address : `sftp://${place.address}`;
  const url = URL.canParse(text) ? new URL(text) : null;
  if (!url || url.hostname === '' || url.username !== '' || url.password !== '')
    throw new PlaceError('refused', 'An address looks like sftp://host/folder/of/the/site; the account has a field of its own.', 'address');
  const folder = decodeURIComponent(url.pathname).replace(/\/+$/, '') || '/';
  return { host: url.hostname.replace(/^\[|\]$/g, ''), port: Number(url.port || 22), folder };
}

/** A host key as OpenSSH shows it: SHA256:..., base64 without padding. */
export const fingerprint = (key: Buffer): string => `SHA256:${createHash('sha256').update(key).digest('base64').replace(/=+$/, '')}`;

/** Works with a connection that is closed again, whatever happens. @throws PlaceError */
async function connected<T>(
  place: PlaceRow,
  allowed: Allowed,
  writes: boolean,
  work: (sftp: Sftp, fonts: string, folder: string) => Promise<T>,
  { mostBytes = MOST_TALK, allMs = ALL_MS } = {},
): Promise<T> {
  const { host, port, folder } = targetOf(place);
  const secret = allowed.secrets.open(place.siteKey);
  if (secret === '') throw new PlaceError('refused', `The key of ${place.name} cannot be read any more. Enter it again.`, 'key');
  let shown = '';
  let begun = false;
  const sftp = new Sftp();
  // What it says between answers is told by the calls themselves.
  for (const event of ['error', 'end', 'close'] as const) sftp.on(event, () => undefined);
  // Nothing a server does or leaves undone holds this up longer, or fills the memory: the connection itself is ended.
  let sock: Socket | null = null;
  let over = (_: Error): void => undefined;
  const stopped = new Promise<never>((_, reject) => (over = reject));
  stopped.catch(() => undefined);
  const stop = (why: string): void => {
    over(new Error(why));
    sock?.destroy();
  };
  const late = setTimeout(() => stop('it took too long'), allMs);
  const watch = setInterval(() => {
    if ((sock?.bytesRead ?? 0) > mostBytes) stop('it sends more than was asked for');
  }, 100);
  const within = <R>(step: Promise<R>): Promise<R> => Promise.race([step, stopped]);
  try {
    sock = await within(connectOutside(host, port, allowed.hosts, WITHIN_MS));
    await within(
      sftp.connect({
        sock,
        username: place.login,
        readyTimeout: WITHIN_MS,
        ...(secret.includes('PRIVATE KEY') ? { privateKey: secret } : { password: secret }),
        hostVerifier: (key: Buffer) => {
          shown = fingerprint(key);
          return shown === place.hostKey.trim();
        },
      }),
    );
    begun = true;
    return await within(work(sftp, `${folder === '/' ? '' : folder}/fonts`, folder));
  } catch (error) {
    if (error instanceof PlaceError) throw error;
    if (error instanceof OutsideError)
      throw new PlaceError(
        'unreachable',
        error.kind === 'private'
          ? `${place.name} leads into a private network, where this server sends nothing. Whoever runs it can allow that.`
          : `${place.name}, ${host}, does not answer. Nothing was put there; see that it runs and try again.`,
        'address',
      );
    if (shown !== '' && shown !== place.hostKey.trim())
      throw new PlaceError(
        'refused',
        place.hostKey.trim() === ''
          ? `${place.name} shows the host key ${shown}. Compare it with what whoever runs the server says, and enter it here; nothing was sent.`
          : `${place.name} shows another host key than before: ${shown}. Somebody may stand between; ask whoever runs the server. Nothing was sent.`,
        'hostKey',
      );
    // What it says is somebody else's words.
    const said = (error as Error).message.replace(/[\p{Cc}\p{Cf}]+/gu, ' ').slice(0, 200);
    if (/authentication/i.test(said))
      throw new PlaceError('refused', `${place.name} does not let “${place.login}” in with this key.`, 'key');
    throw new PlaceError(
      begun && writes ? 'unknown' : 'unreachable',
      `${place.name} did not finish what was asked (${said}).`,
      begun ? null : 'address',
    );
  } finally {
    clearTimeout(late);
    clearInterval(watch);
    await Promise.race([sftp.end().catch(() => undefined), new Promise((r) => setTimeout(r, 500))]);
    sock?.destroy();
  }
}

const checked = (place: PlaceRow, name: string): string => {
  if (!FILE.test(name)) throw new PlaceError('refused', `${place.name} takes no file of the name “${name}”.`);
  return name;
};

/** Written beside and renamed, so that no visitor gets half a file. */
async function write(sftp: Sftp, path: string, bytes: Uint8Array): Promise<void> {
  const part = `${path}.part`;
  await sftp.put(Buffer.from(bytes), part);
  try {
    await sftp.posixRename(part, path);
  } catch {
    // Servers without OpenSSH's extension do not rename over a file.
    await sftp.delete(path, true);
    await sftp.rename(part, path);
  }
}

/** A folder of a website, reached by SFTP. Sources: RFC 4251 to 4254 (SSH), draft-ietf-secsh-filexfer-02 (SFTP 3). */
export const SFTP: Connector = {
  id: 'sftp',
  where: ({ address }, name) => `${address.replace(/\/+$/, '')}/fonts/${encodeURIComponent(name)}`,
  async try(place, allowed) {
    await connected(place, allowed, false, async (sftp, fonts, folder) => {
      if ((await sftp.exists(folder)) !== 'd') throw new PlaceError('refused', `There is no folder ${folder} at ${place.name}.`, 'address');
      await sftp.mkdir(fonts, true);
    });
  },
  list: (place, allowed) =>
    connected(place, allowed, false, async (sftp, fonts) => ({
      files: (await sftp.exists(fonts))
        ? (await sftp.list(fonts))
            .filter((f) => f.type === '-' && FILE.test(f.name) && FONT.test(f.name))
            .map((f) => ({ name: f.name, family: null, style: null, sha256: null }))
        : [],
      types: null,
    })),
  put: (place, allowed, { name, bytes }) =>
    connected(place, allowed, true, async (sftp, fonts) => {
      await sftp.mkdir(fonts, true);
      await write(sftp, `${fonts}/${checked(place, name)}`, bytes);
    }),
  read: (place, allowed, name) =>
    connected(
      place,
      allowed,
      false,
      async (sftp, fonts) => {
        const path = `${fonts}/${checked(place, name)}`;
        if ((await sftp.exists(path)) !== '-') return null;
        if ((await sftp.stat(path)).size > MOST_BYTES)
          throw new PlaceError('refused', `${name} is larger than any file that was put there. Somebody replaced it; look at the folder.`);
        return new Uint8Array((await sftp.get(path)) as Buffer);
      },
      { mostBytes: MOST_BYTES + MOST_TALK },
    ),
  remove: (place, allowed, name) =>
    connected(place, allowed, true, async (sftp, fonts) => {
      const path = `${fonts}/${checked(place, name)}`;
      if (!(await sftp.exists(path))) return 'absent';
      await sftp.delete(path);
      return 'removed';
    }),
  sheet: (place, allowed, text) =>
    connected(place, allowed, true, (sftp, _fonts, folder) =>
      write(sftp, `${folder === '/' ? '' : folder}/${SHEET_NAME}`, Buffer.from(text)),
    ),
  asVisitor,
};
