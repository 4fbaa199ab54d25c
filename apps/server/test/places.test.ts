import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { blankLicense, routes, type Delivery } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';

/** What a person presses for another container, or nothing. */
const remediesFor = (to: 'woff2' | null): string[] => (to ? ['way'] : []);

let server: TestServer;
let owner: Person;
let faceId: string;
const folders = mkdtempSync(join(tmpdir(), 'places-'));

/** A site that can be told to misbehave: what it does with the next writing request. */
let mood: 'well' | 'slow' | 'silent' | 'silent and forgetful' | 'fault' | 'leaving' = 'well';
const fonts = new Map<string, Buffer>();
let puts = 0;
const site: Server = createServer((request: IncomingMessage, response: ServerResponse) => {
  const parts: Buffer[] = [];
  request.on('data', (d: Buffer) => parts.push(d));
  request.on('end', () => {
    const name = decodeURIComponent(request.url!.replace('/fonts/', ''));
    const answer = (status: number, body: unknown): void =>
      void response.writeHead(status).end(Buffer.isBuffer(body) ? body : JSON.stringify(body));
    if (request.method === 'GET' && request.url === '/fonts')
      return answer(
        200,
        [...fonts.keys()].map((n) => ({ name: n })),
      );
    if (request.method === 'GET') return fonts.has(name) ? answer(200, fonts.get(name)) : answer(404, { reason: 'No such font.' });
    if (request.url!.startsWith('/roles')) return answer(200, {});
    if (request.method === 'PUT') puts++;
    if (mood !== 'silent and forgetful') {
      if (request.method === 'PUT') fonts.set(name, Buffer.concat(parts));
      if (request.method === 'DELETE' && !fonts.delete(name)) return answer(404, {});
    }
    // It takes the file, says so, and is gone before anybody can look.
    if (mood === 'leaving') {
      response.setHeader('Connection', 'close');
      answer(200, {});
      return void site.close();
    }
    // It takes the file and thinks about it for longer than anybody waits.
    if (mood === 'slow') return;
    if (mood === 'fault') return answer(500, { reason: 'A fault of our own.' });
    // The request was read; no answer ever comes.
    if (mood !== 'well') return void request.socket.destroy();
    return answer(200, {});
  });
});

beforeAll(async () => {
  server = await startServer({ PLACE_FOLDERS: folders });
  owner = await newOwner(server.address, 'Installer');
  await new Promise<void>((r) => site.listen(0, '127.0.0.1', r));
  const { items } = await owner.bringIn([['a.ttf', readFont('gochiHand')]]);
  faceId = items[0]!.faceId!;
  await owner.call(routes.createLicense, {
    body: {
      ...blankLicense([faceId]),
      name: 'Ours',
      kind: 'made-here',
      uses: { website: 'yes', 'design-work': 'yes', changing: 'yes' },
      confirmed: true,
    },
  });
});
afterAll(async () => {
  await server.stop();
  site.closeAllConnections();
  site.close();
  rmSync(folders, { recursive: true });
});

const add = async (profileId: string, name: string, address: string) =>
  owner.call(routes.createPlace, { body: { name, profileId, address, ...(profileId === 'website' ? { key: 'k' } : {}) } });

async function deliver(placeId: string, convertTo: 'woff2' | null): Promise<Delivery> {
  const { answer: check } = await owner.call(routes.checkForPlace, {
    params: { placeId },
    body: { faceIds: [faceId], remedies: remediesFor(convertTo) },
  });
  expect(check[0]).toMatchObject({ clear: true });
  const { answer } = await owner.call(routes.createDelivery, {
    body: { placeId, faces: [{ faceId, remedies: remediesFor(convertTo), statement: check[0]!.statement, note: '' }] },
  });
  await owner.finished(answer.jobId);
  return (await owner.call(routes.getDelivery, { params: { deliveryId: answer.id } })).answer;
}
const installsAt = async (placeId: string) => (await owner.call(routes.listPlaces)).answer.find((p) => p.id === placeId)!.installs;
const events = async (installId?: string): Promise<string[]> =>
  (
    (await server.sql.query(`SELECT kind FROM install_event ${installId ? 'WHERE install_id = ?' : ''} ORDER BY id`, [installId]))[0] as {
      kind: string;
    }[]
  ).map((e) => e.kind);

test('a folder on the server is a place like any other', async () => {
  for (const name of ['../up', '/etc', '.hidden', 'a/b', 'dots..', ''])
    expect([name, (await add('folder', 'Wrong', name)).status]).toEqual([name, 422]);
  const { answer: place } = await add('folder', 'The studio', 'studio');
  expect(place).toMatchObject({ profile: 'Folder on the server', formats: ['otf', 'ttf'], roles: [] });
  const done = await deliver(place.id, null);
  expect(done.items[0]).toMatchObject({ state: 'installed' });
  const [install] = await installsAt(place.id);
  expect(install).toMatchObject({ format: 'ttf', link: null });
  // Folders of a workspace lie in one of its own; the file there is the one that was received.
  const [workspace] = readdirSync(folders);
  const lying = join(folders, workspace!, 'studio', install!.address);
  expect(createHash('sha256').update(readFileSync(lying)).digest('hex')).toBe(
    createHash('sha256').update(readFont('gochiHand')).digest('hex'),
  );
  expect(readdirSync(join(folders, workspace!, 'studio'))).toEqual([install!.address]);
  expect(await events(install!.id)).toEqual(['planned', 'put', 'verified']);
  // Somebody took it away by hand: our record follows.
  rmSync(lying);
  expect((await owner.call(routes.removeInstall, { params: { installId: install!.id } })).status).toBe(200);
  expect([await events(install!.id), await installsAt(place.id)]).toEqual([['planned', 'put', 'verified', 'removing', 'absent'], []]);
});

test('a link that leads out of the folders is no place', async () => {
  const [workspace] = readdirSync(folders);
  const outside = mkdtempSync(join(tmpdir(), 'outside-'));
  symlinkSync(outside, join(folders, workspace!, 'sly'));
  const { status, answer } = await add('folder', 'Sly', 'sly');
  expect([status, JSON.stringify(answer)]).toEqual([422, expect.stringMatching(/leads out of the folders/)]);
  mkdirSync(join(outside, 'x'));
  expect(existsSync(join(outside, 'x'))).toBe(true);
  rmSync(outside, { recursive: true });
});

test('a place that takes a file and does not answer is looked at, and what is there counts', async () => {
  const { port } = site.address() as AddressInfo;
  const { answer: place } = await add('website', 'The shop', `http://127.0.0.1:${port}`);
  mood = 'silent';
  const done = await deliver(place.id, 'woff2');
  mood = 'well';
  expect(done.items[0]).toMatchObject({ state: 'installed', message: expect.stringMatching(/did not answer, yet the file is there/) });
  const [install] = await installsAt(place.id);
  expect(await events(install!.id)).toEqual(['planned', 'put', 'verified']);
  // Taken off without an answer: it is gone, and known to be.
  mood = 'silent';
  expect((await owner.call(routes.removeInstall, { params: { installId: install!.id } })).status).toBe(200);
  mood = 'well';
  expect([fonts.size, await installsAt(place.id)]).toEqual([0, []]);

  // Not there: nothing is counted, and the sentence says that we looked.
  mood = 'silent and forgetful';
  const lost = await deliver(place.id, 'woff2');
  mood = 'well';
  expect(lost.items[0]).toMatchObject({ state: 'refused', message: expect.stringMatching(/We looked: it is not there/) });
  expect(await installsAt(place.id)).toEqual([]);

  // A fault of the site's own after it kept the file.
  mood = 'fault';
  const faulty = await deliver(place.id, 'woff2');
  mood = 'well';
  expect(faulty.items[0]).toMatchObject({ state: 'installed' });
});

test('a place that goes away after it took a file is not said to lack it', async () => {
  const { port } = site.address() as AddressInfo;
  const place = (await owner.call(routes.listPlaces)).answer.find((p) => p.name === 'The shop')!;
  for (const i of place.installs) await owner.call(routes.removeInstall, { params: { installId: i.id } });
  mood = 'leaving';
  const done = await deliver(place.id, 'woff2');
  mood = 'well';
  expect(done.items[0]).toMatchObject({ state: 'unknown', message: expect.stringMatching(/whether the file is there is not known/) });
  expect((await events()).slice(-3)).toEqual(['planned', 'put', 'unknown']);
  // Looked for while it is still away, it stays unknown.
  const look = () => owner.call(routes.lookAgain, { params: { deliveryId: done.id } });
  const away = await look();
  expect([away.status, JSON.stringify(away.answer)]).toEqual([409, expect.stringMatching(/still not known/)]);
  expect((await events()).slice(-1)).toEqual(['unknown']);
  const before = puts;
  await new Promise<void>((r) => site.listen(port, '127.0.0.1', r));
  expect((await look()).answer.items[0]).toMatchObject({ state: 'installed' });
  expect((await events()).slice(-4)).toEqual(['planned', 'put', 'unknown', 'verified']);
  expect([puts, (await installsAt(place.id)).length]).toEqual([before, 1]);
  // The same once more, and this time somebody takes the file away before anybody looks.
  for (const i of await installsAt(place.id)) await owner.call(routes.removeInstall, { params: { installId: i.id } });
  mood = 'leaving';
  const lost = await deliver(place.id, 'woff2');
  mood = 'well';
  fonts.clear();
  await new Promise<void>((r) => site.listen(port, '127.0.0.1', r));
  const { answer } = await owner.call(routes.lookAgain, { params: { deliveryId: lost.id } });
  expect(answer.items[0]).toMatchObject({ state: 'refused', message: expect.stringMatching(/it is not there/) });
  expect([puts, await installsAt(place.id)]).toEqual([before + 1, []]);
});

test('a server killed between sending and recording leaves nothing unknown', async () => {
  const place = (await owner.call(routes.listPlaces)).answer.find((p) => p.name === 'The shop')!;
  for (const i of place.installs) await owner.call(routes.removeInstall, { params: { installId: i.id } });
  const done = await deliver(place.id, 'woff2');
  const [install] = await installsAt(place.id);
  // As a kill right after the site took the file leaves it: planned, sent, and nothing written since.
  await server.kill();
  await server.sql.query("DELETE FROM install_event WHERE install_id = ? AND kind <> 'planned'", [install!.id]);
  await server.sql.query('DELETE FROM install WHERE id = ?', [install!.id]);
  await server.sql.query("UPDATE delivery_item SET state = 'waiting', message = '' WHERE delivery_id = ?", [done.id]);
  await server.sql.query("UPDATE job SET state = 'queued', claimed_by = NULL WHERE id = ?", [done.jobId]);
  const before = puts;
  await server.restart();
  await owner.finished(done.jobId);
  const { answer: again } = await owner.call(routes.getDelivery, { params: { deliveryId: done.id } });
  expect(again.items[0]!.state).toBe('installed');
  // It was found there and not sent a second time, and it is the same install.
  expect(puts).toBe(before);
  expect((await installsAt(place.id)).map((i) => i.id)).toEqual([install!.id]);
  expect(await events(install!.id)).toEqual(['planned', 'verified']);
});

test('a server killed while a place takes a file finds it there when it is back, and sends it once', async () => {
  const place = (await owner.call(routes.listPlaces)).answer.find((p) => p.name === 'The shop')!;
  for (const i of place.installs) await owner.call(routes.removeInstall, { params: { installId: i.id } });
  const { answer: check } = await owner.call(routes.checkForPlace, {
    params: { placeId: place.id },
    body: { faceIds: [faceId], remedies: ['way'] },
  });
  mood = 'slow';
  const before = puts;
  const { answer: begun } = await owner.call(routes.createDelivery, {
    body: { placeId: place.id, faces: [{ faceId, remedies: ['way'], statement: check[0]!.statement, note: '' }] },
  });
  while (puts === before) await new Promise((r) => setTimeout(r, 30));
  await server.kill();
  site.closeAllConnections();
  mood = 'well';
  await server.restart();
  await owner.finished(begun.jobId);
  const { answer: done } = await owner.call(routes.getDelivery, { params: { deliveryId: begun.id } });
  expect(done.items[0]).toMatchObject({ state: 'installed' });
  expect([puts, (await installsAt(place.id)).length]).toEqual([before + 1, 1]);
});

test('what is taken off: gone already counts as gone, and what was not answered stays on the list', async () => {
  const place = (await owner.call(routes.listPlaces)).answer.find((p) => p.name === 'The shop')!;
  const [install] = place.installs;
  const remove = () => owner.call(routes.removeInstall, { params: { installId: install!.id } });
  mood = 'silent and forgetful';
  const unanswered = await remove();
  mood = 'well';
  expect(unanswered.status).toBe(409);
  expect([(await installsAt(place.id)).map((i) => i.id), (await events(install!.id)).slice(-2)]).toEqual([
    [install!.id],
    ['removing', 'unknown'],
  ]);
  // Somebody took it away at the site: it answers 404.
  fonts.clear();
  expect((await remove()).status).toBe(200);
  expect([await installsAt(place.id), (await events(install!.id)).slice(-2)]).toEqual([[], ['removing', 'absent']]);
  expect((await remove()).status).toBe(404);
});

test('a place is forgotten when nothing was ever put there, and kept with its statements otherwise', async () => {
  const { answer: unused } = await add('folder', 'Never used', 'never-used');
  expect((await owner.call(routes.removePlace, { params: { placeId: unused.id } })).status).toBe(200);
  const names = async () => (await owner.call(routes.listPlaces)).answer.map((p) => p.name);
  expect(await names()).not.toContain('Never used');
  const shop = (await owner.call(routes.listPlaces)).answer.find((p) => p.name === 'The shop')!;
  const kept = await owner.call(routes.removePlace, { params: { placeId: shop.id } });
  expect([kept.status, JSON.stringify(kept.answer)]).toEqual([409, expect.stringMatching(/stays on record/)]);
  expect(await names()).toContain('The shop');
});

test('a delivery whose transaction has to give way to another one goes on where it was', async () => {
  const place = (await owner.call(routes.listPlaces)).answer.find((p) => p.name === 'The shop')!;
  const { answer: check } = await owner.call(routes.checkForPlace, {
    params: { placeId: place.id },
    body: { faceIds: [faceId], remedies: ['way'] },
  });
  // A transaction that holds the installs, and has written so much that the database lets the other one give way.
  const { sql } = server;
  const { host, port, user, database } = sql.config;
  const look = await mysql.createConnection({ host, port, user, database, password: process.env.TEST_DB_PASSWORD });
  const deadlocks = async (): Promise<number> => {
    const [rows] = await look.query("SHOW GLOBAL STATUS LIKE 'Innodb_deadlocks'");
    return Number((rows as { Value: string }[])[0]!.Value);
  };
  const before = await deadlocks();
  await look.query('SET SESSION TRANSACTION ISOLATION LEVEL READ UNCOMMITTED');
  await sql.query('CREATE TABLE filler (n INT PRIMARY KEY)');
  await sql.query('START TRANSACTION');
  await sql.query(`INSERT INTO filler VALUES ${Array.from({ length: 2000 }, (_, i) => `(${i})`).join()}`);
  await sql.query('SELECT * FROM install FOR UPDATE');
  const { answer: begun } = await owner.call(routes.createDelivery, {
    body: { placeId: place.id, faces: [{ faceId, remedies: ['way'], statement: check[0]!.statement, note: '' }] },
  });
  const written = async (): Promise<boolean> => {
    const [rows] = await look.query("SELECT id FROM install_event WHERE delivery_id = ? AND kind = 'verified'", [begun.id]);
    return (rows as unknown[]).length > 0;
  };
  while (!(await written())) await new Promise((r) => setTimeout(r, 20));
  // Each now waits for the other.
  await sql.query('SELECT * FROM install_event FOR UPDATE');
  await sql.query('ROLLBACK');
  await owner.finished(begun.jobId);
  const { answer: done } = await owner.call(routes.getDelivery, { params: { deliveryId: begun.id } });
  expect(done.items[0]).toMatchObject({ state: 'installed' });
  expect(await deadlocks()).toBeGreaterThan(before);
  expect((await installsAt(place.id)).length).toBe(1);
  await sql.query('DROP TABLE filler');
  await look.end();
});
