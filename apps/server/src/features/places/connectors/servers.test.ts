import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chmodSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { createConnection, type AddressInfo } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { parse, walk } from 'css-tree';
import { Secrets } from '../../../platform/secrets.js';
import { davAddresses, fontAddresses, sheetAddresses } from '../../../platform/compute/work/links.js';
import type { PlaceRow } from '../rows.js';
import { PlaceError, type Allowed, type Connector, type RemoteFile } from './connector.js';
import { sheetOf } from './sheet.js';
import { fingerprint, SFTP, targetOf } from './sftp.js';
import { WEBDAV } from './webdav.js';

const dir = mkdtempSync(join(tmpdir(), 'servers-'));
const root = process.getuid?.() === 0;
const ACCOUNT = 'glyph-sftp-test';
const PASSWORD = 'a long password for the test';
const secrets = new Secrets(dir);
const running: ChildProcess[] = [];
let ssh = 0;
let dav = 0;
let hostKey = '';

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as AddressInfo;
      server.close(() => resolve(port));
    });
  });
async function up(port: number): Promise<void> {
  for (let i = 0; i < 100; i++) {
    const open = await new Promise<boolean>((resolve) => {
      const socket = createConnection({ port, host: '127.0.0.1' }, () => resolve(true)).once('error', () => resolve(false));
      socket.once('connect', () => socket.destroy());
    });
    if (open) return;
    await new Promise((r) => setTimeout(r, 50));
  }
  throw new Error(`Nothing listens at ${port}.`);
}
const run = (command: string, args: string[], input = ''): string => {
  const { status, stdout, stderr } = spawnSync(command, args, { input, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command}: ${stderr}`);
  return stdout;
};
/** Debian's openssh-server and lighttpd with its WebDAV module, on loopback, as their packages ship them. */
beforeAll(async () => {
  [ssh, dav] = [await freePort(), await freePort()];
  for (const name of ['host', 'other', 'user']) run('ssh-keygen', ['-q', '-t', 'ed25519', '-N', '', '-f', join(dir, name)]);
  // As OpenSSH itself prints it: "256 SHA256:... comment (ED25519)".
  hostKey = run('ssh-keygen', ['-l', '-f', join(dir, 'host.pub')]).split(' ')[1]!;
  writeFileSync(join(dir, 'keys'), readFileSync(join(dir, 'user.pub')));
  for (const site of ['site', 'dav']) mkdirSync(join(dir, site));
  if (root) {
    mkdirSync('/run/sshd', { recursive: true });
    spawnSync('userdel', [ACCOUNT]);
    run('useradd', ['-M', '-d', dir, '-s', '/bin/sh', ACCOUNT]);
    run('chpasswd', [], `${ACCOUNT}:${PASSWORD}\n`);
  }
  chmodSync(dir, 0o755);
  chmodSync(join(dir, 'site'), 0o777);
  writeFileSync(
    join(dir, 'sshd.conf'),
    `Port ${ssh}\nListenAddress 127.0.0.1\nHostKey ${join(dir, 'host')}\nAuthorizedKeysFile ${join(dir, 'keys')}\nStrictModes no\nUsePAM no\nPermitRootLogin yes\nPasswordAuthentication yes\nPidFile none\nSubsystem sftp internal-sftp\n`,
  );
  running.push(spawn('/usr/sbin/sshd', ['-D', '-e', '-f', join(dir, 'sshd.conf')], { stdio: 'ignore' }));
  writeFileSync(join(dir, 'users'), 'shop:dav password\n');
  writeFileSync(
    join(dir, 'lighttpd.conf'),
    `server.document-root = "${join(dir, 'dav')}"\nserver.bind = "127.0.0.1"\nserver.port = ${dav}\nserver.modules = ( "mod_auth", "mod_authn_file", "mod_webdav" )\nmimetype.assign = ( ".css" => "text/css", ".html" => "text/html", ".woff2" => "font/woff2" )\n$HTTP["request-method"] !~ "^(GET|HEAD)$" {\n  auth.backend = "plain"\n  auth.backend.plain.userfile = "${join(dir, 'users')}"\n  auth.require = ( "" => ( "method" => "basic", "realm" => "site", "require" => "valid-user" ) )\n}\nwebdav.activate = "enable"\n`,
  );
  running.push(spawn('/usr/sbin/lighttpd', ['-D', '-f', join(dir, 'lighttpd.conf')], { stdio: 'ignore' }));
  await Promise.all([up(ssh), up(dav)]);
});
afterAll(() => {
  for (const child of running) child.kill('SIGTERM');
  if (root) spawnSync('userdel', [ACCOUNT]);
  rmSync(dir, { recursive: true, force: true });
});

const allowed = (hosts: string[]): Allowed => ({
  hosts: new Set(hosts),
  folders: dir,
  secrets,
  addresses: (kind, text, at) =>
    Promise.resolve(kind === 'dav' ? davAddresses(text, at) : kind === 'fonts' ? fontAddresses(text, at) : sheetAddresses(text, at)),
});
const here = (): Allowed => allowed([`127.0.0.1:${ssh}`, `127.0.0.1:${dav}`]);
const place = (changes: Partial<PlaceRow>): PlaceRow => ({
  id: 'p',
  workspaceId: 'w',
  name: 'our site',
  profileId: 'website-sftp',
  address: '',
  siteKey: '',
  createdAt: new Date(),
  version: 1,
  rules: null,
  byHand: false,
  login: '',
  hostKey: '',
  page: '',
  ...changes,
});
const bySsh = (changes: Partial<PlaceRow> = {}): PlaceRow =>
  place({
    address: `sftp://127.0.0.1:${ssh}${join(dir, 'site')}`,
    login: userInfo().username,
    siteKey: secrets.seal(readFileSync(join(dir, 'user'), 'utf8')),
    hostKey,
    ...changes,
  });
const byDav = (changes: Partial<PlaceRow> = {}): PlaceRow =>
  place({
    profileId: 'website-webdav',
    address: `http://127.0.0.1:${dav}`,
    login: 'shop',
    siteKey: secrets.seal('dav password'),
    ...changes,
  });
const file = (name: string, bytes: Uint8Array): RemoteFile => ({
  name,
  mediaType: 'font/woff2',
  family: 'A',
  bytes,
  statement: '',
  upload: '',
});
const why = async (work: Promise<unknown>): Promise<[string, string, string | null]> => {
  try {
    await work;
    return ['done', '', null];
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    return [error.kind, error.message, error.setting];
  }
};

test.each<[string, Connector, () => PlaceRow, string]>([
  ['SFTP with a key, against OpenSSH', SFTP, bySsh, 'site'],
  ['WebDAV, against lighttpd', WEBDAV, byDav, 'dav'],
])('%s: put, listed, read, replaced, removed, and the style sheet beside it', async (_what, connector, make, folder) => {
  const at = make();
  await connector.try(at, here());
  await connector.try(at, here());
  expect((await connector.list(at, here())).files).toEqual([]);
  const large = new Uint8Array(3_000_000).map((_, i) => i * 31);
  await connector.put(at, here(), file('Serif.aa.woff2', large));
  await connector.put(at, here(), file('Serif.bb.woff2', Uint8Array.of(1, 2, 3)));
  // The same name again takes the old one's place as a whole.
  await connector.put(at, here(), file('Serif.bb.woff2', Uint8Array.of(4, 5)));
  expect((await connector.list(at, here())).files.map((f) => f.name).sort()).toEqual(['Serif.aa.woff2', 'Serif.bb.woff2']);
  const back = await connector.read(at, here(), 'Serif.aa.woff2');
  expect(createHash('sha256').update(back!).digest('hex')).toBe(createHash('sha256').update(large).digest('hex'));
  expect([...(await connector.read(at, here(), 'Serif.bb.woff2'))!]).toEqual([4, 5]);
  expect(await connector.read(at, here(), 'Serif.cc.woff2')).toBeNull();
  await connector.sheet!(at, here(), 'a {}');
  await connector.sheet!(at, here(), 'b {}');
  expect(readFileSync(join(dir, folder, 'fonts.css'), 'utf8')).toBe('b {}');
  // Nothing half written is left lying about.
  expect(readdirSync(join(dir, folder, 'fonts')).sort()).toEqual(['Serif.aa.woff2', 'Serif.bb.woff2']);
  expect([await connector.remove(at, here(), 'Serif.aa.woff2'), await connector.remove(at, here(), 'Serif.aa.woff2')]).toEqual([
    'removed',
    'absent',
  ]);
  expect(await why(connector.put(at, here(), file('../outside.woff2', Uint8Array.of(1))))).toEqual([
    'refused',
    expect.stringMatching(/takes no file of the name/),
    null,
  ]);
  expect(statSync(dir).isDirectory()).toBe(true);
});

test('SFTP by password, where an account for it can be made', async () => {
  if (!root) return;
  const at = bySsh({ login: ACCOUNT, siteKey: secrets.seal(PASSWORD) });
  chmodSync(join(dir, 'site/fonts'), 0o777);
  await SFTP.put(at, here(), file('Word.woff2', Uint8Array.of(9)));
  expect([...(await SFTP.read(at, here(), 'Word.woff2'))!]).toEqual([9]);
  expect(await why(SFTP.try(bySsh({ login: ACCOUNT, siteKey: secrets.seal('wrong') }), here()))).toEqual([
    'refused',
    expect.stringMatching(/does not let/),
    'key',
  ]);
});

test('a host key is asked for, checked, and a changed one stops everything', async () => {
  expect(fingerprint(Buffer.from(readFileSync(join(dir, 'host.pub'), 'utf8').split(' ')[1]!, 'base64'))).toBe(hostKey);
  expect(await why(SFTP.try(bySsh({ hostKey: '' }), here()))).toEqual(['refused', expect.stringContaining(hostKey), 'hostKey']);
  const other = run('ssh-keygen', ['-l', '-f', join(dir, 'other.pub')]).split(' ')[1]!;
  expect(await why(SFTP.put(bySsh({ hostKey: other }), here(), file('x.woff2', Uint8Array.of(1))))).toEqual([
    'refused',
    expect.stringMatching(/another host key than before/),
    'hostKey',
  ]);
  expect(readdirSync(join(dir, 'site/fonts'))).not.toContain('x.woff2');
});

test('private networks, wrong folders and passwords, and silence are told apart', async () => {
  expect(await why(SFTP.try(bySsh(), allowed([])))).toEqual(['unreachable', expect.stringMatching(/private network/), 'address']);
  expect(await why(WEBDAV.try(byDav(), allowed([])))).toEqual(['unreachable', expect.stringMatching(/private network/), 'address']);
  expect(await why(SFTP.try(bySsh({ address: `127.0.0.1:${ssh}/no/such` }), here()))).toEqual([
    'refused',
    expect.stringMatching(/no folder/),
    'address',
  ]);
  expect(await why(WEBDAV.put(byDav({ siteKey: secrets.seal('wrong') }), here(), file('x.woff2', Uint8Array.of(1))))).toEqual([
    'refused',
    expect.stringMatching(/HTTP 401/),
    'key',
  ]);
  const nobody = await freePort();
  expect((await why(SFTP.try(bySsh({ address: `127.0.0.1:${nobody}/a` }), allowed([`127.0.0.1:${nobody}`]))))[0]).toBe('unreachable');
  // A key sealed on another machine cannot be opened here.
  expect(await why(SFTP.try(bySsh({ siteKey: new Secrets(mkdtempSync(join(tmpdir(), 'keys-'))).seal('x') }), here()))).toEqual([
    'refused',
    expect.stringMatching(/Enter it again/),
    'key',
  ]);
  for (const address of ['sftp://a:b@host/x', 'sftp://'])
    expect(await why(Promise.resolve().then(() => targetOf({ address, name: 'x' })))).toEqual(['refused', expect.any(String), 'address']);
});

test('a visitor’s browser is followed from the page over its sheet to the file', async () => {
  const at = byDav({ page: `http://127.0.0.1:${dav}/index.html` });
  const bytes = Uint8Array.of(7, 7);
  const sha = createHash('sha256').update(bytes).digest('hex');
  await WEBDAV.put(at, here(), file('Look.woff2', bytes));
  const look = (): Promise<string | null> => WEBDAV.asVisitor!(at, here(), 'Look.woff2', sha);
  expect(await look()).toMatch(/gets no page/);
  writeFileSync(join(dir, 'dav/index.html'), '<!doctype html><link rel="stylesheet" href="fonts.css">');
  expect(await look()).toMatch(/do not name Look\.woff2/);
  const sheet = sheetOf([{ family: 'Our "Look"', italic: false, weight: '400', format: 'woff2', name: 'Look.woff2', role: 'headings' }]);
  await WEBDAV.sheet!(at, here(), sheet);
  expect(await look()).toBeNull();
  await WEBDAV.put(at, here(), file('Look.woff2', Uint8Array.of(7, 8)));
  expect(await look()).toMatch(/other bytes/);
  // An independent CSS parser finds the rule, its descriptors and the custom property, and no error.
  const found: string[] = [];
  const errors: unknown[] = [];
  walk(parse(sheet, { onParseError: (e) => errors.push(e) }), (node) => {
    if (node.type === 'Declaration') found.push(node.property);
  });
  expect([errors, found]).toEqual([[], ['font-family', 'font-style', 'font-weight', 'font-display', 'src', '--headings']]);
});
