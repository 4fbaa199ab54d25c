import { spawn } from 'node:child_process';
import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream, mkdtempSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { Stop } from './system.mjs';

/*
 * The file: 8 bytes of mark, 16 of salt, 7 of nonce; then chunks, each 4 bytes of length (big end first), the text under
 * AES-256-GCM, 16 bytes of tag. A chunk's nonce is the file's, its number in 4 bytes, and 1 for the last chunk, else 0, so that
 * none can be left out, moved, or put behind the last. What is told beside the key, the whole head, is authenticated with each.
 * Source of the construction: Hoang, Reyhanitabar, Rogaway, Vizár, "Online Authenticated-Encryption and its Nonce-Reuse
 * Misuse-Resistance", CRYPTO 2015, STREAM. The key is made by scrypt (RFC 7914) of the passphrase. The text is gzip; unpacked, it
 * is a line of JSON and then MariaDB statements.
 */
const MARK = Buffer.from('OGBACK2\n');
const HEAD = MARK.length + 16 + 7;
const CHUNK = 1024 * 1024;
const TAG = 16;

const keyOf = (passphrase, salt) => scryptSync(passphrase.normalize('NFKC'), salt, 32, { N: 2 ** 17, r: 8, p: 1, maxmem: 2 ** 28 });
const nonceOf = (prefix, number, last) => {
  const tail = Buffer.alloc(5);
  tail.writeUInt32BE(number, 0);
  tail[4] = last ? 1 : 0;
  return Buffer.concat([prefix, tail]);
};

/** Encrypts a stream in chunks, the last one marked. */
async function* sealed(source, passphrase) {
  const [salt, prefix] = [randomBytes(16), randomBytes(7)];
  const head = Buffer.concat([MARK, salt, prefix]);
  const key = keyOf(passphrase, salt);
  yield head;
  let number = 0;
  const seal = (text, last) => {
    const cipher = createCipheriv('aes-256-gcm', key, nonceOf(prefix, number++, last));
    cipher.setAAD(head);
    const body = Buffer.concat([cipher.update(text), cipher.final(), cipher.getAuthTag()]);
    const length = Buffer.alloc(4);
    length.writeUInt32BE(body.length);
    return Buffer.concat([length, body]);
  };
  let held = Buffer.alloc(0);
  for await (const piece of source) {
    held = Buffer.concat([held, piece]);
    while (held.length > CHUNK) {
      yield seal(held.subarray(0, CHUNK), false);
      held = held.subarray(CHUNK);
    }
  }
  yield seal(held, true);
}

const damaged = (file, what) => new Stop(`${file} ${what} Nothing was changed.`);

/** The text of a file that was sealed, a chunk at a time, each only once it is known to be as it was written. @throws Stop */
async function* opened(path, passphrase) {
  const file = basename(path);
  const size = statSync(path).size;
  const handle = await open(path, 'r');
  const read = async (bytes, at) => {
    const buffer = Buffer.alloc(bytes);
    const { bytesRead } = await handle.read(buffer, 0, bytes, at);
    return buffer.subarray(0, bytesRead);
  };
  try {
    const head = await read(HEAD, 0);
    if (head.subarray(0, 2).toString('latin1') === 'PK')
      throw damaged(
        file,
        'was made by an earlier version, which protected only a part of it. Read it back with that version, then make a new one.',
      );
    if (!head.subarray(0, MARK.length).equals(MARK)) throw damaged(file, 'is no backup that this program made.');
    if (head.length < HEAD) throw damaged(file, 'breaks off at its beginning.');
    const key = keyOf(passphrase, head.subarray(MARK.length, MARK.length + 16));
    const prefix = head.subarray(MARK.length + 16);
    for (let at = HEAD, number = 0; ; number++) {
      const length = (await read(4, at)).length === 4 ? (await read(4, at)).readUInt32BE() : -1;
      // The end is only where the last chunk says so.
      if (length < 0) throw damaged(file, `breaks off after ${mib(at)}. Fetch it again from where it is kept.`);
      if (length < TAG || length > CHUNK + TAG) throw damaged(file, `is damaged ${mib(at)} from its beginning.`);
      const body = await read(length, at + 4);
      if (body.length < length) throw damaged(file, `breaks off after ${mib(at)}. Fetch it again from where it is kept.`);
      at += 4 + length;
      const open = (last) => {
        try {
          const decipher = createDecipheriv('aes-256-gcm', key, nonceOf(prefix, number, last));
          decipher.setAAD(head);
          decipher.setAuthTag(body.subarray(length - TAG));
          return Buffer.concat([decipher.update(body.subarray(0, length - TAG)), decipher.final()]);
        } catch {
          return null;
        }
      };
      const text = open(false);
      if (text) {
        yield text;
        continue;
      }
      const end = open(true);
      if (!end)
        throw number === 0
          ? damaged(file, 'does not open: the passphrase is wrong, or its beginning was changed.')
          : damaged(file, `was changed or damaged ${mib(at)} from its beginning.`);
      if (at < size) throw damaged(file, `has ${mib(size - at)} behind its end that do not belong to it.`);
      yield end;
      return;
    }
  } finally {
    await handle.close();
  }
}
const mib = (bytes) => `${(bytes / 1024 / 1024).toFixed(1)} MiB`;

const args = (db) => [
  '--no-defaults',
  `--host=${db.DB_HOST}`,
  `--port=${db.DB_PORT}`,
  `--user=${db.DB_USER}`,
  '--default-character-set=utf8mb4',
];
const environment = (db) => ({ ...process.env, MYSQL_PWD: db.DB_PASSWORD });

/** What a client says, without the rows it stopped at: they may be anything that somebody keeps here. */
const withoutRows = (said) =>
  said
    .split('\n')
    .map((line) => /^(?:ERROR|mariadb\S*:).{0,60}?(?=near|: |$)/.exec(line)?.[0].trim() ?? '')
    .filter(Boolean)
    .slice(0, 3)
    .join('; ')
    .replace(/[^\x20-\x7e]/g, '?');

/** Runs a client and waits. Nothing that is fed to it may reach the machine: no commands of the client's own, no files. */
function client(db, database, { input } = {}) {
  const child = spawn('mariadb', [...args(db), '--sandbox', '--binary-mode', '--max-allowed-packet=64M', database], {
    env: environment(db),
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  let said = '';
  let out = '';
  child.stderr.on('data', (d) => (said = (said + d).slice(-4000)));
  child.stdout.on('data', (d) => (out = (out + d).slice(-1_000_000)));
  child.stdin.on('error', () => undefined);
  const done = once(child, 'close').then(([code]) => {
    if (code !== 0)
      throw new Stop(`The database refused what the backup holds (${withoutRows(said) || `code ${code}`}). Nothing was changed.`);
    return out;
  });
  if (input !== undefined) child.stdin.end(input);
  return { child, done };
}
const query = (db, database, sql) => client(db, database, { input: sql }).done;

/**
 * Writes everything the database holds into one file, encrypted and authenticated by the passphrase: a dump made in one
 * transaction while the application runs. The file is whole or not there, and only its owner reads it.
 */
export async function backup({ db, file, passphrase, secrets = null }) {
  if (passphrase.length < 10) throw new Stop('The passphrase must have at least 10 characters. Set BACKUP_PASSPHRASE.');
  const dir = mkdtempSync(join(dirname(file), '.backup-'));
  try {
    const dump = spawn(
      'mariadb-dump',
      [
        ...args(db),
        '--single-transaction',
        '--quick',
        '--skip-lock-tables',
        '--hex-blob',
        '--max-allowed-packet=64M',
        '--net-buffer-length=1M',
        '--skip-comments',
        db.DB_NAME,
      ],
      { env: environment(db), stdio: ['ignore', 'pipe', 'pipe'] },
    );
    let said = '';
    dump.stderr.on('data', (d) => (said = (said + d).slice(-4000)));
    const closed = once(dump, 'close');
    const plain = async function* () {
      yield Buffer.from(`${JSON.stringify({ format: 2, madeAt: new Date().toISOString(), secrets })}\n`);
      yield* dump.stdout;
      const [code] = await closed;
      // A dump that broke off must not become a backup.
      if (code !== 0) throw new Stop(`The database could not be written out (${withoutRows(said)}). Nothing was kept.`);
    };
    await pipeline(
      Readable.from(plain()),
      createGzip({ level: 6 }),
      (text) => sealed(text, passphrase),
      createWriteStream(join(dir, 'whole'), { mode: 0o600 }),
    );
    renameSync(join(dir, 'whole'), file);
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}

/** Takes the first line off a stream of text. */
async function* behindHead(source, tell) {
  let head = Buffer.alloc(0);
  let past = false;
  for await (const piece of source) {
    if (past) {
      yield piece;
      continue;
    }
    head = Buffer.concat([head, piece]);
    const at = head.indexOf(10);
    if (at < 0) continue;
    past = true;
    tell(JSON.parse(head.subarray(0, at).toString('utf8')));
    yield head.subarray(at + 1);
  }
}

/**
 * Reads a backup into an empty database. All of it is checked before anything of it reaches the database; it is loaded under
 * another name and moved in one statement, so that a restore that breaks off leaves the database as empty as it was.
 * @returns what else was kept with it
 */
export async function restore({ db, file, passphrase }) {
  let about = null;
  const text = (tell) => (source) => behindHead(source, tell);
  const gunzip = () => createGunzip();
  try {
    await pipeline(
      Readable.from(opened(file, passphrase)),
      gunzip(),
      text((head) => (about = head)),
      async (source) => {
        for await (const _ of source);
      },
    );
  } catch (error) {
    if (error instanceof Stop) throw error;
    if (error.code === 'ENOENT') throw new Stop(`There is no file ${file}.`);
    throw damaged(basename(file), 'cannot be unpacked.');
  }
  if (about?.format !== 2) throw damaged(basename(file), 'was made by a newer version of this program. Read it back with that one.');
  const tables = (await query(db, db.DB_NAME, 'SHOW TABLES;')).trim();
  if (tables !== '') throw new Stop('The database is not empty. A backup is only read into an empty one, so that nothing is lost.');
  const half = `${db.DB_NAME}_restoring`;
  await query(
    db,
    db.DB_NAME,
    `DROP DATABASE IF EXISTS \`${half}\`; CREATE DATABASE \`${half}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;`,
  );
  const load = client(db, half);
  const loaded = Promise.all([
    load.done,
    pipeline(
      Readable.from(opened(file, passphrase)),
      gunzip(),
      text(() => undefined),
      load.child.stdin,
    ).catch(async (error) => {
      // A client that refused says why itself.
      await load.done;
      throw error;
    }),
  ]);
  await loaded.catch(async (error) => {
    await query(db, db.DB_NAME, `DROP DATABASE IF EXISTS \`${half}\`;`).catch(() => undefined);
    throw error;
  });
  const names = (await query(db, half, 'SHOW TABLES;')).trim().split('\n').slice(1);
  await query(
    db,
    half,
    `RENAME TABLE ${names.map((t) => `\`${half}\`.\`${t}\` TO \`${db.DB_NAME}\`.\`${t}\``).join(', ')}; DROP DATABASE \`${half}\`;`,
  );
  return about.secrets;
}

/** The passphrase from the environment, or from a file that only its owner reads. */
export function passphraseOf(env) {
  if (env.BACKUP_PASSPHRASE) return env.BACKUP_PASSPHRASE;
  if (env.BACKUP_PASSPHRASE_FILE) {
    if ((statSync(env.BACKUP_PASSPHRASE_FILE).mode & 0o077) !== 0)
      throw new Stop(`Others may read ${env.BACKUP_PASSPHRASE_FILE}. Let only its owner read it (chmod 600), then try again.`);
    return readFileSync(env.BACKUP_PASSPHRASE_FILE, 'utf8').trim();
  }
  throw new Stop(
    'Set BACKUP_PASSPHRASE, or BACKUP_PASSPHRASE_FILE to a file that holds it. Without the passphrase nobody can read the backup.',
  );
}
