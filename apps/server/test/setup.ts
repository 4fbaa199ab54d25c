import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { routes, type AnyContract, type Answer, type Params, type Query, type Sent } from '@orderly-glyph/schema';
import mysql from 'mysql2/promise';

const ROOT = process.cwd();
const RECORD = pathToFileURL(join(ROOT, 'apps/server/test/record.mjs')).href;
const base = Number(process.env.TEST_PORT_BASE ?? 4400);
const database = {
  host: '127.0.0.1',
  port: Number(process.env.TEST_DB_PORT ?? 4399),
  user: 'glyph',
  password: process.env.TEST_DB_PASSWORD ?? '',
};

/** A server of its own on a database of its own; the test command has started MariaDB. */
export interface TestServer {
  address: string;
  sql: mysql.Connection;
  child: ChildProcess;
  /** Ends the process without letting it tidy up. */
  kill(): Promise<void>;
  restart(env?: Record<string, string>): Promise<void>;
  stop(): Promise<void>;
}

let next = 0;

/** @param prepare fills the empty database before the server migrates it */
export async function startServer(
  env: Record<string, string> = {},
  prepare?: (settings: { host: string; port: number; user: string; password: string; database: string }) => Promise<void>,
): Promise<TestServer> {
  const name = `glyph_test_${process.pid}_${next}`;
  const port = base + Number(process.env.JEST_WORKER_ID ?? 1) * 10 + next++;
  const admin = await mysql.createConnection(database);
  await admin.query(`DROP DATABASE IF EXISTS ${name}`);
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  await admin.end();
  await prepare?.({ ...database, database: name });
  const sql = await mysql.createConnection({ ...database, database: name });
  const boot = (extra: Record<string, string>): Promise<ChildProcess> =>
    new Promise((resolve, reject) => {
      const child = spawn(process.execPath, ['--import', RECORD, join(ROOT, 'apps/server/dist/main.js')], {
        env: {
          PATH: process.env.PATH,
          PORT: String(port),
          DB_PORT: String(database.port),
          DB_NAME: name,
          DB_USER: database.user,
          DB_PASSWORD: database.password,
          DATA_DIR: join(ROOT, '.test', name),
          JOB_LEASE: '1500',
          LIMIT_SIGN_UPS: '0',
          WARM: '0',
          QUERIES_DIR: join(ROOT, '.test', 'queries'),
          MIN_FREE_MIB: '64',
          PRIVATE_PLACES: '*',
          ...env,
          ...extra,
        },
        stdio: ['ignore', 'pipe', 'pipe'],
      });
      let said = '';
      child.stdout.on('data', (d) => /ready/.test(String(d)) && resolve(child));
      child.stderr.on('data', (d) => (said += d));
      child.once('exit', () => reject(new Error(`The server ended: ${said}`)));
    });
  const gone = (child: ChildProcess): Promise<void> =>
    new Promise((r) => (child.exitCode !== null || child.signalCode !== null ? r() : child.once('exit', () => r())));
  const server: TestServer = {
    address: `http://127.0.0.1:${port}`,
    sql,
    child: await boot({}),
    kill: async () => {
      server.child.kill('SIGKILL');
      await gone(server.child);
    },
    restart: async (extra = {}) => {
      server.child = await boot(extra);
    },
    stop: async () => {
      server.child.kill('SIGTERM');
      await gone(server.child);
      await sql.query(`DROP DATABASE ${name}`);
      await sql.end();
    },
  };
  return server;
}

/** The practice places on five ports from one on, the website first, with their storage in a folder. */
export async function startSite(port: number, dir: string): Promise<ChildProcess> {
  const site = spawn(process.execPath, ['apps/practice/dist/main.js'], {
    env: {
      PATH: process.env.PATH,
      PRACTICE_PORT: String(port),
      PRACTICE_KEY: 'key',
      PRACTICE_WEBSITE_TYPES: 'woff2,woff',
      PRACTICE_DATA_DIR: dir,
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((r) => site.stdout.once('data', r));
  return site;
}

export interface Reply<A> {
  status: number;
  answer: A;
  headers: Headers;
}

/** Calls routes as a browser of that server's page would. */
export class Person {
  cookie = '';
  /** What tells a browser that was signed in with before. */
  browser = '';
  constructor(readonly address: string) {}

  async raw(method: string, path: string, body?: BodyInit | null, headers: Record<string, string> = {}): Promise<Response> {
    const response = await fetch(this.address + path, {
      method,
      redirect: 'manual',
      headers: {
        origin: this.address,
        ...(this.cookie || this.browser ? { cookie: [this.cookie, this.browser].filter(Boolean).join('; ') } : {}),
        ...headers,
      },
      ...(body === undefined ? {} : { body }),
    });
    for (const set of response.headers.getSetCookie()) {
      const [pair] = set.split(';') as [string];
      if (pair.startsWith('glyph_session=')) this.cookie = pair;
      else this.browser = pair;
    }
    return response;
  }

  async call<C extends AnyContract>(
    contract: C,
    input: { params?: Params<C>; query?: Query<C>; body?: Sent<C> } = {},
  ): Promise<Reply<Answer<C>>> {
    let path = contract.path.replace(/:(\w+)/g, (_, name: string) =>
      encodeURIComponent((input.params as Record<string, string>)[name] ?? ''),
    );
    const query = new URLSearchParams((input.query ?? {}) as Record<string, string>).toString();
    if (query) path += `?${query}`;
    const json = contract.method !== 'GET' && contract.method !== 'DELETE' && contract.carries !== 'upload';
    const response = await this.raw(
      contract.method,
      path,
      json ? JSON.stringify(input.body ?? {}) : undefined,
      json ? { 'content-type': 'application/json' } : {},
    );
    return { status: response.status, answer: (await response.json()) as Answer<C>, headers: response.headers };
  }

  async upload(intakeId: string, name: string, bytes: Uint8Array): Promise<Response> {
    return this.raw('POST', `/api/intakes/${intakeId}/uploads?name=${encodeURIComponent(name)}`, bytes as BodyInit, {
      'content-type': 'application/octet-stream',
    });
  }

  /** Brings files in and waits for the report. */
  async bringIn(files: [string, Uint8Array][]): Promise<Answer<typeof routes.getIntake>> {
    const { answer: intake } = await this.call(routes.createIntake, { body: { label: 'test' } });
    for (const [name, bytes] of files) await this.upload(intake.id, name, bytes);
    const { answer: job } = await this.call(routes.startIntake, { params: { intakeId: intake.id } });
    await this.finished(job.id);
    return (await this.call(routes.getIntake, { params: { intakeId: intake.id } })).answer;
  }

  async finished(jobId: string): Promise<string> {
    for (;;) {
      const { answer } = await this.call(routes.getJob, { params: { jobId } });
      if (answer.state !== 'queued' && answer.state !== 'running') return answer.state;
      await new Promise((r) => setTimeout(r, 60));
    }
  }
}

export async function newOwner(address: string, workspace = 'Test'): Promise<Person> {
  const person = new Person(address);
  await person.call(routes.createAccount, {
    body: { name: 'Test Owner', email: `${randomBytes(6).toString('hex')}@test.example`, password: 'a long password', workspace },
  });
  return person;
}

/** Somebody who was invited into the owner's workspace with a role, signed in there. */
export async function newMember(owner: Person, role: 'editor' | 'viewer'): Promise<Person> {
  const { answer } = await owner.call(routes.createInvitation, { body: { role, note: '' } });
  const person = new Person(owner.address);
  await person.call(routes.acceptInvitation, {
    params: { token: answer.path.split('/').pop()! },
    body: { account: { name: `Test ${role}`, email: `${randomBytes(6).toString('hex')}@test.example`, password: 'a long password' } },
  });
  return person;
}
