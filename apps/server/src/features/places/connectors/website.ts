import type { PlaceRow } from '../rows.js';
import { PlaceError, type Allowed, type Connector } from './connector.js';
import { askOutside, OutsideError, type OutsideAnswer } from './outside.js';

const WHY: Readonly<Record<OutsideError['kind'], string>> = {
  private: 'leads into a private network, where this server sends nothing. Whoever runs it can allow that.',
  'too-large': 'answers without an end. Nothing of it was taken as true; ask whoever runs the site.',
  moved: 'sends us to another address, which is not followed. Enter the address it has moved to.',
  unreachable: 'does not answer. Nothing was put there; see that it runs and try again.',
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
): Promise<OutsideAnswer> {
  let answer: OutsideAnswer;
  try {
    answer = await askOutside(
      new URL(path, `${place.address.replace(/\/$/, '')}/`),
      {
        method,
        headers: { authorization: `Bearer ${place.siteKey}`, ...(body ? { 'content-type': body.type } : {}), ...headers },
        body: body?.data,
      },
      allowed.hosts,
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
    status >= 500 && method !== 'GET' ? 'unknown' : 'refused',
    `${place.name} refused (HTTP ${status}).${quoted(answer.body)}`,
    status === 401 || status === 403 ? 'key' : 'address',
  );
}

async function found(place: PlaceRow, ...rest: Parameters<typeof call> extends [PlaceRow, ...infer R] ? R : never): Promise<OutsideAnswer> {
  const answer = await call(place, ...rest);
  if (answer.status === 404) throw new PlaceError('refused', `${place.name} refused (HTTP 404).${quoted(answer.body)}`, 'address');
  return answer;
}

const font = (name: string): string => `fonts/${encodeURIComponent(name)}`;

/** A website with a place for fonts behind a key. */
export const WEBSITE: Connector = {
  id: 'website',
  async try(place, allowed) {
    await found(place, allowed, 'GET', 'fonts');
  },
  async list(place, allowed) {
    const { body } = await found(place, allowed, 'GET', 'fonts');
    try {
      const list = JSON.parse(body.toString('utf8')) as { name?: unknown }[] | { fonts?: { name?: unknown }[] };
      const entries = Array.isArray(list) ? list : (list.fonts ?? []);
      return entries.flatMap((e) => (typeof e.name === 'string' ? [e.name] : []));
    } catch {
      throw new PlaceError('refused', `${place.name} answers with a list that cannot be read.`);
    }
  },
  async put(place, allowed, { name, mediaType, family, bytes }) {
    await found(place, allowed, 'PUT', font(name), { type: mediaType, data: bytes }, { 'x-font-family': encodeURIComponent(family) });
  },
  async read(place, allowed, name) {
    const answer = await call(place, allowed, 'GET', font(name));
    return answer.status === 404 ? null : answer.body;
  },
  async assign(place, allowed, role, name) {
    await found(place, allowed, 'PUT', `settings/${encodeURIComponent(role)}`, {
      type: 'application/json',
      data: JSON.stringify({ font: name }),
    });
  },
  async remove(place, allowed, name) {
    return (await call(place, allowed, 'DELETE', font(name))).status === 404 ? 'absent' : 'removed';
  },
};
