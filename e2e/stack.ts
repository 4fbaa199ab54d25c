import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { test as base, type Page } from '@playwright/test';
import mysql from 'mysql2/promise';

const ROOT = process.cwd();
const first = Number(process.env.TEST_PORT_BASE ?? 4400) + 100;
const database = {
  host: '127.0.0.1',
  port: Number(process.env.TEST_DB_PORT ?? 4399),
  user: 'glyph',
  password: process.env.TEST_DB_PASSWORD ?? '',
};

/** The application and the practice website with the demo loaded, on a database of their own. */
export interface Stack {
  address: string;
  website: string;
  /** The bundle that waits, as a file. */
  bundle: string;
  kill(): Promise<void>;
  restart(): Promise<void>;
}

function start(script: string, env: Record<string, string>): Promise<ChildProcess> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [join(ROOT, script)], {
      env: { PATH: process.env.PATH, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    child.stdout.on('data', (d) => /ready/.test(String(d)) && resolve(child));
    child.stderr.on('data', (d) => (said += d));
    child.once('exit', () => reject(new Error(said)));
  });
}

const gone = (child: ChildProcess): Promise<void> =>
  new Promise((r) => (child.exitCode !== null || child.signalCode !== null ? r() : child.once('exit', () => r())));

export const test = base.extend<object, { stack: Stack }>({
  stack: [
    async ({}, use, info) => {
      const name = `glyph_test_e2e_${info.workerIndex}`;
      const [port, sitePort] = [first + 6 * info.workerIndex, first + 6 * info.workerIndex + 1];
      const admin = await mysql.createConnection(database);
      await admin.query(`DROP DATABASE IF EXISTS ${name}`);
      await admin.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
      mkdirSync(join(ROOT, '.test'), { recursive: true });
      const dataDir = mkdtempSync(join(ROOT, '.test/e2e-'));
      const db = {
        DB_HOST: '127.0.0.1',
        DB_PORT: String(database.port),
        DB_NAME: name,
        DB_USER: database.user,
        DB_PASSWORD: database.password,
      };
      const boot = (): Promise<ChildProcess> =>
        start('apps/server/dist/main.js', {
          ...db,
          PORT: String(port),
          DATA_DIR: dataDir,
          WEB_DIR: join(ROOT, 'apps/web/dist'),
          JOB_LEASE: '1500',
          DEMO: '1',
          LIMIT_SIGN_UPS: '0',
          MIN_FREE_MIB: '64',
          PRIVATE_PLACES: [0, 1, 2, 3, 4].map((i) => `127.0.0.1:${sitePort + i}`).join(','),
        });
      const site = await start('apps/practice/dist/main.js', {
        PRACTICE_PORT: String(sitePort),
        PRACTICE_KEY: 'e2e',
        PRACTICE_WEBSITE_TYPES: 'woff2,woff',
        PRACTICE_DATA_DIR: join(dataDir, 'practice'),
      });
      let server = await boot();
      const address = `http://127.0.0.1:${port}`;
      const website = `http://127.0.0.1:${sitePort}`;
      const { loadDemo } = (await import(join(ROOT, 'demo/load.mjs'))) as { loadDemo(options: object): Promise<void> };
      await loadDemo({ address, website, websiteKey: 'e2e', db, dataDir });
      await use({
        address,
        website,
        bundle: join(dataDir, 'demo/text-faces-bundle.zip'),
        kill: async () => {
          server.kill('SIGKILL');
          await gone(server);
        },
        restart: async () => {
          server = await boot();
        },
      });
      server.kill();
      site.kill();
      await Promise.all([gone(server), gone(site)]);
      await admin.query(`DROP DATABASE ${name}`);
      await admin.end();
      rmSync(dataDir, { recursive: true, force: true });
    },
    { scope: 'worker', timeout: 600_000 },
  ],
});
export { expect } from '@playwright/test';

export async function openDemo(page: Page, stack: Stack): Promise<void> {
  await page.goto(stack.address);
  await page.getByRole('button', { name: 'Open the demo' }).click();
  await page.waitForURL('**/desk');
}

export async function newWorkspace(page: Page, stack: Stack, business: string): Promise<void> {
  await page.goto(`${stack.address}/sign-in`);
  await page.getByRole('button', { name: 'Make an account' }).click();
  await page.getByLabel('Your name').fill('Newcomer');
  await page.getByLabel('Name of your business').fill(business);
  await page.getByLabel('E-mail address').fill(`${business.replace(/\W/g, '')}-${Date.now()}@test.example`);
  await page.getByLabel('Password').fill('a long password');
  await page.getByRole('button', { name: 'Make the account' }).click();
  await page.waitForURL('**/desk');
}
