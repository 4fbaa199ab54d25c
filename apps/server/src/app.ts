import { resolve } from 'node:path';
import { rateLimit } from 'express-rate-limit';
import express, { type ErrorRequestHandler, type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { App } from './platform/http/context.js';
import { openApi } from './platform/http/openapi.js';
import { HttpProblem, problemOf } from './platform/http/problem.js';
import { type Bound, mount } from './platform/http/serve.js';
import { accountRoutes } from './features/accounts/index.js';
import { facesRoutes } from './features/faces/index.js';
import { houseStylesRoutes } from './features/house-styles/index.js';
import { intakeRoutes } from './features/intake/index.js';
import { jobsRoutes } from './features/jobs/index.js';
import { libraryRoutes, Snapshots } from './features/library/index.js';
import { followLicenses, licensesRoutes } from './features/licenses/index.js';
import { conversionsRoutes } from './features/conversions/index.js';
import { followIconSources, iconSetsRoutes } from './features/icon-sets/index.js';
import { inquiriesRoutes } from './features/inquiries/index.js';
import { typefacesRoutes } from './features/typefaces/index.js';
import { followSources, productsRoutes } from './features/products/index.js';
import { placesRoutes } from './features/places/index.js';
import { proofSheetsRoutes } from './features/proof-sheets/index.js';
import { reportsRoutes } from './features/reports/index.js';
import { workspacesRoutes } from './features/workspaces/index.js';

/** Writes are only taken from pages of this very server: browsers send Origin with them and cannot be made not to. */
const sameOrigin: RequestHandler = (request, _response, next) => {
  if (request.method === 'GET' || request.method === 'HEAD') return next();
  const { origin, host } = request.headers;
  const site = request.headers['sec-fetch-site'];
  let same = false;
  try {
    same = origin !== undefined && new URL(origin).host === host;
  } catch {
    same = false;
  }
  if (!same || (site !== undefined && site !== 'same-origin'))
    throw new HttpProblem(403, 'origin', 'This request came from another site and was not carried out.');
  next();
};

/** Answers only to the names this server has: a page elsewhere may let its own name point here (DNS rebinding). */
const knownHost =
  (hosts: ReadonlySet<string>): RequestHandler =>
  (request, _response, next) => {
    if (!hosts.has((request.headers.host ?? '').toLowerCase()))
      throw new HttpProblem(421, 'host', 'This server does not go by that name. Whoever runs it can add the name to its settings.');
    next();
  };

const answerProblem: ErrorRequestHandler = (error: unknown, request, response, _next) => {
  if (response.headersSent) {
    console.error(`${request.method} ${request.path} broke off:`, error);
    response.destroy();
    return;
  }
  const { status, retryAfter, ...told } = problemOf(error);
  if (status >= 500 && told.code === 'internal') console.error(`${request.method} ${request.path} failed:`, error);
  if (retryAfter !== undefined) response.setHeader('Retry-After', String(retryAfter));
  response.status(status).json({ error: told });
};

/** The features, each with its routes. */
const FEATURES = [
  accountRoutes,
  facesRoutes,
  licensesRoutes,
  intakeRoutes,
  jobsRoutes,
  libraryRoutes,
  placesRoutes,
  houseStylesRoutes,
  conversionsRoutes,
  productsRoutes,
  iconSetsRoutes,
  typefacesRoutes,
  inquiriesRoutes,
  proofSheetsRoutes,
  reportsRoutes,
  workspacesRoutes,
];

/** What whoever starts the server brings; how families are shown is added here. */
export type Parts = Omit<App, 'families'>;

export function bindRoutes(parts: Parts): Bound[] {
  const snapshots = new Snapshots(parts.db);
  const app: App = { ...parts, families: snapshots };
  // What is made here rests on the rights of what it is made from.
  followLicenses(async (...change) => [...(await followSources(...change)), ...(await followIconSources(...change))]);
  return FEATURES.flatMap((routes) => routes(app, snapshots));
}

/** Calls for public pages that one address may make in a minute; a proof sheet of 40 pages with its faces takes about a hundred. */
const PUBLIC_A_MINUTE = 300;

/** The whole HTTP side: API, its description, and the pages. */
export function createHttp(app: Parts): Express {
  const http = express();
  http.disable('x-powered-by');
  http.set('trust proxy', app.config.trustedProxies.length > 0 ? [...app.config.trustedProxies] : false);
  http.use(knownHost(app.config.hosts));
  http.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          // The hash is that of an empty text: charts put in a style element and fill it by script.
          styleSrc: ["'self'", "'sha256-47DEQpj8HBSa+/TImW+5JCeuQeRkm5NMpJWZG3hSuFU='"],
          fontSrc: ["'self'"],
          imgSrc: ["'self'", 'data:'],
          connectSrc: ["'self'"],
          formAction: ["'self'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: app.config.publicAddress?.startsWith('https:') ? { maxAge: 31_536_000 } : false,
      referrerPolicy: { policy: 'same-origin' },
    }),
  );
  http.use('/api', (_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  // Pages that anyone may open without an account; what they show costs computing.
  http.use(
    '/api/public',
    rateLimit({
      windowMs: 60_000,
      limit: PUBLIC_A_MINUTE,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      handler: (_request, _response, next) =>
        next(new HttpProblem(429, 'too-many', 'These were too many calls for public pages. Wait a minute and load the page again.')),
    }),
  );
  http.use('/api', sameOrigin);
  const bound = bindRoutes(app);
  mount(http, bound);
  http.get('/api/openapi.json', (_request, response) => void response.json(openApi()));
  http.use('/api', () => {
    throw new HttpProblem(404, 'not-found', 'There is nothing at this address.');
  });
  if (app.config.webDir) {
    const { webDir } = app.config;
    http.use(
      express.static(webDir, {
        index: false,
        setHeaders: (response, path) =>
          response.setHeader('Cache-Control', path.includes('assets') ? 'public, max-age=31536000, immutable' : 'no-cache'),
      }),
    );
    http.get('/{*path}', (_request, response) => {
      response.setHeader('Cache-Control', 'no-cache');
      response.sendFile(resolve(webDir, 'index.html'));
    });
  }
  http.use(answerProblem);
  return http;
}
