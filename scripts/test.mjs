import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuild, ensureDir, ensureModules, ensurePackages, portTaken, ROOT, Stop, TEST_PACKAGES } from './lib/system.mjs';

const counts = { passed: 0, failed: 0 };
const bin = (name) => join(ROOT, 'node_modules/.bin', name);
const dir = join(ROOT, '.test');
const only = process.argv.slice(2);
const wanted = (part) => only.length === 0 || only.includes(part);

function say(title) {
  console.log(`\n== ${title}`);
}

/** A check that counts as one test. */
function check(title, command, args, cwd = ROOT) {
  say(title);
  const { status } = spawnSync(command, args, { cwd, stdio: 'inherit' });
  counts[status === 0 ? 'passed' : 'failed']++;
}

function runAsync(command, args, env) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...env } });
    child.once('exit', (code) => resolve(code));
  });
}

function readJson(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
}

async function jest(project, env) {
  say(`Jest: ${project}`);
  const out = join(dir, `jest-${project}.json`);
  rmSync(out, { force: true });
  await runAsync(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      '--expose-gc',
      join(ROOT, 'node_modules/jest/bin/jest.js'),
      '--selectProjects',
      project,
      '--maxWorkers',
      '2',
      '--json',
      `--outputFile=${out}`,
    ],
    env,
  );
  const result = readJson(out);
  if (!result) counts.failed++;
  else {
    counts.passed += result.numPassedTests;
    // A file that does not even load has no tests to count.
    counts.failed += result.numFailedTests + result.numRuntimeErrorTestSuites;
  }
}

async function playwright(env) {
  say('Playwright');
  const out = join(dir, 'playwright.json');
  rmSync(out, { force: true });
  await runAsync(process.execPath, [join(ROOT, 'node_modules/@playwright/test/cli.js'), 'test', '--config', 'e2e/playwright.config.ts'], {
    ...env,
    PLAYWRIGHT_JSON_OUTPUT_NAME: out,
  });
  const stats = readJson(out)?.stats;
  if (!stats) counts.failed++;
  else {
    counts.passed += stats.expected + stats.flaky;
    counts.failed += stats.unexpected;
  }
}

async function freePort(from) {
  let port = from;
  while (await portTaken(port)) port++;
  return port;
}

let database = null;
try {
  ensurePackages(TEST_PACKAGES);
  ensureModules();
  ensureBuild();
  ensureDir(dir);
  if (wanted('static')) {
    check('Formatting', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
    check('ESLint', bin('eslint'), ['.', '--max-warnings', '0']);
    check('Types of Vue files', bin('vue-tsc'), ['--noEmit', '-p', '.'], join(ROOT, 'apps/web'));
    check('Types of tests', bin('tsc'), ['-p', 'tsconfig.tests.json']);
    check('Import rules', bin('depcruise'), ['packages', 'apps', '--config', '.dependency-cruiser.cjs']);
  }
  if (wanted('unit')) await jest('unit', {});
  if (wanted('api') || wanted('e2e')) {
    const { startDatabase } = await import('./lib/database.mjs');
    database = await startDatabase({ dir, port: await freePort(Number(process.env.TEST_DB_PORT ?? 4399)), forTests: true });
    const env = {
      TEST_DB_PORT: database.settings.DB_PORT,
      TEST_DB_PASSWORD: database.settings.DB_PASSWORD,
      TEST_PORT_BASE: String(await freePort(Number(process.env.TEST_PORT_BASE ?? 4400))),
    };
    if (wanted('api')) {
      rmSync(join(dir, 'queries'), { recursive: true, force: true });
      await jest('api', env);
      await jest('plans', env);
    }
    if (wanted('e2e')) await playwright(env);
  }
} catch (error) {
  console.error(error instanceof Stop ? error.message : error);
  counts.failed++;
} finally {
  await database?.stop();
}
console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 && counts.passed > 0 ? 0 : 1);
