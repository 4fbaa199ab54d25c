import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { routes } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newOwner, Person, startServer } from './setup.js';

const ROOT = process.cwd();
type Settings = Record<'DB_HOST' | 'DB_PORT' | 'DB_NAME' | 'DB_USER' | 'DB_PASSWORD', string>;
const { backup, restore } = (await import(join(ROOT, 'scripts/lib/backup.mjs'))) as {
  backup(o: { db: Settings; file: string; passphrase: string }): Promise<void>;
  restore(o: { db: Settings; file: string; passphrase: string }): Promise<unknown>;
};
const { startDatabase } = (await import(join(ROOT, 'scripts/lib/database.mjs'))) as {
  startDatabase(o: { dir: string; port: number; forTests: boolean; keepUp: () => Promise<void> }): Promise<{
    settings: Settings;
    pid(): number;
    stop(): Promise<void>;
  }>;
};
const settingsOf = (name: string): Settings => ({
  DB_HOST: '127.0.0.1',
  DB_PORT: process.env.TEST_DB_PORT ?? '4399',
  DB_NAME: name,
  DB_USER: 'glyph',
  DB_PASSWORD: process.env.TEST_DB_PASSWORD ?? '',
});
const alive = (pid: number): boolean => {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
};
const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const dir = mkdtempSync(join(ROOT, '.test/keeping-'));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const TERMS = 'The buyer may print packets and signs. It may not be used on websites. Receipt 12. Amount paid 20 EUR.';
const FONTS: [string, Uint8Array][] = [
  ['serif.ttf', readFont('serifTtf')],
  ['hand.ttf', readFont('gochiHand')],
  ['didot.ttf', readFont('didot')],
];

/** A workspace with faces, a confirmed license with evidence, order and words of its own. */
async function fill(owner: Person): Promise<void> {
  await owner.bringIn([...FONTS, ['terms.txt', Buffer.from(TERMS)]]);
  const { families } = (await owner.call(routes.listFamilies)).answer;
  const hand = families.find((f) => f.name === 'Gochi Hand')!;
  const { answer: license } = await owner.call(routes.createLicense, {
    body: {
      name: 'Bought for the packets',
      kind: 'bought',
      spdxId: null,
      grantor: 'A maker',
      uses: { 'printed-goods': 'yes', website: 'no' },
      startsOn: null,
      endsOn: '2031-02-28',
      note: 'Paid at the fair',
      faceIds: [hand.leadFaceId],
      companionIds: [],
      confirmed: true,
    },
  });
  await owner.raw('POST', `/api/licenses/${license.id}/evidence?name=receipt.txt`, 'Receipt 12. Order number 77. Amount paid 20 EUR', {
    'content-type': 'application/octet-stream',
  });
  await owner.call(routes.changeLibrary, { body: { act: 'label', familyIds: [hand.id], add: ['packets'], remove: [] } });
  await owner.call(routes.changeLibrary, { body: { act: 'rename-family', familyId: hand.id, name: 'Our Hand' } });
  await owner.call(routes.setReadyTexts, { body: [{ language: 'pl', label: 'Polish', text: 'Łubin żółty' }] });
}

/** What a workspace holds, in a form that another installation's can be compared with: bytes by hash, rights by use. */
async function inventory(owner: Person) {
  const { families } = (await owner.call(routes.listFamilies)).answer;
  const faces = [];
  for (const line of families.flatMap((f) => f.faces)) {
    const { answer: face } = await owner.call(routes.getFace, { params: { faceId: line.id } });
    for (const file of face.files) {
      const bytes = new Uint8Array(await (await owner.raw('GET', `/api/files/${file.id}/bytes`)).arrayBuffer());
      faces.push({ family: face.family, style: face.style, file: file.name, sha: sha(bytes), same: sha(bytes) === file.sha256 });
    }
  }
  const licenses = (await owner.call(routes.listLicenses)).answer.map((l) => ({
    name: l.name,
    uses: l.uses,
    endsOn: l.endsOn,
    note: l.note,
    confirmed: l.confirmed,
    version: l.version,
    // A companion that came in an archive carries its path.
    evidence: l.companions.map((c) => c.name.split('/').pop()),
  }));
  return {
    faces: faces.sort((a, b) => a.sha.localeCompare(b.sha)),
    licenses,
    labels: families.flatMap((f) => f.labels.map((l) => `${f.name}: ${l}`)),
    verdicts: families.map((f) => [f.name, f.verdicts]),
    texts: (await owner.call(routes.getReadyTexts)).answer,
  };
}

test('a backup of a running installation comes back in an empty database, every face byte for byte', async () => {
  const server = await startServer();
  const [{ name }] = (await server.sql.query('SELECT DATABASE() AS name'))[0] as unknown as [{ name: string }];
  const owner = await newOwner(server.address, 'Kept');
  await fill(owner);
  const before = await inventory(owner);
  expect(before.faces.map((f) => f.sha)).toEqual(FONTS.map(([, bytes]) => sha(bytes)).sort());
  expect(before.licenses[0]!.evidence).toEqual(['receipt.txt']);
  const file = join(dir, 'kept.backup');
  const passphrase = 'four calm gray herons';
  await backup({ db: settingsOf(name), file, passphrase });
  // Nothing of it is to be read without the passphrase, and nobody else reads the file at all.
  expect(statSync(file).mode & 0o777).toBe(0o600);
  const raw = readFileSync(file);
  const [accounts] = (await server.sql.query('SELECT email, password_hash AS hash FROM account')) as unknown as [
    { email: string; hash: string }[],
  ];
  for (const word of ['INSERT INTO', 'license', ...accounts.flatMap((a) => [a.hash, a.email])])
    expect([word, raw.includes(word)]).toEqual([word, false]);

  const other = `${name}_again`;
  await server.sql.query(`CREATE DATABASE ${other} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  const db = settingsOf(other);
  await expect(restore({ db, file, passphrase: 'four calm gray heron' })).rejects.toThrow('passphrase is wrong');
  const cut = join(dir, 'cut.backup');
  writeFileSync(cut, readFileSync(file).subarray(0, statSync(file).size - 200));
  await expect(restore({ db, file: cut, passphrase })).rejects.toThrow(/breaks off after .* Nothing was changed/);
  // Each kind of damage has its sentence, and none of it reaches the database.
  const changed = (at: number, how: (b: Buffer) => Buffer = (b) => b): string => {
    const copy = how(Buffer.from(raw));
    if (at >= 0) copy[at]! ^= 1;
    writeFileSync(join(dir, 'changed.backup'), copy);
    return join(dir, 'changed.backup');
  };
  const why = (path: string): Promise<string> =>
    restore({ db, file: path, passphrase }).then(
      () => 'read back',
      (e: Error) => e.message,
    );
  expect(await why(changed(0))).toMatch(/is no backup that this program made/);
  expect(await why(changed(20))).toMatch(/passphrase is wrong, or its beginning was changed/);
  // This one is small enough for a single chunk, whose damage looks like another passphrase.
  expect(await why(changed(raw.length - 40))).toMatch(/passphrase is wrong, or its beginning was changed/);
  expect(await why(changed(-1, (b) => Buffer.concat([b, Buffer.from('\\! touch /tmp/x')])))).toMatch(/behind its end/);
  // A chunk that is left out or stands twice: lengths are the first four bytes behind the head of 31.
  const first = raw.readUInt32BE(31) + 4;
  expect(await why(changed(-1, (b) => Buffer.concat([b.subarray(0, 31), b.subarray(31 + first)])))).toMatch(/Nothing was changed/);
  expect(await why(changed(-1, (b) => Buffer.concat([b.subarray(0, 31 + first), b.subarray(31)])))).toMatch(/Nothing was changed/);
  expect(await why(changed(-1, (b) => Buffer.concat([Buffer.from('PK\u0003\u0004'), b])))).toMatch(/earlier version/);
  expect(await why(join(dir, 'nowhere.backup'))).toMatch(/nowhere\.backup/);
  expect((await server.sql.query(`SHOW TABLES FROM ${other}`))[0]).toEqual([]);
  await restore({ db, file, passphrase });
  // A second time would lose what is there.
  await expect(restore({ db, file, passphrase })).rejects.toThrow('not empty');
  await server.kill();
  await server.restart({ DB_NAME: other });
  // The same cookie: sessions came along too.
  expect(await inventory(owner)).toEqual(before);
  await server.sql.query(`DROP DATABASE ${other}`);
  await server.stop();
});

test('a workspace goes into another installation as one open ZIP', async () => {
  const server = await startServer();
  const owner = await newOwner(server.address, 'Kept');
  await fill(owner);
  const before = await inventory(owner);
  const zip = new Uint8Array(await (await owner.raw('GET', '/api/workspace/export')).arrayBuffer());
  const elsewhere = await startServer();
  for (const vouched of [false, true]) {
    const there = await newOwner(elsewhere.address, 'Elsewhere');
    const report = await there.bringIn([['export.zip', zip]]);
    const { status, answer } = await there.call(routes.importWorkspace, { body: { intakeId: report.intake.id, vouched } });
    expect([status, answer.licenses, answer.families]).toEqual([200, 1, 3]);
    const after = await inventory(there);
    expect(after.faces).toEqual(before.faces);
    expect(after.labels).toEqual(before.labels);
    expect(after.texts).toEqual(before.texts);
    expect(after.licenses).toEqual(before.licenses.map((l) => ({ ...l, confirmed: vouched })));
    // Anyone can write into a file that something was confirmed.
    if (vouched) expect(after.verdicts).toEqual(before.verdicts);
    else expect(after.verdicts.flatMap(([, v]) => Object.values(v as object)).includes('yes')).toBe(false);
    expect(answer.left).toEqual(vouched ? [] : ['Nothing is confirmed yet: look at each license.']);
    expect((await there.call(routes.importWorkspace, { body: { intakeId: report.intake.id, vouched } })).status).toBe(409);
  }
  // What is no export is told so, and its files stay.
  const third = await newOwner(elsewhere.address, 'Third');
  const plain = await third.bringIn([FONTS[0]!]);
  expect((await third.call(routes.importWorkspace, { body: { intakeId: plain.intake.id, vouched: true } })).status).toBe(422);
  await server.stop();
  await elsewhere.stop();
});

/** An intake of so many files, each of other bytes, so that each is read: one face with more padding at its end each time. */
async function many(owner: Person, count: number): Promise<string> {
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'many' } });
  for (let i = 0; i < count; i++) {
    const bytes = new Uint8Array(FONTS[1]![1].length + i);
    bytes.set(FONTS[1]![1]);
    await owner.upload(intake.id, `hand-${i}.ttf`, bytes);
  }
  return intake.id;
}

test('the database goes away in the middle of a job: the server stays, says so, and the job goes on when it is back', async () => {
  const port = Number(process.env.TEST_DB_PORT ?? 4399) + 60;
  // It stays away until the test has seen what is answered meanwhile; on a quick machine it is back within 150 ms.
  let mayReturn = () => {};
  const returns = new Promise<void>((resolve) => (mayReturn = resolve));
  const own = await startDatabase({ dir: join(dir, 'db'), port, forTests: true, keepUp: () => returns });
  const env = { ...own.settings, DATA_DIR: join(dir, 'data') };
  const server = await startServer(env);
  const owner = await newOwner(server.address);
  const intakeId = await many(owner, 40);
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId } });
  for (let done = 0; done < 3; await new Promise((r) => setTimeout(r, 30)))
    done = (await owner.call(routes.getJob, { params: { jobId: job.id } })).answer.done;
  process.kill(own.pid(), 'SIGKILL');
  while (alive(own.pid())) await new Promise((r) => setTimeout(r, 20));
  const during = await owner.call(routes.listFamilies);
  expect(during.status).toBe(503);
  expect((during.answer as unknown as { error: { message: string } }).error.message).toMatch(/nothing .*lost|again/i);
  mayReturn();
  for (let back = 503; back !== 200; await new Promise((r) => setTimeout(r, 200)))
    back = (await owner.call(routes.getJob, { params: { jobId: job.id } })).status;
  expect(await owner.finished(job.id)).toBe('done');
  expect(server.child.exitCode).toBeNull();
  const { answer: report } = await owner.call(routes.getIntake, { params: { intakeId } });
  expect(report.items.length).toBe(40);
  expect(report.items.filter((i) => i.state === 'waiting' || i.state === 'refused')).toEqual([]);
  await server.stop();
  await own.stop();
});

test('a full installation or workspace takes nothing more, says so, and loses nothing', async () => {
  const server = await startServer({ WORKSPACE_QUOTA_MIB: '1' });
  const owner = await newOwner(server.address);
  const { answer: intake } = await owner.call(routes.createIntake, { body: { label: 'much' } });
  const big = await owner.upload(intake.id, 'big.bin', new Uint8Array(2 * 1024 * 1024));
  expect(big.status).toBe(413);
  expect(((await big.json()) as { error: { message: string } }).error.message).toMatch(/MiB/);
  expect((await owner.upload(intake.id, 'hand.ttf', FONTS[1]![1])).ok).toBe(true);
  // As if the disk held less than what must stay free for the database.
  await server.kill();
  await server.restart({ MIN_FREE_MIB: '100000000' });
  const full = await owner.upload(intake.id, 'didot.ttf', FONTS[2]![1]);
  expect(full.status).toBe(507);
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId: intake.id } });
  expect(await owner.finished(job.id)).toBe('done');
  expect((await owner.call(routes.listFamilies)).answer.families.map((f) => f.name)).toEqual(['Gochi Hand']);
  // Pages that need no account are only called so often by one address; whoever is signed in goes on working.
  const guest = new Person(server.address);
  let answers = 0;
  while (answers < 400 && (await guest.raw('GET', '/api/public/proofs/guess')).status === 404) answers++;
  expect([answers >= 100, answers < 400]).toEqual([true, true]);
  expect((await owner.call(routes.listFamilies)).status).toBe(200);
  await server.stop();
});

test('a job that failed is started again by a person, and what was done is not done twice', async () => {
  const server = await startServer();
  const owner = await newOwner(server.address);
  const intakeId = await many(owner, 30);
  const { answer: job } = await owner.call(routes.startIntake, { params: { intakeId } });
  // Given up in the middle, as after the sixth death.
  await server.kill();
  await server.sql.query("UPDATE job SET state = 'failed', attempts = 6, claimed_by = NULL WHERE id = ?", [job.id]);
  await server.sql.query("UPDATE intake SET state = 'failed' WHERE id = ?", [intakeId]);
  await server.restart();
  expect((await owner.call(routes.getJob, { params: { jobId: job.id } })).answer.state).toBe('failed');
  expect((await owner.call(routes.retryJob, { params: { jobId: job.id } })).status).toBe(200);
  expect(await owner.finished(job.id)).toBe('done');
  const { answer: report } = await owner.call(routes.getIntake, { params: { intakeId } });
  expect([report.items.length, report.items.filter((i) => i.state === 'waiting')]).toEqual([30, []]);
  expect((await owner.call(routes.retryJob, { params: { jobId: job.id } })).status).toBe(409);
  await server.stop();
});
