import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createConnection } from 'node:net';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(dirname(fileURLToPath(import.meta.url))));

/** Debian packages by the program that shows they are there. */
export const RUN_PACKAGES = { 'mariadb-server': '/usr/sbin/mariadbd' };
export const TEST_PACKAGES = {
  ...RUN_PACKAGES,
  chromium: '/usr/bin/chromium',
  'firefox-esr': '/usr/bin/firefox-esr',
  fonttools: '/usr/bin/fonttools',
  woff2: '/usr/bin/woff2_compress',
  fontconfig: '/usr/bin/fc-query',
  'libharfbuzz-bin': '/usr/bin/hb-shape',
  'openssh-server': '/usr/sbin/sshd',
  lighttpd: '/usr/sbin/lighttpd',
  'lighttpd-mod-webdav': '/usr/lib/lighttpd/mod_webdav.so',
  'opentype-sanitizer': '/usr/bin/ots-sanitize',
  'fonts-noto-core': '/usr/share/fonts/truetype/noto/NotoSans-Regular.ttf',
  'fonts-noto-mono': '/usr/share/fonts/truetype/noto/NotoSansMono-Regular.ttf',
};

export class Stop extends Error {}

/** Installs missing Debian packages when we may, else says which command does. */
export function ensurePackages(packages) {
  const missing = Object.entries(packages)
    .filter(([, file]) => !existsSync(file))
    .map(([name]) => name);
  if (missing.length === 0) return;
  const install = ['install', '-y', '--no-install-recommends', ...missing];
  if (process.getuid?.() !== 0)
    throw new Stop(
      `These Debian packages are missing: ${missing.join(', ')}.\nInstall them with:\n  sudo apt-get update && sudo apt-get ${install.join(' ')}\nand start again.`,
    );
  console.log(`Installing ${missing.join(', ')} ...`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  for (const args of [['update'], install]) {
    const { status, stderr, stdout } = spawnSync('apt-get', args, { env, encoding: 'utf8', maxBuffer: 1 << 28 });
    if (status !== 0) throw new Stop(`apt-get ${args.join(' ')} failed:\n${(stderr || stdout || '').slice(-2000)}`);
  }
}

const hashOf = (file) => createHash('sha256').update(readFileSync(file)).digest('hex');

/** Runs npm ci unless node_modules already is what the lock file asks for. */
export function ensureModules() {
  const stamp = join(ROOT, 'node_modules/.lock-hash');
  const want = hashOf(join(ROOT, 'package-lock.json'));
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === want) return;
  console.log('Installing the packages of package-lock.json ...');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (status !== 0) throw new Stop('npm ci failed; see above.');
  writeFileSync(stamp, want);
}

/** Newest and number of the sources, so that a build is only made when something changed. */
function sourceState() {
  const hash = createHash('sha256');
  const walk = (dir) => {
    for (const entry of readdirSync(dir, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      if (['node_modules', 'dist'].includes(entry.name) || entry.name.startsWith('.')) continue;
      const path = join(dir, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (!entry.name.endsWith('.tsbuildinfo') && !entry.name.endsWith('.test.ts')) {
        const { mtimeMs, size } = statSync(path);
        hash.update(`${path} ${mtimeMs} ${size}\n`);
      }
    }
  };
  for (const dir of ['packages', 'apps']) walk(join(ROOT, dir));
  hash.update(readFileSync(join(ROOT, 'package-lock.json')));
  return hash.digest('hex');
}

/** Type-checks and builds everything; skipped when nothing changed since the last good build. */
export function ensureBuild({ force = false } = {}) {
  const stamp = join(ROOT, 'node_modules/.build-state');
  const state = sourceState();
  const built = existsSync(join(ROOT, 'apps/web/dist/index.html')) && existsSync(join(ROOT, 'apps/server/dist/main.js'));
  if (!force && built && existsSync(stamp) && readFileSync(stamp, 'utf8') === state) return;
  console.log('Building ...');
  rmSync(stamp, { force: true });
  for (const [command, cwd] of [
    ['tsc -b', ROOT],
    ['vite build --logLevel warn', join(ROOT, 'apps/web')],
  ]) {
    const [name, ...args] = command.split(' ');
    const { status } = spawnSync(process.execPath, [join(ROOT, 'node_modules/.bin', name), ...args], { cwd, stdio: 'inherit' });
    if (status !== 0) throw new Stop(`The build failed at: ${command}`);
  }
  writeFileSync(stamp, state);
}

export function portTaken(port, host = '127.0.0.1') {
  return new Promise((resolve) => {
    const socket = createConnection({ port, host });
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}

/** Starts a Node program and waits until it prints "ready". */
export function startNode(script, env, { quiet = false } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [script], { cwd: ROOT, env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
    let said = '';
    child.stdout.on('data', (data) => {
      if (/ready http/.test(String(data))) resolve(child);
      else if (!quiet) process.stdout.write(data);
    });
    child.stderr.on('data', (data) => {
      said += data;
      if (!quiet) process.stderr.write(data);
    });
    child.once('exit', (code) => reject(new Stop(said.trim() || `${script} ended with code ${code} before it was ready.`)));
  });
}

/** Asks a process to end and waits; kills it when it does not listen. */
export function stopProcess(child, patience = 8000) {
  if (!child || child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const timer = setTimeout(() => child.kill('SIGKILL'), patience);
    child.once('exit', () => {
      clearTimeout(timer);
      resolve();
    });
    child.kill('SIGTERM');
  });
}

export function ensureDir(path) {
  mkdirSync(path, { recursive: true });
  return path;
}
