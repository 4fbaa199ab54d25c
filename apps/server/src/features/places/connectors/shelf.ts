import { MAX_FILE } from '@orderly-glyph/node';
import { z } from 'zod';
import type { PlaceRow } from '../rows.js';
import { asVisitor } from './visitor.js';
import { PlaceError, type Allowed, type Connector, type There, type ThereFile } from './connector.js';
import { askOutside, OutsideError, type OutsideAnswer } from './outside.js';

const WHY: Readonly<Record<OutsideError['kind'], string>> = {
  private: 'leads into a private network, where this server sends nothing. Whoever runs it can allow that.',
  'too-large': 'answers without an end. Nothing of it was taken as true; ask whoever runs the site.',
  moved: 'sends us to another address, which is not followed. Enter the address it has moved to.',
  unreachable: 'does not answer. Nothing was put there; see that it runs and try again.',
  untrusted:
    'shows a certificate that does not hold: it ran out, is for another name, or nobody vouches for it. Nothing was sent; ask whoever runs it.',
  unanswered: 'took the request and did not answer it. Whether it was carried out is found out by looking.',
};

/** What a place says, as one line of plain text: it is somebody else's words and never ours. */
function quoted(body: Buffer): string {
  try {
    const { reason } = JSON.parse(body.toString('utf8')) as { reason?: unknown };
    if (typeof reason !== 'string') return '';
    const plain = reason
      .slice(0, 2000)
      .replace(/[\p{Cc}\p{Cf}\u2028\u2029]+/gu, ' ')
      .replace(/[“”"]/g, '’')
      .replace(/ {2,}/g, ' ')
      .trim();
    return plain === '' ? '' : ` It says: “${plain.slice(0, 400)}${plain.length > 400 ? '…' : ''}”`;
  } catch {
    return '';
  }
}

/** Whether a request that failed so can have changed anything: reading never does, and what was not sent does not. */
function kindOf(error: OutsideError, method: string): PlaceError['kind'] {
  if (method === 'GET') return 'unreachable';
  return error.kind === 'unanswered' || error.kind === 'too-large' ? 'unknown' : 'unreachable';
}

async function call(
  place: PlaceRow,
  allowed: Allowed,
  method: string,
  path: string,
  body?: { type: string; data: Uint8Array | string },
  headers: Record<string, string> = {},
  mostBytes = 4 * 1024 * 1024,
): Promise<OutsideAnswer> {
  let answer: OutsideAnswer;
  try {
    answer = await askOutside(
      new URL(path, `${place.address.replace(/\/$/, '')}/`),
      {
        method,
        headers: {
          authorization: `Bearer ${allowed.secrets.open(place.siteKey)}`,
          ...(body ? { 'content-type': body.type } : {}),
          ...headers,
        },
        body: body?.data,
      },
      allowed.hosts,
      { mostBytes },
    );
  } catch (error) {
    if (!(error instanceof OutsideError)) throw error;
    console.error(`${place.address}: ${error.message}`);
    throw new PlaceError(kindOf(error, method), `${place.name}, ${place.address}, ${WHY[error.kind]}`, 'address');
  }
  const { status } = answer;
  if ((status >= 200 && status < 300) || status === 404) return answer;
  // A fault of the site's own may come before or after it did what was asked.
  throw new PlaceError(
    status >= 500 && status !== 507 && method !== 'GET' ? 'unknown' : 'refused',
    `${place.name} refused (HTTP ${status}).${quoted(answer.body)}`,
    status === 401 || status === 403 ? 'key' : 'address',
    status === 429 || status === 503,
  );
}

async function found(place: PlaceRow, ...rest: Parameters<typeof call> extends [PlaceRow, ...infer R] ? R : never): Promise<OutsideAnswer> {
  const answer = await call(place, ...rest);
  if (answer.status === 404) throw new PlaceError('refused', `${place.name} refused (HTTP 404).${quoted(answer.body)}`, 'address');
  return answer;
}

const entry = z.object({
  name: z.string().max(300),
  family: z.string().max(1000).nullish(),
  style: z.string().max(1000).nullish(),
  sha256: z.string().max(64).nullish(),
});
const file = ({ name, family, style, sha256 }: z.infer<typeof entry>): ThereFile => ({
  name,
  family: family ?? null,
  style: style ?? null,
  sha256: sha256 ?? null,
});
/** A list as places send it: with what they say of themselves, or bare. */
const told = z.union([
  z
    .array(entry)
    .max(100_000)
    .transform((files): There => ({ files: files.map(file), types: null })),
  z
    .object({ faces: z.array(entry).max(100_000), types: z.array(z.string().max(20)).max(100).nullish() })
    .transform(({ faces, types }): There => ({ files: faces.map(file), types: types ?? null })),
]);

const font = (name: string): string => `fonts/${encodeURIComponent(name)}`;

/** A place that speaks the protocol of docs/place-protocol.md, as the practice places do. */
export const SHELF: Connector = {
  id: 'shelf',
  where: ({ address }, name) => `${address.replace(/\/+$/, '')}/fonts/${encodeURIComponent(name)}`,
  async try(place, allowed) {
    await found(place, allowed, 'GET', 'fonts');
  },
  async list(place, allowed) {
    const { body } = await found(place, allowed, 'GET', 'fonts');
    try {
      return told.parse(JSON.parse(body.toString('utf8')));
    } catch {
      throw new PlaceError('refused', `${place.name} answers with a list that cannot be read.`);
    }
  },
  async put(place, allowed, { name, mediaType, family, bytes, statement, upload }) {
    await found(
      place,
      allowed,
      'PUT',
      font(name),
      { type: mediaType, data: bytes },
      { 'x-font-family': encodeURIComponent(family), 'x-statement': encodeURIComponent(statement.slice(0, 500)), 'x-upload': upload },
    );
  },
  async read(place, allowed, name) {
    // As large as any file that is put there.
    const answer = await call(place, allowed, 'GET', font(name), undefined, {}, MAX_FILE);
    return answer.status === 404 ? null : answer.body;
  },
  async assign(place, allowed, role, name) {
    await found(place, allowed, 'PUT', `roles/${encodeURIComponent(role)}`, {
      type: 'application/json',
      data: JSON.stringify({ font: name }),
    });
  },
  async arrange(place, allowed, name, kind) {
    await found(place, allowed, 'PUT', `kinds/${encodeURIComponent(name)}`, { type: 'application/json', data: JSON.stringify({ kind }) });
  },
  async order(place, allowed, names) {
    await found(place, allowed, 'PUT', 'order', { type: 'application/json', data: JSON.stringify({ fonts: names }) });
  },
  asVisitor,
  async remove(place, allowed, name) {
    return (await call(place, allowed, 'DELETE', font(name))).status === 404 ? 'absent' : 'removed';
  },
};
