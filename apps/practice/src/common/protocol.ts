import { createHash, timingSafeEqual } from 'node:crypto';
import express, { Router, type ErrorRequestHandler, type Express, type Request, type RequestHandler } from 'express';
import { fileURLToPath } from 'node:url';
import { asKept, beforePut, faultOf, weather } from './faults.js';
import { Refused } from './refused.js';
import type { Entry, Shelf } from './shelf.js';

const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
const TYPES: Readonly<Record<string, string>> = {
  ttf: 'font/ttf',
  otf: 'font/otf',
  ttc: 'font/collection',
  woff: 'font/woff',
  woff2: 'font/woff2',
};

/** What a place of a kind does its own way. */
export interface Rules {
  /** What it is called in lists. */
  kind: string;
  names: RegExp;
  maxBytes: number;
  /** Looks at a file and says what it is. `wanted` is what the sender calls it. @throws Refused */
  check(shelf: Shelf, name: string, data: Buffer, part: string): Pick<Entry, 'family' | 'style' | 'format'> & { instead?: string[] };
  perUpload: number | null;
  most: number | null;
  statement: boolean;
  roles: readonly string[];
  /** Formats by its own list; null where it has none. */
  types(shelf: Shelf): string[] | null;
  /** Whether anybody may load files, as browsers do. */
  open: boolean;
  /** Whether a file can be given to visitors at present. @throws Refused */
  serve?(shelf: Shelf, entry: Entry): void;
  /** Gives a role; the default keeps it by name. */
  assign?(shelf: Shelf, role: string, name: string | null, part: string): Promise<void>;
}

export const decoded = (value: unknown, what: string): string => {
  try {
    return decodeURIComponent(String(value ?? '')).slice(0, 1000);
  } catch {
    throw new Refused(400, `The ${what} is not encoded well.`);
  }
};

/** The calls by which programs put faces here, behind a key: list, put, read, remove, roles. See docs/place-protocol.md. */
export function protocol(shelf: Shelf, key: string, rules: Rules): Router {
  const router = Router({ mergeParams: true });
  const partOf = (request: Request): string => String((request.params as { part?: string }).part ?? '');
  const keyed: RequestHandler = (request, _response, next) => {
    const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '';
    if (!timingSafeEqual(digest(given), digest(key))) throw new Refused(401, 'The key is wrong or missing.');
    next();
  };
  const nameOf = (value: unknown): string => {
    if (typeof value !== 'string' || value.length > 150 || !rules.names.test(value))
      throw new Refused(400, 'A font file has a name of letters, figures, dots and hyphens here, with an ending that says its type.');
    return value;
  };
  const there = (request: Request): Entry => {
    const entry = shelf.find(nameOf(request.params.name), partOf(request));
    if (!entry) throw new Refused(404, 'There is no such font here.');
    return entry;
  };

  router.get('/fonts', keyed, (request, response) => {
    const part = partOf(request);
    const faces = shelf.faces(part);
    response.json({
      place: rules.kind,
      faces: faces.map(({ name, family, style, format, sha256, bytes, at, offered }) => ({
        name,
        family,
        style,
        format,
        sha256,
        bytes,
        at,
        roles: rules.roles.filter((r) => (r === 'offered' ? offered : r === 'withheld' ? !offered : shelf.role(r, part) === name)),
      })),
      types: rules.types(shelf),
      inAll: shelf.faces().length,
      most: rules.most,
    });
  });
  router.put('/fonts/:name', keyed, express.raw({ type: () => true, limit: rules.maxBytes + 1 }), async (request, response) => {
    const name = nameOf(request.params.name);
    const part = partOf(request);
    const upload = String(request.headers['x-upload'] ?? '').slice(0, 60);
    const data = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
    const statement = decoded(request.headers['x-statement'], 'statement');
    if (rules.statement && statement.trim() === '') throw new Refused(409, 'Say that you have the right to use this font.');
    if (data.length > rules.maxBytes) throw new Refused(413, `The file has ${data.length} bytes, ${rules.maxBytes} are the most.`);
    const { instead = [], ...known } = rules.check(shelf, name, data, part);
    beforePut(shelf, known.format, upload);
    if (rules.perUpload !== null && upload && shelf.uploaded(upload) >= rules.perUpload)
      throw new Refused(409, `An upload has ${rules.perUpload} files at most. Begin another one.`);
    const gone = shelf.faces(part).filter((f) => f.name === name || instead.includes(f.name)).length;
    if (rules.most !== null && shelf.faces().length - gone >= rules.most)
      throw new Refused(409, `There are ${rules.most} faces here, which is the most. Remove some first.`);
    const kept = asKept(shelf, data);
    if (!kept) return void response.status(201).json({ name, kept: true });
    const entry = await shelf.put({ name, ...known, part, statement, offered: false }, kept, upload, instead);
    if (faultOf(shelf) === 'silent') return void request.socket.destroy();
    response.status(201).json(entry);
  });
  router.delete('/fonts/:name', keyed, async (request, response) => {
    const { name } = there(request);
    await shelf.remove(name, partOf(request));
    response.json({ removed: name });
  });
  router.put('/roles/:role', keyed, express.json(), async (request, response) => {
    const role = String(request.params.role);
    if (!rules.roles.includes(role))
      throw new Refused(404, `There is no role “${role}” here; there are ${rules.roles.join(', ') || 'none'}.`);
    const { font } = (request.body ?? {}) as { font?: unknown };
    const part = partOf(request);
    if (font !== null && (typeof font !== 'string' || !shelf.find(font, part))) throw new Refused(404, 'There is no such font here.');
    await (rules.assign ?? ((s, r, n, p) => s.setRole(r, n, p)))(shelf, role, font, part);
    response.json({ role, font });
  });
  const serve: RequestHandler = async (request, response) => {
    const entry = there(request);
    rules.serve?.(shelf, entry);
    response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
    if (rules.open) response.setHeader('Access-Control-Allow-Origin', '*');
    response.type(TYPES[entry.format] ?? 'application/octet-stream').send(await shelf.read(entry));
  };
  if (rules.open) router.get('/fonts/:name', serve);
  else {
    router.get('/fonts/:name', keyed, serve);
    // The place's own pages show faces without the key.
    router.get('/shown/:name', serve);
  }
  return router;
}

/** A practice place: its pages and calls below the weather it is set to. */
export function place(shelf: Shelf, routes: (site: Express) => void, { fontsFrom = "'self'" } = {}): Express {
  const site = express();
  site.disable('x-powered-by');
  site.use(weather(shelf));
  site.use((_request, response, next) => {
    response.setHeader(
      'Content-Security-Policy',
      `default-src 'none'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src ${fontsFrom}; script-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'`,
    );
    response.setHeader('X-Content-Type-Options', 'nosniff');
    next();
  });
  site.use('/assets', express.static(fileURLToPath(new URL('../../public', import.meta.url))));
  routes(site);
  const refuse: ErrorRequestHandler = (error: unknown, _request, response, _next) => {
    if (error instanceof Refused) return void response.status(error.status).json({ reason: error.message });
    const status = (error as { status?: number }).status;
    if (status === 413) return void response.status(413).json({ reason: 'The file is larger than this place takes.' });
    if (status === 400) return void response.status(400).json({ reason: 'The request is malformed.' });
    console.error(error);
    response.status(500).json({ reason: 'The place has a fault of its own.' });
  };
  site.use(() => {
    throw new Refused(404, 'There is nothing here.');
  });
  site.use(refuse);
  return site;
}

/** The ending of a name, and whether it says what the file is; an OpenType file may be called .ttf or .otf. @throws Refused */
export function endingFits(name: string, format: string): void {
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  const plain = ['ttf', 'otf'];
  const fits =
    ending === format || (plain.includes(ending) && plain.includes(format)) || (format === 'ttc' && ['ttc', 'otc'].includes(ending));
  if (!fits) throw new Refused(415, `The name ends in .${ending} and the file is ${format.toUpperCase()}.`);
}
