import { spawn } from 'node:child_process';
import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto';
import { createWriteStream, mkdtempSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { once } from 'node:events';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip, gunzipSync, gzipSync } from 'node:zlib';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { Stop } from './system.mjs';

/** Tables with anything that opens something: passwords, keys of places, secret addresses. Their rows go apart, encrypted. */
const SECRET = [
  'account',
  'session',
  'known_browser',
  'password_reset',
  'invitation',
  'sign_in_tries',
  'place',
  'computer',
  'proof_sheet',
  'workspace',
];
const SECRET_ROW = new RegExp(`^INSERT INTO \`(${SECRET.join('|')})\``);
const END = Buffer.from(');\n');
const MAGIC = Buffer.from('OGS1');

const keyOf = (passphrase, salt) => scryptSync(passphrase.normalize('NFKC'), salt, 32, { N: 2 ** 17, r: 8, p: 1, maxmem: 2 ** 28 });

/** AES-256-GCM under a key that scrypt makes of the passphrase: mark, salt, nonce, tag, then the text. */
function encrypt(data, passphrase) {
  const [salt, nonce] = [randomBytes(16), randomBytes(12)];
  const cipher = createCipheriv('aes-256-gcm', keyOf(passphrase, salt), nonce);
  const body = Buffer.concat([cipher.update(data), cipher.final()]);
  return Buffer.concat([MAGIC, salt, nonce, cipher.getAuthTag(), body]);
}
function decrypt(data, passphrase) {
  if (!data.subarray(0, 4).equals(MAGIC)) throw new Stop('This is no backup that this program made. Nothing was changed.');
  const decipher = createDecipheriv('aes-256-gcm', keyOf(passphrase, data.subarray(4, 20)), data.subarray(20, 32));
  decipher.setAuthTag(data.subarray(32, 48));
  try {
    return Buffer.concat([decipher.update(data.subarray(48)), decipher.final()]);
  } catch {
    throw new Stop('The passphrase is wrong, or the backup is damaged. Nothing was changed.');
  }
}

const args = (db) => [
  '--no-defaults',
  `--host=${db.DB_HOST}`,
  `--port=${db.DB_PORT}`,
  `--user=${db.DB_USER}`,
  '--default-character-set=utf8mb4',
];
const environment = (db) => ({ ...process.env, MYSQL_PWD: db.DB_PASSWORD });

/** Runs a client and waits; what it writes to stderr becomes the error. */
function client(db, database, { input } = {}) {
  const child = spawn('mariadb', [...args(db), '--max-allowed-packet=64M', database], {
    env: environment(db),
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  let said = '';
  let out = '';
  child.stderr.on('data', (d) => (said += d));
  child.stdout.on('data', (d) => (out += d));
  const done = once(child, 'close').then(([code]) => {
    if (code !== 0) throw new Stop(`The database refused:\n${said.trim()}`);
    return out;
  });
  if (input !== undefined) child.stdin.end(input);
  return { child, done };
}
const query = (db, database, sql) => client(db, database, { input: sql }).done;

/**
 * Writes everything the database holds into one file: a dump made in one transaction while the application runs, and the
 * rows that open something apart, encrypted by the passphrase. The file is whole or not there.
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
        '--max-allowed-packet=64M',
        '--net-buffer-length=1M',
        '--skip-comments',
        db.DB_NAME,
      ],
      { env: environment(db), stdio: ['ignore', 'pipe', 'pipe'] },
    );
    let said = '';
    dump.stderr.on('data', (d) => (said += d));
    const closed = once(dump, 'close');
    const apart = [];
    // Line ends within values are written as \n, so a line is a row or a statement; a statement goes on until its semicolon.
    const plain = async function* (source) {
      let held = [];
      let secret = false;
      for await (const piece of source) {
        let from = 0;
        for (let at = piece.indexOf(10); at >= 0; at = piece.indexOf(10, from)) {
          held.push(piece.subarray(from, at + 1));
          const line = Buffer.concat(held);
          held = [];
          from = at + 1;
          secret ||= SECRET_ROW.test(line.subarray(0, 60).toString('latin1'));
          if (secret) apart.push(line);
          else yield line;
          if (secret && line.subarray(-3).equals(END)) secret = false;
        }
        if (from < piece.length) held.push(piece.subarray(from));
      }
      if (held.length > 0) yield Buffer.concat(held);
    };
    await pipeline(dump.stdout, plain, createGzip({ level: 6 }), createWriteStream(join(dir, 'data.sql.gz')));
    const [code] = await closed;
    if (code !== 0) throw new Stop(`The database could not be written out:\n${said.trim()}`);
    const hidden = { sql: Buffer.concat(apart).toString('base64'), secrets };
    const zip = new yazl.ZipFile();
    zip.addFile(join(dir, 'data.sql.gz'), 'data.sql.gz', { compress: false });
    zip.addBuffer(encrypt(gzipSync(JSON.stringify(hidden)), passphrase), 'secrets.enc', { compress: false });
    zip.addBuffer(
      Buffer.from(
        'A backup of Orderly Glyph. Read it back with: npm run restore -- FILE\ndata.sql.gz: MariaDB statements. secrets.enc: rows with passwords, keys and secret addresses,\nAES-256-GCM, key by scrypt (N 131072, r 8, p 1) from the passphrase: 4 bytes mark, 16 salt, 12 nonce, 16 tag, then gzip.\n',
      ),
      'README.txt',
    );
    zip.end();
    await pipeline(zip.outputStream, createWriteStream(join(dir, 'whole')));
    renameSync(join(dir, 'whole'), file);
  } finally {
    rmSync(dir, { recursive: true, force: true });
  }
}

function entries(file) {
  return new Promise((resolve, reject) => {
    yauzl.open(file, { lazyEntries: true, autoClose: false }, (error, zip) => {
      if (error) return reject(new Stop(`${file} is no backup that can be opened. Nothing was changed.`));
      const found = new Map();
      zip.on('entry', (e) => {
        found.set(e.fileName, e);
        zip.readEntry();
      });
      zip.on('end', () => resolve({ zip, found }));
      zip.on('error', reject);
      zip.readEntry();
    });
  });
}
const open = (zip, entry) => new Promise((resolve, reject) => zip.openReadStream(entry, (e, s) => (e ? reject(e) : resolve(s))));

/**
 * Reads a backup into an empty database. It is loaded under another name and moved in one statement, so that a restore that
 * breaks off leaves the database as empty as it was.
 * @returns what else was kept with it
 */
export async function restore({ db, file, passphrase }) {
  const { zip, found } = await entries(file);
  try {
    const [data, secret] = [found.get('data.sql.gz'), found.get('secrets.enc')];
    if (!data || !secret) throw new Stop(`${file} is no backup that this program made. Nothing was changed.`);
    const parts = [];
    for await (const p of await open(zip, secret)) parts.push(p);
    const hidden = JSON.parse(gunzipSync(decrypt(Buffer.concat(parts), passphrase)).toString('utf8'));
    const tables = (await query(db, db.DB_NAME, 'SHOW TABLES;')).trim();
    if (tables !== '') throw new Stop('The database is not empty. A backup is only read into an empty one, so that nothing is lost.');
    const half = `${db.DB_NAME}_restoring`;
    await query(
      db,
      db.DB_NAME,
      `DROP DATABASE IF EXISTS \`${half}\`; CREATE DATABASE \`${half}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;`,
    );
    const load = client(db, half);
    await pipeline(await open(zip, data), createGunzip(), load.child.stdin);
    await load.done;
    await query(
      db,
      half,
      `SET FOREIGN_KEY_CHECKS = 0;\n${Buffer.from(hidden.sql, 'base64').toString('utf8')}\nSET FOREIGN_KEY_CHECKS = 1;`,
    );
    const names = (await query(db, half, 'SHOW TABLES;')).trim().split('\n').slice(1);
    await query(
      db,
      half,
      `RENAME TABLE ${names.map((t) => `\`${half}\`.\`${t}\` TO \`${db.DB_NAME}\`.\`${t}\``).join(', ')}; DROP DATABASE \`${half}\`;`,
    );
    return hidden.secrets;
  } finally {
    zip.close();
  }
}

/** The passphrase from the environment, or from a file that only its owner reads. */
export function passphraseOf(env) {
  if (env.BACKUP_PASSPHRASE) return env.BACKUP_PASSPHRASE;
  if (env.BACKUP_PASSPHRASE_FILE) return readFileSync(env.BACKUP_PASSPHRASE_FILE, 'utf8').trim();
  throw new Stop(
    'Set BACKUP_PASSPHRASE, or BACKUP_PASSPHRASE_FILE to a file that holds it. Without the passphrase nobody can read the backup’s secrets.',
  );
}
