import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const sha = (bytes: string): string => createHash('sha256').update(bytes).digest('hex');

/** A server that answers as it likes, and a computer that joined it. */
class Stage {
  readonly dir = mkdtempSync(join(tmpdir(), 'computer-'));
  readonly fonts = join(this.dir, 'fonts');
  readonly own = join(this.fonts, 'Orderly Glyph');
  readonly reports: { installId: string; state: string }[][] = [];
  wanted: unknown[] = [];
  remove: unknown[] = [];
  files: Record<string, string | ((response: ServerResponse) => void)> = {};
  /** In place of the list. */
  list: ((response: ServerResponse) => void) | null = null;
  private server!: Server;
  address = '';

  async start(): Promise<this> {
    this.server = createServer((request, response) => {
      const parts: Buffer[] = [];
      request.on('data', (d: Buffer) => parts.push(d));
      request.on('end', () => {
        const path = request.url!.slice('/api/computers/'.length);
        if (path === 'join') return response.end(JSON.stringify({ token: 't', computer: 'Desk', workspace: 'Studio' }));
        if (path === 'sync') {
          this.reports.push((JSON.parse(Buffer.concat(parts).toString()) as { report: { installId: string; state: string }[] }).report);
          if (this.list) return this.list(response);
          return response.end(JSON.stringify({ wanted: this.wanted, remove: this.remove }));
        }
        const file = this.files[path.slice('files/'.length)];
        if (typeof file === 'function') return file(response);
        response.statusCode = file === undefined ? 404 : 200;
        return response.end(file ?? '');
      });
    });
    await new Promise<void>((up) => this.server.listen(0, '127.0.0.1', up));
    this.address = `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
    expect((await this.run('join', this.address, 'code')).status).toBe(0);
    return this;
  }

  want(id: string, name: string, bytes: string): unknown {
    this.files[id] = bytes;
    return { installId: id, name, sha256: sha(bytes), bytes: bytes.length };
  }

  run(...args: string[]): Promise<{ status: number | null; out: string; err: string }> {
    return new Promise((done) => {
      const child = spawn(
        process.execPath,
        ['apps/cli/dist/glyph.js', 'computer', ...args, ...(args[0] === 'sync' ? ['--fonts', this.fonts] : [])],
        { env: { PATH: process.env.PATH, HOME: this.dir, XDG_CONFIG_HOME: join(this.dir, 'config') } },
      );
      let [out, err] = ['', ''];
      child.stdout.on('data', (d) => (out += String(d)));
      child.stderr.on('data', (d) => (err += String(d)));
      child.once('close', (status) => done({ status, out, err }));
    });
  }

  stop(): void {
    this.server.closeAllConnections();
    this.server.close();
    rmSync(this.dir, { recursive: true });
  }
}

let stage: Stage;
beforeEach(async () => {
  stage = await new Stage().start();
});
afterEach(() => stage.stop());
const there = (): string[] => readdirSync(stage.own).sort();

test('fonts come into a folder of our own, newer versions take their place, and withdrawn ones go', async () => {
  stage.wanted = [stage.want('a', 'One.ttf', 'one'), stage.want('b', 'Two.otf', 'two')];
  expect((await stage.run('sync')).status).toBe(0);
  expect(there()).toEqual(['One.ttf', 'Two.otf']);
  stage.wanted = [stage.want('a', 'One.ttf', 'newer')];
  stage.remove = ['b'];
  expect((await stage.run('sync')).status).toBe(0);
  expect([there(), readFileSync(join(stage.own, 'One.ttf'), 'utf8')]).toEqual([['One.ttf'], 'newer']);
  // What is there was told before anything was asked for, and what was done afterwards.
  expect(stage.reports.slice(-2)).toEqual([
    [
      { installId: 'a', state: 'there' },
      { installId: 'b', state: 'there' },
    ],
    [
      { installId: 'b', state: 'removed' },
      { installId: 'a', state: 'there' },
    ],
  ]);
});

test('what a person changed or put there is neither replaced nor removed', async () => {
  mkdirSync(stage.own, { recursive: true });
  writeFileSync(join(stage.own, 'Mine.ttf'), 'mine');
  writeFileSync(join(stage.dir, 'secret'), 'secret');
  symlinkSync(join(stage.dir, 'secret'), join(stage.own, 'Link.ttf'));
  stage.wanted = [stage.want('a', 'One.ttf', 'one'), stage.want('b', 'Mine.ttf', 'theirs'), stage.want('c', 'Link.ttf', 'theirs')];
  const first = await stage.run('sync');
  expect(first.status).toBe(1);
  expect(first.err).toMatch(/Mine\.ttf is there already and is not ours/);
  expect([there(), readFileSync(join(stage.own, 'Mine.ttf'), 'utf8'), readFileSync(join(stage.dir, 'secret'), 'utf8')]).toEqual([
    ['Link.ttf', 'Mine.ttf', 'One.ttf'],
    'mine',
    'secret',
  ]);
  writeFileSync(join(stage.own, 'One.ttf'), 'mended by hand');
  stage.wanted = [stage.want('a', 'One.ttf', 'newer')];
  expect((await stage.run('sync')).err).toMatch(/One\.ttf was changed by somebody else/);
  stage.wanted = [];
  stage.remove = ['a', 'b'];
  await stage.run('sync');
  expect([readFileSync(join(stage.own, 'One.ttf'), 'utf8'), readFileSync(join(stage.own, 'Mine.ttf'), 'utf8')]).toEqual([
    'mended by hand',
    'mine',
  ]);
});

test('an odd entry is told, in characters that can be printed, and the others go on', async () => {
  stage.wanted = [
    null,
    7,
    stage.want('x', '../../up.ttf', 'x'),
    stage.want('y', 'a\u001b[2J\u202egnp.ttf', 'y'),
    { ...(stage.want('z', 'z.ttf', 'z') as object), installId: '../../etc' },
    stage.want('n', 'nul.ttf', 'n'),
    { ...(stage.want('d', 'Damaged.ttf', 'd') as object), sha256: sha('another') },
    stage.want('a', 'One.ttf', 'one'),
  ];
  stage.remove = [null, '../x', '__proto__', 'constructor'];
  const run = await stage.run('sync');
  expect(run.status).toBe(1);
  expect([there(), existsSync(join(stage.dir, 'up.ttf'))]).toEqual([['One.ttf'], false]);
  expect(run.out + run.err).not.toMatch(/[^\P{C}\n]/u);
  expect(run.err).toMatch(/Damaged\.ttf arrived damaged/);
});

test('more bytes than were said are not taken, however many come', async () => {
  let sent = 0;
  const flood = (response: ServerResponse): void => {
    const piece = Buffer.alloc(1 << 20, 32);
    const on = (): void => {
      while (!response.destroyed && sent < 1 << 30) {
        sent += piece.length;
        if (!response.write(piece)) return void response.once('drain', on);
      }
      response.end();
    };
    on();
  };
  stage.wanted = [stage.want('a', 'Flood.ttf', 'tenletters'), stage.want('b', 'One.ttf', 'one')];
  stage.files.a = flood;
  const run = await stage.run('sync');
  expect([run.status, there(), sent < 64 << 20]).toEqual([1, ['One.ttf'], true]);
  expect(run.err).toMatch(/sent more than it had said/);
  sent = 0;
  stage.list = flood;
  expect([(await stage.run('sync')).status, sent < 64 << 20, there()]).toEqual([1, true, ['One.ttf']]);
});

test('an answer that leads elsewhere is not followed, and one that is no list changes nothing', async () => {
  stage.wanted = [stage.want('a', 'One.ttf', 'one')];
  await stage.run('sync');
  stage.list = (response) => response.writeHead(307, { location: `${stage.address}/api/computers/other` }).end();
  expect((await stage.run('sync')).err).toMatch(/does not answer/);
  for (const text of ['null', '{"wanted":{},"remove":"a"}', '<html>']) {
    stage.list = (response) => response.end(text);
    const { err } = await stage.run('sync');
    expect([text, err.includes('at '), there()]).toEqual([text, false, ['One.ttf']]);
  }
});
