import { join, resolve } from 'node:path';
import { z } from 'zod';

const schema = z.object({
  PORT: z.coerce.number().int().min(1).max(65535).default(4310),
  HOST: z.string().default('127.0.0.1'),
  DB_HOST: z.string().default('127.0.0.1'),
  DB_PORT: z.coerce.number().int().default(4311),
  DB_NAME: z.string().regex(/^\w+$/).default('orderly_glyph'),
  DB_USER: z.string().default('glyph'),
  DB_PASSWORD: z.string().default(''),
  DATA_DIR: z.string().default('.data'),
  WEB_DIR: z.string().optional(),
  /** Milliseconds after which a silent job is taken over by another server. */
  JOB_LEASE: z.coerce.number().int().min(500).default(15_000),
  /** Milliseconds without progress after which work at a place is given up. */
  JOB_SILENCE: z.coerce.number().int().min(500).default(300_000),
  /** Where people come to this server, when not by its own port: https://glyph.example */
  PUBLIC_ADDRESS: z.url({ protocol: /^https?$/ }).optional(),
  /** Further names it may be called by, joined by commas. */
  ALLOWED_HOSTS: z.string().default(''),
  /** Addresses of proxies whose X-Forwarded-For is believed, joined by commas; none are by default. */
  TRUSTED_PROXIES: z.string().default(''),
  /** host:port of places in private networks that may be delivered to, joined by commas. */
  PRIVATE_PLACES: z.string().default(''),
  /** Where places that are folders lie; a folder of the data folder when left out. */
  PLACE_FOLDERS: z.string().optional(),
  /** 1 opens the sample business to anybody; never together with a public address. */
  DEMO: z.enum(['0', '1']).default('0'),
  /** Where the practice places look for the wish to start over. */
  SAMPLE_MARKER: z.string().optional(),
  /** 0 lets one address make any number of accounts, which tests do. */
  LIMIT_SIGN_UPS: z.enum(['0', '1']).default('1'),
  /** What a workspace may keep, and what must stay free on the disk, in MiB. */
  WORKSPACE_QUOTA_MIB: z.coerce
    .number()
    .int()
    .min(1)
    .default(20 * 1024),
  MIN_FREE_MIB: z.coerce.number().int().min(0).default(1024),
  /** 0 starts no workers ahead of need, which tests do. */
  WARM: z.enum(['0', '1']).default('1'),
  WORKERS: z.coerce.number().int().min(1).max(32).default(2),
});

export interface Config {
  port: number;
  host: string;
  db: { host: string; port: number; name: string; user: string; password: string };
  dataDir: string;
  webDir: string | null;
  jobLease: number;
  jobSilence: number;
  workers: number;
  warm: boolean;
  publicAddress: string | null;
  /** Lower-case host names with their ports under which requests are answered. */
  hosts: ReadonlySet<string>;
  trustedProxies: readonly string[];
  privatePlaces: ReadonlySet<string>;
  placeFolders: string;
  demo: boolean;
  /** A file whose appearing makes the practice places start over, too; it goes when they have. */
  sampleMarker: string | null;
  limitSignUps: boolean;
  quotaBytes: number;
  minFreeBytes: number;
}

const list = (text: string): string[] =>
  text
    .split(',')
    .map((t) => t.trim().toLowerCase())
    .filter(Boolean);

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1']);

/** Settings from the environment. @throws ZodError that names the setting that is wrong. */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const e = schema.parse(env);
  return {
    port: e.PORT,
    host: e.HOST,
    db: { host: e.DB_HOST, port: e.DB_PORT, name: e.DB_NAME, user: e.DB_USER, password: e.DB_PASSWORD },
    dataDir: resolve(e.DATA_DIR),
    webDir: e.WEB_DIR ? resolve(e.WEB_DIR) : null,
    jobLease: e.JOB_LEASE,
    jobSilence: e.JOB_SILENCE,
    workers: e.WORKERS,
    warm: e.WARM === '1',
    publicAddress: e.PUBLIC_ADDRESS?.replace(/\/+$/, '') ?? null,
    hosts: new Set([
      ...['127.0.0.1', 'localhost', '[::1]', e.HOST].map((h) => `${h.toLowerCase()}:${e.PORT}`),
      ...(e.PUBLIC_ADDRESS ? [new URL(e.PUBLIC_ADDRESS).host] : []),
      ...list(e.ALLOWED_HOSTS),
    ]),
    trustedProxies: list(e.TRUSTED_PROXIES),
    privatePlaces: new Set(list(e.PRIVATE_PLACES)),
    placeFolders: resolve(e.PLACE_FOLDERS ?? join(e.DATA_DIR, 'places')),
    // The sample belongs to whoever runs it: only where nobody else reaches it.
    demo: e.DEMO === '1' && e.PUBLIC_ADDRESS === undefined && LOOPBACK.has(e.HOST.toLowerCase()),
    sampleMarker: e.SAMPLE_MARKER ?? null,
    limitSignUps: e.LIMIT_SIGN_UPS === '1',
    quotaBytes: e.WORKSPACE_QUOTA_MIB * 1024 * 1024,
    minFreeBytes: e.MIN_FREE_MIB * 1024 * 1024,
  };
}
