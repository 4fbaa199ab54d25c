import { randomBytes } from 'node:crypto';
import type sharpType from 'sharp';
import { spawn } from 'node:child_process';
import { createRequire } from 'node:module';
import { readFileSync, writeFileSync, mkdtempSync, rmSync, existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { routes, wish as wishSchema, type Job } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, Person, startServer, type TestServer } from './setup.js';

let server: TestServer;
let owner: Person;
let face: string;
beforeAll(async () => {
  server = await startServer({ LIMIT_SIGN_UPS: '0' });
  owner = await newOwner(server.address, 'Fair');
  await owner.bringIn([['literata.ttf', readFont('literata')]]);
  const [first] = (await owner.call(routes.listFamilies)).answer.families;
  face = first!.leadFaceId;
  await owner.call(routes.createLicense, {
    body: {
      ...(await blank()),
      faceIds: [face],
      name: 'Open',
      kind: 'open',
      uses: { changing: 'yes', website: 'yes', logo: 'yes' },
      confirmed: true,
    },
  });
});
afterAll(() => server.stop());
const blank = async () => (await import('@orderly-glyph/schema')).blankLicense([]);

const later = { prefer: 'respond-async, wait=0', 'content-type': 'application/json' };
const convert = (person: Person, headers: Record<string, string> = later, to: 'woff2' | 'woff' | 'otf' = 'otf'): Promise<Response> =>
  person.raw('POST', `/api/faces/${face}/conversion`, JSON.stringify({ wish: wishSchema.parse({ to }), recipeId: null }), headers);
const accepted = async (response: Response): Promise<Job> => {
  expect(response.status).toBe(202);
  const { job } = (await response.json()) as { job: Job };
  expect(response.headers.get('location')).toBe(`/api/jobs/${job.id}`);
  return job;
};
const result = (person: Person, id: string): Promise<Response> => person.raw('GET', `/api/jobs/${id}/result`);

describe('calls that take long', () => {
  test('are jobs: followed, fetched by whoever asked and nobody else, listed until then', async () => {
    const job = await accepted(await convert(owner));
    expect(job).toMatchObject({ kind: 'call', title: 'Converting a font' });
    expect(await owner.finished(job.id)).toBe('done');
    expect((await owner.call(routes.listJobs)).answer.map((j) => [j.id, j.result])).toEqual([[job.id, 'answer']]);
    const editor = await newMember(owner, 'editor');
    expect([(await result(editor, job.id)).status, (await result(new Person(server.address), job.id)).status]).toEqual([404, 401]);
    const answer = await result(owner, job.id);
    expect([answer.status, ((await answer.json()) as { format: string }[])[0]!.format]).toEqual([200, 'otf']);
    expect((await owner.call(routes.listJobs)).answer).toEqual([]);
  });

  test('answer at once where nobody prefers otherwise, with the same bytes as by the job', async () => {
    const address = `/api/faces/${face}/as/woff`;
    const direct = await owner.raw('GET', address);
    const job = await accepted(await owner.raw('GET', address, undefined, { prefer: 'respond-async, wait=0' }));
    await owner.finished(job.id);
    const kept = await result(owner, job.id);
    expect(kept.headers.get('content-disposition')).toBe(direct.headers.get('content-disposition'));
    expect(Buffer.from(await kept.arrayBuffer()).equals(Buffer.from(await direct.arrayBuffer()))).toBe(true);
  });

  test('tell what stood in their way as a direct call would', async () => {
    const wish = JSON.stringify(wishSchema.parse({ to: 'woff2', keep: 'liga', drop: 'kern' }));
    const address = `/api/faces/${face}/conversion?wish=${encodeURIComponent(wish)}`;
    const direct = await owner.raw('GET', address);
    const job = await accepted(await owner.raw('GET', address, undefined, { prefer: 'respond-async, wait=0' }));
    expect(await owner.finished(job.id)).toBe('failed');
    const kept = await result(owner, job.id);
    expect([kept.status, await kept.json()]).toEqual([direct.status, await direct.json()]);
  });

  test('survive a killed server, and what counts once happens once', async () => {
    const { answer: set } = await owner.call(routes.createIconSet, { body: { family: 'Kill', prefix: 'kill-' } });
    // Slow enough to be killed in the middle: blurs are drawn pixel by pixel.
    const drawings = Array.from({ length: 30 }, (_, i) => ({
      path: `d${i}.svg`,
      text: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M${i} 2h9v9z"/></svg>`,
    }));
    const job = await accepted(
      await owner.raw('POST', `/api/icon-sets/${set.id}/drawings`, JSON.stringify({ files: drawings, by: 'itself' }), later),
    );
    await server.kill();
    await server.restart();
    expect(await owner.finished(job.id)).toBe('done');
    const { drawings: there } = (await owner.call(routes.getIconSet, { params: { setId: set.id } })).answer;
    expect(there).toHaveLength(30);
    // Killed after its change went through and before it could say so: it is not done a second time.
    await server.sql.query("UPDATE job SET state = 'queued', result = NULL, claimed_by = NULL WHERE id = ?", [job.id]);
    expect(await owner.finished(job.id)).toBe('failed');
    expect(((await (await result(owner, job.id)).json()) as { error: { code: string } }).error.code).toBe('carried-out');
    expect((await owner.call(routes.getIconSet, { params: { setId: set.id } })).answer.drawings).toHaveLength(30);
  });

  test('are stopped when asked, in the middle of what is computed', async () => {
    const { answer: set } = await owner.call(routes.createIconSet, { body: { family: 'Stop', prefix: 'stop-' } });
    const blurs = Array.from({ length: 40 }, (_, i) => `<filter id="f${i}"><feGaussianBlur stdDeviation="9"/></filter>`).join('');
    const rects = Array.from({ length: 40 }, (_, i) => `<rect width="20" height="20" filter="url(#f${i})"/>`).join('');
    const slow = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${blurs}${rects}</svg>`;
    const job = await accepted(
      await owner.raw(
        'POST',
        `/api/icon-sets/${set.id}/drawings`,
        JSON.stringify({ files: Array.from({ length: 60 }, (_, i) => ({ path: `b${i}.svg`, text: slow })), by: 'itself' }),
        later,
      ),
    );
    while ((await owner.call(routes.getJob, { params: { jobId: job.id } })).answer.state === 'queued')
      await new Promise((r) => setTimeout(r, 20));
    await owner.call(routes.cancelJob, { params: { jobId: job.id } });
    expect(await owner.finished(job.id)).toBe('cancelled');
    expect((await owner.call(routes.getIconSet, { params: { setId: set.id } })).answer.drawings).toEqual([]);
  });

  test('of a person who lost the right meanwhile are not carried out', async () => {
    const editor = await newMember(owner, 'editor');
    const { answer: set } = await owner.call(routes.createIconSet, { body: { family: 'Rights', prefix: 'rights-' } });
    const body = JSON.stringify({
      files: [{ path: 'a.svg', text: '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9z"/></svg>' }],
    });
    // It waits, as behind others, while the role is taken.
    const job = await accepted(await editor.raw('POST', `/api/icon-sets/${set.id}/drawings`, body, later));
    await editor.finished(job.id);
    const [[me]] = (await server.sql.query('SELECT account_id AS id FROM job WHERE id = ?', [job.id])) as unknown as [[{ id: string }]];
    await server.sql.query("UPDATE member SET role = 'viewer' WHERE account_id = ?", [me.id]);
    await server.sql.query("UPDATE job SET state = 'queued', applied = 0, result = NULL, claimed_by = NULL WHERE id = ?", [job.id]);
    expect(await editor.finished(job.id)).toBe('failed');
    expect((await result(editor, job.id)).status).toBe(403);
  });

  test('wait their turn: more than a person may have waiting is refused with when to come back', async () => {
    // As behind a busy server: nothing of this is begun before its time.
    const person = await newOwner(server.address, 'Many');
    await person.bringIn([['a.ttf', readFont('gochiHand')]]);
    const [[{ id: workspace }]] = (await server.sql.query("SELECT id FROM workspace WHERE name = 'Many'")) as unknown as [[{ id: string }]];
    const [[{ id: account }]] = (await server.sql.query('SELECT account_id AS id FROM member WHERE workspace_id = ?', [
      workspace,
    ])) as unknown as [[{ id: string }]];
    for (let i = 0; i < 30; i++)
      await server.sql.query(
        "INSERT INTO job (id, workspace_id, account_id, kind, subject_id, state, created_at, not_before) VALUES (UUID(), ?, ?, 'call', UUID(), 'queued', NOW(3), DATE_ADD(NOW(3), INTERVAL 1 HOUR))",
        [workspace, account],
      );
    const refused = await person.raw('POST', '/api/rights/read', JSON.stringify({ text: 'MIT' }), { 'content-type': 'application/json' });
    expect([refused.status, Number(refused.headers.get('retry-after'))]).toEqual([429, 15]);
    expect(((await refused.json()) as { error: { message: string } }).error.message).toMatch(/You have 30 tasks/);
    // Nobody else is held up.
    expect(
      (await owner.raw('POST', '/api/rights/read', JSON.stringify({ text: 'MIT' }), { 'content-type': 'application/json' })).status,
    ).toBe(200);
  });
});

test('workers end when their server is gone, in the middle of a task, too', async () => {
  const dir = mkdtempSync(join(tmpdir(), 'orphans-'));
  const pool = join(process.cwd(), 'apps/server/dist/platform/compute/pool.js');
  writeFileSync(
    join(dir, 'parent.mjs'),
    `import { Compute } from ${JSON.stringify(pool)};\nconst c = new Compute(1);\nvoid c.run('rehearse', [600000]).catch(() => undefined);\nsetTimeout(() => console.log('busy'), 1500);\nsetInterval(() => undefined, 1000);\n`,
  );
  const parent = spawn(process.execPath, [join(dir, 'parent.mjs')], { stdio: ['ignore', 'pipe', 'ignore'] });
  await new Promise((r) => parent.stdout.once('data', r));
  // Source: proc(5), /proc/pid/task/tid/children.
  const children = readFileSync(`/proc/${parent.pid}/task/${parent.pid}/children`, 'utf8').trim().split(' ').filter(Boolean);
  expect(children.length).toBeGreaterThan(0);
  parent.kill('SIGKILL');
  const alive = (): string[] =>
    children.filter((c) => existsSync(`/proc/${c}`) && !/^State:\s+Z/m.test(readFileSync(`/proc/${c}/status`, 'utf8')));
  for (let i = 0; i < 400 && alive().length > 0; i++) await new Promise((r) => setTimeout(r, 50));
  expect(alive()).toEqual([]);
  rmSync(dir, { recursive: true });
});

describe('pictures', () => {
  const sharp = createRequire(join(process.cwd(), 'packages/node/package.json'))('sharp') as typeof sharpType;
  // A small sheet of noise, shown larger: files as large as real ones, made in a moment.
  const tile = sharp({
    create: { width: 600, height: 600, channels: 3, background: '#fff', noise: { type: 'gaussian', mean: 225, sigma: 6 } },
  })
    .png()
    .toBuffer();
  const picture = async (width: number, height: number, format: 'png' | 'jpeg' | 'tiff' | 'webp'): Promise<Uint8Array> => {
    const large = sharp(await tile, { limitInputPixels: false }).resize({ width, height, fit: 'fill', kernel: 'nearest' });
    return new Uint8Array(await (format === 'png' ? large.png({ compressionLevel: 1 }) : large.toFormat(format)).toBuffer());
  };
  // A4 at 300, 400 and 600 dpi, and as many px as are promised.
  test.each([
    [2480, 3508, ['jpeg', 'png', 'webp', 'tiff']],
    [3307, 4677, ['jpeg', 'png']],
    [4961, 7016, ['jpeg']],
    [7740, 7740, ['jpeg', 'jpeg']],
  ] as const)('of %i by %i px are opened in a fresh and in a used process', async (width, height, formats) => {
    for (const format of formats) {
      const bytes = await picture(width, height, format);
      const response = await owner.raw('POST', '/api/pictures/decoded', bytes as BodyInit, { 'content-type': 'application/octet-stream' });
      const read = (await response.json()) as { width: number; height: number; png: string };
      expect([format, response.status, Math.max(read.width, read.height)]).toEqual([format, 200, 1600]);
      // What was opened can be kept: limits agree with one another, also above the usual one of 2 MiB.
      if (format === 'png' && width === 2480) {
        expect(read.png.length).toBeGreaterThan(2 * 1024 * 1024);
        const kept = await owner.call(routes.createInquiry, { body: { ...INQUIRY, png: read.png } });
        expect(kept.status).toBe(200);
      }
    }
  });

  test('that say they are larger than any page are refused before anything of them is unpacked', async () => {
    const png = Buffer.from(await picture(64, 64, 'png'));
    png.writeUInt32BE(60_000, 16);
    png.writeUInt32BE(60_000, 20);
    const response = await owner.raw('POST', '/api/pictures/decoded', png, { 'content-type': 'application/octet-stream' });
    expect([response.status, ((await response.json()) as { error: { message: string } }).error.message]).toEqual([
      422,
      expect.stringMatching(/3600 million pixels; 60 million are enough/),
    ]);
  });

  const INQUIRY = {
    title: 'Large',
    customer: '',
    note: '',
    price: null,
    currency: null,
    use: 'logo' as const,
    open: true,
    reading: {
      edits: [],
      ground: null,
      ink: null,
      level: null,
      specks: 0,
      pinholes: 0,
      word: '',
      without: [],
      asWord: null,
      stretched: false,
      slanted: false,
    },
    sureness: null,
    candidates: [],
    kept: null,
  };
});

describe('one broken drawing', () => {
  test('is set aside by its name, and the others go on', async () => {
    const { answer: set } = await owner.call(routes.createIconSet, { body: { family: 'Broken', prefix: 'broken-' } });
    const deep = `${'<g>'.repeat(60_000)}<path d="M0 0h9v9z"/>${'</g>'.repeat(60_000)}`;
    const good = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h16v16H4z"/></svg>';
    const { status, answer } = await owner.call(routes.addDrawings, {
      params: { setId: set.id },
      body: {
        files: [
          { path: 'one.svg', text: good },
          { path: 'deep.svg', text: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${deep}</svg>` },
          { path: 'three.svg', text: good.replace('4h16', '5h15') },
        ],
      },
    });
    expect(status).toBe(200);
    const by = new Map(answer.set.drawings.map((d) => [d.name, d]));
    expect([by.get('one')!.path !== '', by.get('three')!.path !== '']).toEqual([true, true]);
    const odd = by.get('deep');
    const told = answer.taken.find((t) => t.path === 'deep.svg');
    expect(odd ? odd.findings.map((f) => f.severity) : told?.refused).toEqual(
      odd ? expect.arrayContaining([expect.any(String)]) : expect.stringMatching(/\w/),
    );
  });
});

describe('the gate of what is written', () => {
  test('knows rows as well as files, counts removed ones until they are freed, and leaves others alone', async () => {
    const person = await newOwner(server.address, 'Small');
    const [[{ id }]] = (await server.sql.query("SELECT id FROM workspace WHERE name = 'Small'")) as unknown as [[{ id: string }]];
    await server.sql.query('UPDATE workspace SET quota_bytes = ? WHERE id = ?', [3 * 1024 * 1024, id]);
    const text = (n: number): Promise<number> =>
      person.call(routes.keepText, { body: { name: `t${n}`, text: randomBytes(70_000).toString('hex') } }).then((r) => r.status);
    const statuses: number[] = [];
    for (let i = 0; i < 30 && statuses[statuses.length - 1] !== 413; i++) statuses.push(await text(i));
    expect(statuses.filter((s) => s === 200).length).toBeGreaterThan(15);
    expect(statuses[statuses.length - 1]).toBe(413);
    // Drawings, jobs with what was sent, and uploads stand before the same gate.
    const { answer: set } = await person.call(routes.createIconSet, { body: { family: 'Full', prefix: 'full-' } });
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0${'h1v1h-1z'.repeat(20_000)}"/></svg>`;
    expect(
      (await person.call(routes.addDrawings, { params: { setId: set.id }, body: { files: [{ path: 'a.svg', text: svg }] } })).status,
    ).toBe(413);
    const { answer: intake } = await person.call(routes.createIntake, { body: { label: 'x' } });
    expect((await person.upload(intake.id, 'a.ttf', readFont('literata'))).status).toBe(413);
    // Reading and small changes go on, and deleting makes room again.
    expect((await person.call(routes.getDesk)).status).toBe(200);
    for (const t of (await person.call(routes.listTexts)).answer) await person.call(routes.dropText, { params: { textId: t.id } });
    expect(await text(99)).toBe(200);
    // A removed inquiry counts until its space is freed.
    const [[{ held }]] = (await server.sql.query('SELECT COALESCE(SUM(held), 0) AS held FROM inquiry WHERE workspace_id = ?', [
      id,
    ])) as unknown as [[{ held: string }]];
    expect(Number(held)).toBe(0);
  });

  test('two uploads at once that fit only one by one do not both go past the quota', async () => {
    const person = await newOwner(server.address, 'Both');
    const [[{ id }]] = (await server.sql.query("SELECT id FROM workspace WHERE name = 'Both'")) as unknown as [[{ id: string }]];
    await server.sql.query('UPDATE workspace SET quota_bytes = ? WHERE id = ?', [3_000_000, id]);
    const { answer: intake } = await person.call(routes.createIntake, { body: { label: 'x' } });
    const bytes = new Uint8Array(2_000_000);
    await Promise.all(Array.from({ length: 6 }, (_, i) => person.upload(intake.id, `${i}.bin`, bytes)));
    const [[{ held }]] = (await server.sql.query('SELECT COALESCE(SUM(bytes), 0) AS held FROM upload WHERE workspace_id = ?', [
      id,
    ])) as unknown as [[{ held: string }]];
    expect(Number(held)).toBeLessThanOrEqual(3_000_000);
  });

  test('what is listed whole is counted', async () => {
    const person = await newOwner(server.address, 'Lists');
    const [[{ id }]] = (await server.sql.query("SELECT id FROM workspace WHERE name = 'Lists'")) as unknown as [[{ id: string }]];
    for (let i = 0; i < 5; i++)
      await server.sql.query(
        `INSERT INTO kept_search (id, workspace_id, name, query, created_at) SELECT UUID(), ?, CONCAT('s', seq), '', NOW(3) FROM seq_${i * 100 + 1}_to_${i * 100 + 100}`,
        [id],
      );
    expect((await person.call(routes.keepSearch, { body: { name: 'one more', query: 'kind=serif' } })).status).toBe(409);
  });
});
