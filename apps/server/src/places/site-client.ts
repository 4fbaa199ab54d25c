import type { PlaceRow } from '../db/entities.js';

/** A place said no, or could not be reached; the message is for people. */
export class PlaceRefused extends Error {}

const TIMEOUT_MS = 30_000;

async function call(
  place: PlaceRow,
  method: string,
  path: string,
  body?: { type: string; data: Uint8Array | string },
  headers: Record<string, string> = {},
): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(new URL(path, `${place.address.replace(/\/$/, '')}/`), {
      method,
      headers: { authorization: `Bearer ${place.siteKey}`, ...(body ? { 'content-type': body.type } : {}), ...headers },
      ...(body ? { body: body.data as Uint8Array<ArrayBuffer> | string } : {}),
      redirect: 'error',
      signal: AbortSignal.timeout(TIMEOUT_MS),
    });
  } catch {
    throw new PlaceRefused(`${place.name} does not answer at ${place.address}. Nothing was put there; see that it runs and try again.`);
  }
  if (response.ok) return response;
  const said = await response
    .json()
    .then((j) => (typeof (j as { reason?: unknown }).reason === 'string' ? (j as { reason: string }).reason : ''))
    .catch(() => '');
  throw new PlaceRefused(`${place.name} refused (HTTP ${response.status})${said ? `: ${said.slice(0, 600)}` : '.'}`);
}

/** Puts a font file on the site under a name; the same bytes twice are no harm. */
export async function putFont(place: PlaceRow, name: string, type: string, data: Uint8Array, family: string): Promise<void> {
  await call(place, 'PUT', `fonts/${encodeURIComponent(name)}`, { type, data }, { 'x-font-family': encodeURIComponent(family) });
}

/** Reads a font file back as a visitor's browser would. */
export async function readFont(place: PlaceRow, name: string): Promise<Uint8Array> {
  return new Uint8Array(await (await call(place, 'GET', `fonts/${encodeURIComponent(name)}`)).arrayBuffer());
}

export async function removeFont(place: PlaceRow, name: string): Promise<void> {
  await call(place, 'DELETE', `fonts/${encodeURIComponent(name)}`);
}

/** Sets the site's headings in a font that lies there. */
export async function setHeadings(place: PlaceRow, name: string): Promise<void> {
  await call(place, 'PUT', 'settings/headings', { type: 'application/json', data: JSON.stringify({ font: name }) });
}
