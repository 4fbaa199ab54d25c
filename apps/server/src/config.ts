import { resolve } from 'node:path';
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
  WORKERS: z.coerce.number().int().min(1).max(32).default(2),
});

export interface Config {
  port: number;
  host: string;
  db: { host: string; port: number; name: string; user: string; password: string };
  dataDir: string;
  webDir: string | null;
  jobLease: number;
  workers: number;
}

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
    workers: e.WORKERS,
  };
}
