import { generateKeyPairSync } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer as createHttp } from 'node:http';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ssh2 from 'ssh2';
import { davAddresses } from '../../../platform/compute/work/links.js';
import { Secrets } from '../../../platform/secrets.js';
import type { PlaceRow } from '../rows.js';
import { PlaceError, type Allowed } from './connector.js';
import { FOLDER } from './folder.js';
import { askOutside, connectOutside, isPrivate, OutsideError } from './outside.js';
import { WEBDAV } from './webdav.js';

// Errands of this test's SFTP end after two seconds; it is read when the module is.
process.env.SFTP_ERRAND_MS = '2000';
const { fingerprint, SFTP } = await import('./sftp.js');

const dir = mkdtempSync(join(tmpdir(), 'hostile-'));
const secrets = new Secrets(dir);
const closing: (() => void)[] = [];
afterAll(() => {
  closing.forEach((c) => c());
  rmSync(dir, { recursive: true, force: true });
});
const allowed: Allowed = {
  hosts: new Set(['*']),
  folders: join(dir, 'folders'),
  secrets,
  addresses: (_kind, text, at) => Promise.resolve(davAddresses(text, at)),
};
const place = (changes: Partial<PlaceRow>): PlaceRow => ({
  id: 'p',
  workspaceId: 'w',
  name: 'odd site',
  profileId: 'website-sftp',
  address: '',
  siteKey: secrets.seal('key'),
  createdAt: new Date(),
  version: 1,
  rules: null,
  byHand: false,
  login: 'x',
  hostKey: '',
  page: '',
  ...changes,
});
/** A server that says what a test lets it say, whatever it is asked. */
async function raw(speak: (socket: Socket) => void): Promise<number> {
  const server: Server = createServer((socket) => {
    closing.push(() => socket.destroy());
    socket.on('error', () => undefined);
    speak(socket);
  });
  await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
  closing.push(() => server.close());
  return (server.address() as AddressInfo).port;
}
const kindOf = async (work: Promise<unknown>): Promise<string> => {
  try {
    await work;
    return 'answered';
  } catch (error) {
    if (!(error instanceof OutsideError || error instanceof PlaceError)) throw error;
    return error.kind;
  }
};

// Sources: RFC 4291 2.4 and 2.5.5, RFC 3056 (6to4), RFC 3879 (site-local), RFC 4380 (Teredo), RFC 6052, RFC 5737, RFC 3849.
test.each([
  '::127.0.0.1',
  '::7f00:1',
  '2002:7f00:1::1',
  '2002:a00:1::1',
  'fec0::1',
  '2001:0:4136:e378:8000:63bf:3fff:fdd2',
  '64:ff9b::a00:1',
  '64:ff9b:1::a00:1',
  '2001:db8::1',
  '100::1',
  '192.0.2.1',
  '203.0.113.9',
  '192.88.99.1',
  'fe80::1%eth0',
])('%s is no address of a place on the internet', (address) => expect(isPrivate(address)).toBe(true));

describe('an HTTP place', () => {
  const ask = (port: number, method = 'POST', withinMs = 1500): Promise<string> =>
    kindOf(
      askOutside(new URL(`http://127.0.0.1:${port}/`), { method, headers: {}, body: method === 'GET' ? undefined : 'x' }, new Set(['*']), {
        withinMs,
      }),
    );

  test('that switches to another protocol is given up at once, with the connection', async () => {
    let closed = 0;
    const port = await raw((s) => {
      s.on('close', () => closed++);
      s.once('data', () => s.write('HTTP/1.1 101 Switching Protocols\r\nUpgrade: anything\r\nConnection: Upgrade\r\n\r\n'));
    });
    const began = performance.now();
    expect(await ask(port)).toBe('unanswered');
    expect(performance.now() - began).toBeLessThan(1000);
    await new Promise((r) => setTimeout(r, 50));
    expect(closed).toBe(1);
  });

  test('that sends hints without an end, or nothing, or bytes one by one, ends at the deadline or before', async () => {
    const flood = await raw((s) => {
      s.once('data', () => {
        const timer = setInterval(() => s.writable && s.write('HTTP/1.1 103 Early Hints\r\nLink: </a>\r\n\r\n'.repeat(50)), 1);
        s.on('close', () => clearInterval(timer));
      });
    });
    expect(await ask(flood)).toBe('too-large');
    const drip = await raw((s) => {
      s.write('HTTP/1.1 200 OK\r\n');
      const timer = setInterval(() => s.writable && s.write('X-A: b\r\n'), 200);
      s.on('close', () => clearInterval(timer));
    });
    expect(await ask(drip, 'GET', 800)).toMatch(/unanswered|too-large/);
    const silent = await raw(() => undefined);
    expect(await ask(silent, 'GET', 300)).toBe('unanswered');
    const reset = await raw((s) => s.once('data', () => s.resetAndDestroy()));
    expect(await ask(reset)).toBe('unanswered');
    const halved = await raw((s) => s.once('data', () => s.end('HTTP/1.1 200 OK\r\nContent-Length: 100\r\n\r\nabc')));
    expect(await ask(halved, 'GET')).toBe('unanswered');
  });

  test('whose TLS never comes to an end is given up', async () => {
    const port = await raw(() => undefined);
    const began = performance.now();
    expect(
      await kindOf(askOutside(new URL(`https://127.0.0.1:${port}/`), { method: 'GET', headers: {} }, new Set(['*']), { withinMs: 400 })),
    ).toMatch(/un/);
    expect(performance.now() - began).toBeLessThan(2000);
    expect(await kindOf(connectOutside('127.0.0.1', 1, new Set(['*']), 500))).toBe('unreachable');
  });
});

describe('a WebDAV place', () => {
  const listing = async (body: string | ((send: (text: string) => boolean, over: () => boolean) => void)): Promise<PlaceRow> => {
    const server = createHttp((_request, response) => {
      response.on('error', () => undefined);
      response.writeHead(207, { 'content-type': 'application/xml' });
      if (typeof body === 'string') response.end(body);
      else
        body(
          (text) => !response.destroyed && response.write(text),
          () => response.destroyed,
        );
    });
    await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
    closing.push(() => {
      server.closeAllConnections();
      server.close();
    });
    return place({ profileId: 'website-webdav', address: `http://127.0.0.1:${(server.address() as AddressInfo).port}` });
  };
  const of = (hrefs: string[]): string =>
    `<?xml version="1.0"?><multistatus xmlns="DAV:">${hrefs.map((h) => `<response><href>${h}</href></response>`).join('')}</multistatus>`;

  test('names nothing but fonts, whatever its list says', async () => {
    const odd = await listing(
      of([
        '/fonts/Good.woff2',
        '/fonts/%E0%A4%A.woff2',
        '/fonts/a%0a%1b[31m.woff2',
        '/fonts/..%2f..%2fetc.woff2',
        '/fonts/',
        'http://[',
        '/fonts/.hidden.woff2',
        '/fonts/x.php',
      ]),
    );
    expect((await WEBDAV.list(odd, allowed)).files.map((f) => f.name)).toEqual(['Good.woff2']);
  });

  test('is not read further than a list of files is long, nor unfolded', async () => {
    const endless = await listing((send, over) => {
      const more = (): void => {
        for (let i = 0; i < 20; i++) if (!send(`<response>${'x'.repeat(60_000)}</response>`)) break;
        if (!over()) setTimeout(more, 1);
      };
      more();
    });
    expect(await kindOf(WEBDAV.list(endless, allowed))).toBe('unreachable');
    const entities = `<!DOCTYPE a [<!ENTITY a "aaaaaaaaaa">${Array.from({ length: 9 }, (_, i) => `<!ENTITY ${'bcdefghij'[i]} "${`&${'abcdefghi'[i]};`.repeat(10)}">`).join('')}]>`;
    const bomb = await listing(`${entities}${of(['/fonts/&j;.woff2', '/fonts/Good.woff2'])}`);
    const list = await WEBDAV.list(bomb, allowed).catch((e: unknown) => e);
    // Either refused in words, or read without unfolding it; never a billion letters.
    if (list instanceof PlaceError) expect(list.message).toMatch(/cannot be read/);
    else expect((list as { files: { name: string }[] }).files.every((f) => f.name.length < 200)).toBe(true);
  });
});

describe('an SFTP place', () => {
  const { privateKey } = generateKeyPairSync('rsa', {
    modulusLength: 2048,
    privateKeyEncoding: { type: 'pkcs1', format: 'pem' },
    publicKeyEncoding: { type: 'spki', format: 'pem' },
  });
  const key = ssh2.utils.parseKey(privateKey) as ssh2.ParsedKey;
  /** A server of SSH whose files are what a test makes of them. */
  async function host(serve: (sftp: ssh2.SFTPWrapper) => void): Promise<PlaceRow> {
    const server = new ssh2.Server({ hostKeys: [privateKey] }, (client) => {
      client.on('error', () => undefined);
      closing.push(() => client.end());
      client.on('authentication', (c) => c.accept());
      client.on('ready', () => client.on('session', (accept) => accept().on('sftp', (ok) => serve(ok() as unknown as ssh2.SFTPWrapper))));
    });
    await new Promise<void>((r) => server.listen(0, '127.0.0.1', r));
    closing.push(() => server.close());
    return place({
      address: `sftp://127.0.0.1:${(server.address() as AddressInfo).port}/site`,
      hostKey: fingerprint(key.getPublicSSH()),
      siteKey: secrets.seal('pw'),
    });
  }
  type Odd = Record<string, (id: number, ...rest: unknown[]) => void> & {
    on(name: string, f: (id: number, ...rest: unknown[]) => void): void;
  };
  const attrs = { mode: 0o040755, size: 1, uid: 0, gid: 0, atime: 0, mtime: 0 };

  test('that stalls after it was let in ends with its deadline, and says that nobody knows', async () => {
    const stuck = await host(() => undefined);
    const began = performance.now();
    expect(await kindOf(SFTP.list(stuck, allowed))).toBe('unreachable');
    expect(await kindOf(SFTP.remove(stuck, allowed, 'A.woff2'))).toBe('unknown');
    expect(performance.now() - began).toBeLessThan(8000);
  });

  test('whose handshake stalls, or whose folder has no end, ends, too', async () => {
    const port = await raw((s) => s.write('SSH-2.0-slow\r\n'));
    expect(await kindOf(SFTP.list(place({ address: `sftp://127.0.0.1:${port}/x` }), allowed))).toBe('unreachable');
    let sent = 0;
    const endless = await host((wrapper) => {
      const sftp = wrapper as unknown as Odd;
      for (const name of ['STAT', 'LSTAT']) sftp.on(name, (id) => sftp.attrs!(id, attrs));
      sftp.on('REALPATH', (id) => sftp.name!(id, [{ filename: '/site/fonts', longname: '', attrs }]));
      sftp.on('OPENDIR', (id) => sftp.handle!(id, Buffer.from('h')));
      sftp.on('READDIR', (id) => {
        sent++;
        sftp.name!(
          id,
          Array.from({ length: 100 }, (_, i) => ({ filename: `${'n'.repeat(200)}${sent}-${i}.woff2`, longname: 'x'.repeat(200), attrs })),
        );
      });
    });
    const before = process.memoryUsage().rss;
    expect(await kindOf(SFTP.list(endless, allowed))).toBe('unreachable');
    expect((process.memoryUsage().rss - before) / 1024 / 1024).toBeLessThan(400);
  });
});

describe('a folder', () => {
  test('is never left by links that are put in its place, for reading, writing or deleting', async () => {
    const own = join(dir, 'folders/w');
    const outside = join(dir, 'outside');
    mkdirSync(own, { recursive: true });
    mkdirSync(outside);
    writeFileSync(join(outside, 'secret.woff2'), 'secret');
    symlinkSync(outside, join(own, 'Linked'));
    const linked = place({ profileId: 'folder', address: 'Linked' });
    for (const work of [
      () => FOLDER.list(linked, allowed),
      () => FOLDER.read(linked, allowed, 'secret.woff2'),
      () => FOLDER.remove(linked, allowed, 'secret.woff2'),
      () =>
        FOLDER.put(linked, allowed, { name: 'a.woff2', mediaType: '', family: '', bytes: new Uint8Array(1), statement: '', upload: '' }),
    ])
      expect(await kindOf(work())).toBe('refused');
    mkdirSync(join(own, 'Real'));
    symlinkSync(join(outside, 'secret.woff2'), join(own, 'Real/a.woff2'));
    mkdirSync(join(own, 'Real/b.woff2'));
    const real = place({ profileId: 'folder', address: 'Real' });
    expect([await kindOf(FOLDER.read(real, allowed, 'a.woff2')), await kindOf(FOLDER.read(real, allowed, 'b.woff2'))]).toEqual([
      'refused',
      'refused',
    ]);
    await FOLDER.put(real, allowed, { name: 'a.woff2', mediaType: '', family: '', bytes: Uint8Array.of(7), statement: '', upload: '' });
    expect([...(await FOLDER.read(real, allowed, 'a.woff2'))!]).toEqual([7]);
  });
});
