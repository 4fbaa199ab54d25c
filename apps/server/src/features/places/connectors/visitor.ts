import { createHash } from 'node:crypto';
import { MAX_FILE } from '@orderly-glyph/node';
import type { PlaceRow } from '../rows.js';
import type { Allowed } from './connector.js';
import { ComputeError } from '../../../platform/compute/error.js';
import { askOutside, OutsideError, type OutsideAnswer } from './outside.js';

/** A page loads more style sheets than these only by mistake. */
const MOST_SHEETS = 20;

/** The whole visit, ms. */
const ALL_MS = 60_000;

/** Whether a page's own policy lets a browser load a font. Source: Content Security Policy Level 3, 6.1 (font-src). */
export function policyAllows(policy: string | undefined, page: URL, font: URL): boolean {
  if (!policy) return true;
  const directives = new Map(
    policy.split(';').flatMap((d) => {
      const [name, ...sources] = d.trim().split(/\s+/);
      return name ? [[name.toLowerCase(), sources] as const] : [];
    }),
  );
  const sources = directives.get('font-src') ?? directives.get('default-src');
  if (!sources) return true;
  return sources.some(
    (s) => s === '*' || (s === "'self'" && font.origin === page.origin) || s === font.protocol || s === font.host || s === font.origin,
  );
}

/**
 * Comes to a file as a visitor's browser would: the page, its style sheets, their @font-face rules, the file, with the headers
 * that browsers heed. Only looked for where the face has a role, since a page loads nothing else.
 * @returns a sentence about what hinders it, or null
 */
export async function asVisitor(place: PlaceRow, allowed: Allowed, name: string, sha256: string): Promise<string | null> {
  const until = performance.now() + ALL_MS;
  const ask = (address: URL, mostBytes = 4 * 1024 * 1024): Promise<OutsideAnswer> =>
    askOutside(address, { method: 'GET', headers: {} }, allowed.hosts, {
      withinMs: Math.max(1, Math.min(15_000, until - performance.now())),
      mostBytes,
    });
  const page = new URL(place.page || place.address);
  try {
    const shown = await ask(page);
    if (shown.status !== 200) return `A visitor gets no page at ${page.href} (HTTP ${shown.status}).`;
    const fonts: URL[] = [];
    const sheets = await allowed.addresses('sheets', shown.body.toString('utf8'), page.href);
    for (const sheet of sheets.slice(0, MOST_SHEETS).map((s) => new URL(s))) {
      if (!/^https?:$/.test(sheet.protocol)) continue;
      const answer = await ask(sheet).catch((error: unknown) => {
        if (error instanceof OutsideError) return null;
        throw error;
      });
      if (answer?.status === 200)
        fonts.push(...(await allowed.addresses('fonts', answer.body.toString('utf8'), sheet.href)).map((f) => new URL(f)));
    }
    const font = fonts.find((f) => /^https?:$/.test(f.protocol) && f.pathname.endsWith(`/${encodeURIComponent(name)}`));
    if (!font) return `The style sheets of ${page.href} do not name ${name}, so no browser loads it.`;
    if (!policyAllows(shown.headers['content-security-policy'], page, font))
      return `The page's own policy (Content-Security-Policy) keeps browsers from loading ${font.href}.`;
    const file = await ask(font, MAX_FILE);
    if (file.status !== 200) return `The style sheet leads browsers to ${font.href}, where there is nothing (HTTP ${file.status}).`;
    // Fonts from another origin need its leave. Source: CSS Fonts Module Level 4, 4.9 (font fetching requirements).
    const leave = file.headers['access-control-allow-origin'];
    if (font.origin !== page.origin && leave !== '*' && leave !== page.origin)
      return `Browsers do not take the font from ${font.origin}, since it does not allow other sites to load it (Access-Control-Allow-Origin).`;
    return createHash('sha256').update(file.body).digest('hex') === sha256
      ? null
      : `Browsers get other bytes from ${font.href} than were put there.`;
  } catch (error) {
    // A page that cannot be read is one that a visitor does not get either.
    if (!(error instanceof OutsideError) && !(error instanceof ComputeError && !error.busy)) throw error;
    return `A visitor gets no answer from ${place.name}.`;
  }
}
