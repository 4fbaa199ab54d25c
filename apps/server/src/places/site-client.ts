import type { PlaceRow } from '../db/entities.js';
import { askOutside, OutsideError, type OutsideAnswer } from './outside.js';

/** A place said no, or could not be reached; the message is for people. */
export class PlaceRefused extends Error {
  constructor(
    message: string,
    readonly status: number | null = null,
  ) {
    super(message);
  }
}

/** Places in private networks that the operator of this server allows, as host:port. */
export type Allowed = ReadonlySet<string>;

const WHY: Readonly<Record<OutsideError['kind'], string>> = {
  private: 'leads into a private network, where this server sends nothing. Whoever runs it can allow that.',
  'too-large': 'answers without an end. Nothing of it was taken as true; ask whoever runs the site.',
  moved: 'sends us to another address, which is not followed. Enter the address it has moved to.',
  unreachable: 'does not answer. Nothing was put there; see that it runs and try again.',
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
      allowed,
    );
  } catch (error) {
    if (!(error instanceof OutsideError)) throw error;
    console.error(`${place.address}: ${error.message}`);
    throw new PlaceRefused(`${place.name}, ${place.address}, ${WHY[error.kind]}`);
  }
  if (answer.status >= 200 && answer.status < 300) return answer;
  throw new PlaceRefused(`${place.name} refused (HTTP ${answer.status}).${quoted(answer.body)}`, answer.status);
}

/** Whether the site answers and takes our key; said before a place is kept. @throws PlaceRefused */
export async function tryPlace(place: PlaceRow, allowed: Allowed): Promise<void> {
  await call(place, allowed, 'GET', 'fonts');
}

/** Puts a font file on the site under a name; the same bytes twice are no harm. */
export async function putFont(
  place: PlaceRow,
  allowed: Allowed,
  name: string,
  type: string,
  data: Uint8Array,
  family: string,
): Promise<void> {
  await call(place, allowed, 'PUT', `fonts/${encodeURIComponent(name)}`, { type, data }, { 'x-font-family': encodeURIComponent(family) });
}

/** Reads a font file back as a visitor's browser would. */
export async function readFont(place: PlaceRow, allowed: Allowed, name: string): Promise<Uint8Array> {
  return (await call(place, allowed, 'GET', `fonts/${encodeURIComponent(name)}`)).body;
}

export async function removeFont(place: PlaceRow, allowed: Allowed, name: string): Promise<void> {
  await call(place, allowed, 'DELETE', `fonts/${encodeURIComponent(name)}`);
}

/** Sets the site's headings in a font that lies there. */
export async function setHeadings(place: PlaceRow, allowed: Allowed, name: string): Promise<void> {
  await call(place, allowed, 'PUT', 'settings/headings', { type: 'application/json', data: JSON.stringify({ font: name }) });
}
