import { randomUUID } from 'node:crypto';
import { MAX_FILE } from '@orderly-glyph/node';
import type { PlaceRow } from '../rows.js';
import { PlaceError, type Allowed, type Connector } from './connector.js';
import { askOutside, OutsideError, type OutsideAnswer } from './outside.js';
import { SHEET_NAME } from './sheet.js';
import { asVisitor } from './visitor.js';

const FILE = /^[A-Za-z0-9][A-Za-z0-9._-]{0,140}$/;
const FONT = /\.(ttf|otf|ttc|woff2?)$/i;

/** What a server may answer to anything but being asked for a file. */
const MOST_TALK = 8 * 1024 * 1024;

/** The name at an address's end; empty where it is written wrong. */
function nameAt(href: string): string {
  try {
    return decodeURIComponent(new URL(href).pathname.split('/').pop() ?? '');
  } catch {
    return '';
  }
}

const below = (place: PlaceRow, path: string): URL => new URL(path, `${place.address.replace(/\/+$/, '')}/`);

/** One call, with the answer whatever its status; what never came back is told apart. @throws PlaceError */
async function call(
  place: PlaceRow,
  allowed: Allowed,
  method: string,
  path: string,
  more: { headers?: Record<string, string>; body?: Uint8Array | string; mostBytes?: number } = {},
): Promise<OutsideAnswer> {
  const basic = Buffer.from(`${place.login}:${allowed.secrets.open(place.siteKey)}`).toString('base64');
  try {
    return await askOutside(
      below(place, path),
      { method, headers: { authorization: `Basic ${basic}`, ...more.headers }, body: more.body },
      allowed.hosts,
      {
        // Only a file is as large as a file.
        mostBytes: more.mostBytes ?? MOST_TALK,
        withinMs: 60_000,
      },
    );
  } catch (error) {
    if (!(error instanceof OutsideError)) throw error;
    const reads = method === 'GET' || method === 'PROPFIND' || method === 'OPTIONS';
    const why = {
      private: 'leads into a private network, where this server sends nothing. Whoever runs it can allow that.',
      'too-large': 'answers without an end.',
      moved: 'sends us to another address, which is not followed. Enter the address it has moved to.',
      unreachable: 'does not answer. Nothing was put there; see that it runs and try again.',
      untrusted: 'shows a certificate that does not hold. Nothing was sent; ask whoever runs it.',
      unanswered: 'took the request and did not answer it. Whether it was carried out is found out by looking.',
    }[error.kind];
    throw new PlaceError(
      !reads && (error.kind === 'unanswered' || error.kind === 'too-large') ? 'unknown' : 'unreachable',
      `${place.name} ${why}`,
      'address',
    );
  }
}

/** @throws PlaceError unless the answer is one of these */
function expected(place: PlaceRow, answer: OutsideAnswer, method: string, ...statuses: number[]): OutsideAnswer {
  const { status } = answer;
  if (statuses.includes(status) || (status >= 200 && status < 300)) return answer;
  if (status === 401 || status === 403)
    throw new PlaceError('refused', `${place.name} does not let “${place.login}” do that (HTTP ${status}).`, 'key');
  const kind = status >= 500 && status !== 507 && method !== 'GET' && method !== 'PROPFIND' ? 'unknown' : 'refused';
  const why =
    status === 507
      ? 'it has no room left'
      : status === 423
        ? 'the file is locked there'
        : status === 405
          ? `it does not do ${method}`
          : `HTTP ${status}`;
  throw new PlaceError(kind, `${place.name} refused: ${why}.`, 'address', status === 503 || status === 423);
}

const checked = (place: PlaceRow, name: string): string => {
  if (!FILE.test(name)) throw new PlaceError('refused', `${place.name} takes no file of the name “${name}”.`);
  return name;
};

/** Written beside and moved, so that no visitor gets half a file. Source: RFC 4918, 9.9 (MOVE, Overwrite). */
async function write(place: PlaceRow, allowed: Allowed, path: string, type: string, body: Uint8Array | string): Promise<void> {
  const part = `${path}.${randomUUID().slice(0, 8)}.part`;
  expected(place, await call(place, allowed, 'PUT', part, { headers: { 'content-type': type }, body }), 'PUT');
  const headers = { destination: below(place, path).href, overwrite: 'T' };
  const moved = await call(place, allowed, 'MOVE', part, { headers });
  if (moved.status < 300) return;
  await call(place, allowed, 'DELETE', part).catch(() => undefined);
  expected(place, moved, 'MOVE');
}

/** A folder of a website, reached by WebDAV. Source: RFC 4918. */
export const WEBDAV: Connector = {
  id: 'webdav',
  where: ({ address }, name) => `${address.replace(/\/+$/, '')}/fonts/${encodeURIComponent(name)}`,
  async try(place, allowed) {
    // 405: the folder is there already (RFC 4918, 9.3.1); 409: there is nothing above it.
    const made = await call(place, allowed, 'MKCOL', 'fonts/');
    if (made.status === 409 || made.status === 404) throw new PlaceError('refused', `There is no folder at ${place.address}.`, 'address');
    expected(place, made, 'MKCOL', 405, 301);
  },
  async list(place, allowed) {
    const answer = await call(place, allowed, 'PROPFIND', 'fonts/', {
      headers: { depth: '1', 'content-type': 'application/xml' },
      body: '<?xml version="1.0"?><propfind xmlns="DAV:"><prop><resourcetype/></prop></propfind>',
    });
    if (answer.status === 404) return { files: [], types: null };
    expected(place, answer, 'PROPFIND');
    const hrefs = await allowed.addresses('dav', answer.body.toString('utf8'), below(place, 'fonts/').href).catch((error: unknown) => {
      console.error(`${place.address}: ${(error as Error).message}`);
      throw new PlaceError('refused', `${place.name} answers with a list that cannot be read.`);
    });
    const names = hrefs.map(nameAt);
    return {
      files: names.filter((n) => FILE.test(n) && FONT.test(n)).map((name) => ({ name, family: null, style: null, sha256: null })),
      types: null,
    };
  },
  async put(place, allowed, { name, mediaType, bytes }) {
    await write(place, allowed, `fonts/${checked(place, name)}`, mediaType, bytes);
  },
  async read(place, allowed, name) {
    const answer = await call(place, allowed, 'GET', `fonts/${checked(place, name)}`, { mostBytes: MAX_FILE });
    return answer.status === 404 ? null : expected(place, answer, 'GET').body;
  },
  async remove(place, allowed, name) {
    const answer = await call(place, allowed, 'DELETE', `fonts/${checked(place, name)}`);
    return expected(place, answer, 'DELETE', 404).status === 404 ? 'absent' : 'removed';
  },
  sheet: (place, allowed, text) => write(place, allowed, SHEET_NAME, 'text/css', text),
  asVisitor,
};
