import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDir, portTaken, Stop } from './system.mjs';

const asRoot = process.getuid?.() === 0 ? ['--user=root'] : [];

/** Passwords made once for a data folder, readable by its owner only. */
function secretsOf(dir) {
  const file = join(dir, 'secrets.json');
  if (!existsSync(file)) {
    const fresh = () => randomBytes(18).toString('base64url');
    writeFileSync(`${file}.part`, JSON.stringify({ root: fresh(), app: fresh(), site: fresh() }), { mode: 0o600 });
    renameSync(`${file}.part`, file);
  }
  return JSON.parse(readFileSync(file, 'utf8'));
}

/** Is the server of an earlier, killed start still on this folder? */
function leftover(dir) {
  try {
    const pid = Number(readFileSync(join(dir, 'mariadb.pid'), 'utf8'));
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(dir) ? pid : null;
  } catch {
    return null;
  }
}

/**
 * Starts MariaDB on loopback with its own data folder.
 * @returns the settings for the application, the secrets of the folder, and how to stop it
 */
export async function startDatabase({ dir, port, name = 'orderly_glyph', forTests = false, keepUp = false }) {
  ensureDir(dir);
  const secrets = secretsOf(dir);
  const data = join(dir, 'mariadb');
  const settings = { DB_HOST: '127.0.0.1', DB_PORT: String(port), DB_NAME: name, DB_USER: 'glyph', DB_PASSWORD: secrets.app };
  const old = leftover(dir);
  if (old) {
    console.log('Stopping the database of an earlier start that was cut off ...');
    process.kill(old, 'SIGTERM');
    for (let i = 0; i < 100 && leftover(dir); i++) await new Promise((r) => setTimeout(r, 100));
  }
  if (await portTaken(port))
    throw new Stop(`Port ${port}, which the database needs, is taken by another program. Set DB_PORT to a free one and start again.`);
  if (!existsSync(data)) {
    const fresh = `${data}.new`;
    rmSync(fresh, { recursive: true, force: true });
    const { status, stderr } = spawnSync(
      'mariadb-install-db',
      ['--no-defaults', '--auth-root-authentication-method=normal', '--skip-test-db', `--datadir=${fresh}`, ...asRoot],
      { encoding: 'utf8' },
    );
    if (status !== 0) throw new Stop(`The database could not be set up:\n${stderr}`);
    renameSync(fresh, data);
  }
  const quote = (text) => `'${text}'`;
  const init = join(dir, 'init.sql');
  writeFileSync(
    init,
    [
      `CREATE DATABASE IF NOT EXISTS \`${name}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;`,
      `CREATE USER IF NOT EXISTS 'glyph'@'127.0.0.1' IDENTIFIED BY ${quote(secrets.app)};`,
      `ALTER USER 'glyph'@'127.0.0.1' IDENTIFIED BY ${quote(secrets.app)};`,
      `GRANT ALL ON \`${name}\`.* TO 'glyph'@'127.0.0.1';`,
      // A backup is loaded beside the database and then moved into it.
      `GRANT ALL ON \`${name.replace(/_/g, '\\_')}\\_restoring\`.* TO 'glyph'@'127.0.0.1';`,
      // The sample business as it was at first lies beside the rest.
      `GRANT ALL ON \`${name.replace(/_/g, '\\_')}\\_sample\`.* TO 'glyph'@'127.0.0.1';`,
      ...(forTests ? [`GRANT ALL ON \`glyph\\_test\\_%\`.* TO 'glyph'@'127.0.0.1';`] : []),
      `ALTER USER 'root'@'localhost' IDENTIFIED BY ${quote(secrets.root)};`,
      `FLUSH PRIVILEGES;`,
    ].join('\n'),
    { mode: 0o600 },
  );
  // Its own folder for passing files: a full /tmp of the machine must not stop it.
  const tmp = ensureDir(join(dir, 'mariadb-tmp'));
  const launch = () =>
    spawn(
      'mariadbd',
      [
        '--no-defaults',
        ...asRoot,
        `--datadir=${data}`,
        `--tmpdir=${tmp}`,
        '--bind-address=127.0.0.1',
        `--port=${port}`,
        `--socket=${join(dir, 'mariadb.sock')}`,
        `--pid-file=${join(dir, 'mariadb.pid')}`,
        `--init-file=${init}`,
        `--log-error=${join(dir, 'mariadb.log')}`,
        '--skip-name-resolve',
        '--max-allowed-packet=64M',
        '--innodb-buffer-pool-size=256M',
        '--innodb-log-file-size=256M',
        '--character-set-server=utf8mb4',
      ],
      { stdio: 'ignore', detached: true },
    );
  let child = launch();
  let stopping = false;
  const up = async () => {
    for (let i = 0; !(await portTaken(port)); i++) {
      if (child.exitCode !== null || child.signalCode !== null || i > 300) {
        const log = existsSync(join(dir, 'mariadb.log'))
          ? readFileSync(join(dir, 'mariadb.log'), 'utf8').split('\n').slice(-6).join('\n')
          : '';
        throw new Stop(`The database did not start:\n${log}`);
      }
      await new Promise((r) => setTimeout(r, 100));
    }
  };
  await up();
  // One that ends by itself is started again, a few times; the servers wait for it meanwhile.
  const deaths = [];
  const watch = () =>
    child.once('exit', async () => {
      if (stopping || !keepUp) return;
      deaths.push(Date.now());
      if (deaths.filter((t) => t > Date.now() - 60_000).length > 5)
        return void console.error('The database ended again and again; see mariadb.log.');
      console.error('The database ended unexpectedly; it is started again.');
      // A test says itself how long the database stays away.
      if (typeof keepUp === 'function') await keepUp();
      if (stopping) return;
      child = launch();
      watch();
      up().catch((error) => console.error(error.message));
    });
  watch();
  return {
    settings,
    secrets,
    pid: () => child.pid,
    stop: async () => {
      stopping = true;
      if (child.exitCode !== null || child.signalCode !== null) return;
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await ended;
    },
  };
}

/** Uses the database of a data folder: the one that runs on its port, or one started for as long as it takes. */
export async function withDatabase({ dir, port, name = 'orderly_glyph' }, work) {
  const running = leftover(dir) !== null && (await portTaken(port));
  const database = running ? null : await startDatabase({ dir, port, name });
  const settings = database?.settings ?? {
    DB_HOST: '127.0.0.1',
    DB_PORT: String(port),
    DB_NAME: name,
    DB_USER: 'glyph',
    DB_PASSWORD: secretsOf(dir).app,
  };
  try {
    await work(settings);
  } finally {
    await database?.stop();
  }
}
