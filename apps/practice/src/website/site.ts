import { createHash, timingSafeEqual } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from 'express';
import { checkFont, MAX_BYTES, Refused } from './check.js';
import { shopPage, stylesheet } from './page.js';
import type { SiteStore } from './store.js';

const NAME = /^[A-Za-z0-9][A-Za-z0-9._-]{0,120}\.(woff2?)$/;
const digest = (text: string): Buffer => createHash('sha256').update(text).digest();

/** The shop's website: pages for visitors, and for whoever holds the key a place to put fonts. */
export function createSite(store: SiteStore, key: string): Express {
  const site = express();
  site.disable('x-powered-by');
  site.use((_request, response, next) => {
    response.setHeader(
      'Content-Security-Policy',
      "default-src 'none'; style-src 'self'; font-src 'self'; script-src 'self'; base-uri 'none'; form-action 'none'",
    );
    response.setHeader('X-Content-Type-Options', 'nosniff');
    next();
  });

  const keyed: RequestHandler = (request, _response, next) => {
    const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '';
    if (!timingSafeEqual(digest(given), digest(key))) throw new Refused(401, 'The key of this site is wrong or missing.');
    next();
  };
  const nameOf = (value: unknown): string => {
    if (typeof value !== 'string' || !NAME.test(value))
      throw new Refused(400, 'A font file here has a name of letters, figures, dots and hyphens that ends in .woff2 or .woff.');
    return value;
  };

  site.put('/fonts/:name', keyed, express.raw({ type: () => true, limit: MAX_BYTES + 1 }), async (request, response) => {
    const name = nameOf(request.params.name);
    const data = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
    const format = checkFont(data);
    if (!name.endsWith(`.${format}`)) throw new Refused(415, `The name ends in another type than the file is (${format}).`);
    let family = 'Delivered face';
    try {
      family = decodeURIComponent(String(request.headers['x-font-family'] ?? family)).slice(0, 200);
    } catch {
      throw new Refused(400, 'The family name is not encoded well.');
    }
    response.status(201).json(await store.put(name, family, format, data));
  });
  site.delete('/fonts/:name', keyed, async (request, response) => {
    const name = nameOf(request.params.name);
    if (!store.has(name)) throw new Refused(404, 'There is no such font here.');
    await store.remove(name);
    response.json({ removed: name });
  });
  site.get('/fonts', keyed, (_request, response) => void response.json(store.list()));
  site.put('/settings/headings', keyed, express.json(), async (request, response) => {
    const { font } = (request.body ?? {}) as { font?: unknown };
    if (font !== null && (typeof font !== 'string' || !store.has(font))) throw new Refused(404, 'There is no such font here.');
    await store.setHeadings(font);
    response.json({ headings: font });
  });

  site.get('/fonts/:name', async (request, response) => {
    const name = nameOf(request.params.name);
    if (!store.has(name)) throw new Refused(404, 'There is no such font here.');
    response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
    response.type(name.endsWith('.woff2') ? 'font/woff2' : 'font/woff').send(await store.read(name));
  });
  site.get('/fonts.css', (_request, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    response.type('css').send(stylesheet(store.heading()));
  });
  site.get('/', (_request, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    response.type('html').send(shopPage(store.heading()));
  });
  site.use('/assets', express.static(fileURLToPath(new URL('../../public/website', import.meta.url))));

  const refuse: ErrorRequestHandler = (error: unknown, _request, response, _next) => {
    if (error instanceof Refused) return void response.status(error.status).json({ reason: error.message });
    const status = (error as { status?: number }).status;
    if (status === 413)
      return void response.status(413).json({ reason: 'The file is larger than 1 MiB, which is the most this site takes.' });
    if (status === 400) return void response.status(400).json({ reason: 'The request is malformed.' });
    console.error(error);
    response.status(500).json({ reason: 'The site has a fault of its own.' });
  };
  site.use(() => {
    throw new Refused(404, 'There is nothing here.');
  });
  site.use(refuse);
  return site;
}
