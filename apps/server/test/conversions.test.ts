import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankLicense, routes, wish as wishSchema, type LicenseFields, type Wish } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newMember, newOwner, startServer, type Person, type TestServer } from './setup.js';
import { unzip } from './zips.js';

let server: TestServer;
let owner: Person;
const faces: Record<string, string> = {};
const dir = mkdtempSync(join(tmpdir(), 'conversions-'));

beforeAll(async () => {
  server = await startServer();
  owner = await newOwner(server.address, 'Converter');
  for (const name of ['serifOtf', 'gochiHand', 'serifVariable'] as const)
    faces[name] = (await owner.bringIn([[`${name}.${name === 'serifOtf' ? 'otf' : 'ttf'}`, readFont(name)]])).items[0]!.faceId!;
});
afterAll(async () => {
  await server.stop();
  rmSync(dir, { recursive: true });
});

const wish = (changes: Partial<Wish>): Wish => wishSchema.parse({ to: 'woff2', ...changes });
const license = (names: string[], changes: Partial<LicenseFields>) =>
  owner.call(routes.createLicense, {
    body: { ...blankLicense(names.map((n) => faces[n]!)), name: 'Ours', kind: 'made-here', confirmed: true, ...changes },
  });
const plan = async (name: string, wanted: Wish) =>
  (await owner.call(routes.planConversion, { body: { faceIds: [faces[name]!], wish: wanted } })).answer[0]!;
const convert = (name: string, wanted: Wish, who = owner) =>
  who.call(routes.convertFace, { params: { faceId: faces[name]! }, body: { wish: wanted } });
const bytesOf = async (path: string): Promise<Buffer> => {
  const response = await owner.raw('GET', path);
  expect(response.status).toBe(200);
  return Buffer.from(await response.arrayBuffer());
};
const words = (answer: unknown): string => JSON.stringify(answer);

test('without a right nothing is converted, and the sentence says what is missing', async () => {
  const asked = await plan('gochiHand', wish({ to: 'otf' }));
  expect(asked).toMatchObject({ steps: 'given CFF outlines', stop: null, verdict: { answer: expect.stringMatching(/ask|no/) } });
  const refused = await convert('gochiHand', wish({ to: 'otf' }));
  expect([refused.status, words(refused.answer)]).toEqual([409, expect.stringMatching(/stays as it is/)]);
  const [rows] = await server.sql.query('SELECT COUNT(*) AS n FROM rendition');
  expect(rows).toEqual([{ n: 0 }]);
});

test('what is allowed is made once, proved, and comes out as a file', async () => {
  await license(['serifOtf', 'gochiHand', 'serifVariable'], { uses: { changing: 'yes', website: 'yes' } });
  const wanted = wish({ to: 'ttf', languages: ['pl'], drop: 'smcp, c2sc' });
  expect(await plan('serifOtf', wanted)).toMatchObject({
    verdict: { answer: 'yes' },
    steps: expect.stringMatching(/^cut down to at most \d+ characters, without the features smcp, c2sc, given TrueType outlines$/),
  });
  const { status, answer } = await convert('serifOtf', wanted);
  expect([status, answer.format, answer.fileName]).toEqual([200, 'ttf', 'Source-Serif-4-Regular.ttf']);
  expect(answer.farthest!).toBeLessThan(0.6);
  expect(answer.bytes).toBeLessThan(answer.sourceBytes);
  const bytes = await bytesOf(`/api/faces/${faces.serifOtf}/conversion?wish=${encodeURIComponent(JSON.stringify(wanted))}`);
  expect(bytes.length).toBe(answer.bytes);
  const file = join(dir, 'made.ttf');
  writeFileSync(file, bytes);
  expect(spawnSync('ots-sanitize', [file]).status).toBe(0);
  // The same again is the same row.
  await convert('serifOtf', wanted);
  const [rows] = await server.sql.query(
    'SELECT COUNT(*) AS n FROM rendition WHERE source_sha256 = (SELECT sha256 FROM font_file WHERE name = ?)',
    ['serifOtf.otf'],
  );
  expect(rows).toEqual([{ n: 1 }]);
});

test('instances, words and ranges are what was asked for; what makes no sense is told', async () => {
  const { answer } = await convert('serifVariable', wish({ to: 'otf', at: 'Bold', text: 'Seeds' }));
  expect(answer).toMatchObject({
    format: 'otf',
    fileName: 'Source-Serif-4-Variable-Bold.otf',
    steps: expect.stringMatching(/^fixed at Bold, cut down to at most 4 characters, given CFF outlines$/),
  });
  expect((await plan('serifVariable', wish({ to: 'otf' }))).stop).toMatch(/Choose where its axes stand/);
  // A face that is not variable has no axes to fix.
  expect((await plan('gochiHand', wish({ to: 'ttf', at: 'Bold' }))).steps).toBe('');
  for (const [changes, why] of [
    [{ ranges: 'A-Z' }, /Ranges are written like/],
    [{ keep: 'kern', drop: 'liga' }, /not both/],
  ] as const) {
    const refused = await owner.call(routes.planConversion, { body: { faceIds: [faces.gochiHand!], wish: wish(changes) } });
    expect([changes, refused.status, words(refused.answer)]).toEqual([changes, 422, expect.stringMatching(why)]);
  }
  const outside = await convert('serifVariable', wish({ at: 'wght=2000' }));
  expect([outside.status, words(outside.answer)]).toEqual([422, expect.stringMatching(/goes from 200 to 900/)]);
  const nothing = await convert('gochiHand', wish({ text: '中' }));
  expect([nothing.status, words(nothing.answer)]).toEqual([422, expect.stringMatching(/none of these characters/)]);
  expect((await owner.raw('GET', `/api/faces/${faces.gochiHand}/conversion?wish=x`)).status).toBe(422);
});

test('several come as a ZIP with a report, and those that cannot be made are told in it', async () => {
  const wanted = encodeURIComponent(JSON.stringify(wish({ to: 'otf' })));
  const files = await unzip(
    await bytesOf(`/api/conversions/zip?faces=${faces.gochiHand},${faces.serifOtf},${faces.serifVariable}&wish=${wanted}`),
  );
  expect([...files.keys()].sort()).toEqual(['Gochi-Hand-Regular.otf', 'REPORT.json', 'Source-Serif-4-Regular.otf']);
  const report = JSON.parse(files.get('REPORT.json')!.toString()) as {
    faces: { file: string | null; why?: string; farthest?: number | null; source?: string }[];
  };
  expect(report.faces).toEqual([
    expect.objectContaining({
      file: 'Gochi-Hand-Regular.otf',
      farthest: expect.any(Number),
      source: expect.stringMatching(/^[0-9a-f]{64}$/),
    }),
    expect.objectContaining({ file: 'Source-Serif-4-Regular.otf', steps: '' }),
    { face: expect.stringContaining('Source Serif 4'), file: null, why: expect.stringMatching(/Choose where its axes stand/) },
  ]);
  // What stays as it is comes out byte for byte.
  expect(files.get('Source-Serif-4-Regular.otf')!.equals(Buffer.from(readFont('serifOtf')))).toBe(true);
});

test('a viewer sees what would be done and converts nothing', async () => {
  const viewer = await newMember(owner, 'viewer');
  expect((await viewer.call(routes.planConversion, { body: { faceIds: [faces.gochiHand!], wish: wish({}) } })).status).toBe(200);
  expect((await convert('gochiHand', wish({}), viewer)).status).toBe(403);
});
