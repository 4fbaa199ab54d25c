import { blankLicense, routes } from '@orderly-glyph/schema';
import { faceOf } from '../../../packages/core/test/face.js';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';

let server: TestServer;
let owner: Person;
beforeAll(async () => {
  server = await startServer();
  owner = await newOwner(server.address, 'Maker');
});
afterAll(() => server.stop());

const OPEN = { website: 'yes', 'online-store': 'yes', changing: 'yes', 'passing-on': 'yes', 'printed-goods': 'no' } as const;

test('an edition of an open face is released twice, under a license that gives no more than its source does', async () => {
  const { items } = await owner.bringIn([['Literata.ttf', readFont('literata')]]);
  const faceId = items[0]!.faceId!;
  const body = {
    kind: 'edition' as const,
    faceIds: [faceId],
    recipe: { name: 'Packet Serif', languages: ['pl'], formats: ['ttf' as const, 'woff2' as const] },
  };
  // Without a right to change the file nothing is made.
  const refused = await owner.call(routes.createProduct, { body });
  expect([refused.status, JSON.stringify(refused.answer)]).toEqual([409, expect.stringMatching(/Nothing was made/)]);
  await owner.call(routes.createLicense, { body: { ...blankLicense([faceId]), name: 'Open', kind: 'free', uses: OPEN, confirmed: true } });
  // The name of what it is made of is not free to take.
  const taken = await owner.call(routes.createProduct, { body: { ...body, recipe: { ...body.recipe, name: 'My Literata' } } });
  expect([taken.status, JSON.stringify(taken.answer)]).toEqual([422, expect.stringMatching(/name of the face it is made of/)]);
  expect((await owner.call(routes.listProducts)).answer).toEqual([]);

  const { answer: first, status } = await owner.call(routes.createProduct, { body });
  expect(status).toBe(200);
  expect(first.releases.map((r) => [r.number, r.files.map((f) => f.format)])).toEqual([[1, ['ttf', 'woff2']]]);
  const { answer: second } = await owner.call(routes.makeRelease, {
    params: { productId: first.id },
    body: { recipe: { ...body.recipe, languages: ['pl', 'cs'] }, notes: 'Czech as well.' },
  });
  expect(second.releases.map((r) => [r.number, r.notes])).toEqual([
    [2, 'Czech as well.'],
    [1, ''],
  ]);
  // What was released stays as it was, byte for byte.
  expect(second.releases[1]).toEqual(first.releases[0]);

  const bytesOf = async (release: (typeof second.releases)[number], format: string): Promise<Uint8Array> => {
    const { fileId } = release.files.find((f) => f.format === format)!;
    return new Uint8Array(await (await owner.raw('GET', `/api/files/${fileId}/bytes`, null)).arrayBuffer());
  };
  const [old, now] = [faceOf(await bytesOf(second.releases[1]!, 'ttf')), faceOf(await bytesOf(second.releases[0]!, 'woff2'))];
  expect([old.name(1), old.name(5), now.name(5)]).toEqual(['Packet Serif', 'Version 1.000', 'Version 2.000']);
  // Polish as Wikipedia's pangram has it; Czech only in the second; no Greek in either.
  expect([
    old.writes('Pchnąć w tę łódź jeża lub ośm skrzyń fig'),
    old.writes('ř').length,
    now.writes('Příliš žluťoučký kůň'),
    now.writes('λ').length,
  ]).toEqual([[], 1, [], 1]);

  // It is in the library like any other face: one family, a license made here, and verdicts out of it.
  const family = (await owner.call(routes.listFamilies)).answer.families.find((f) => f.name === 'Packet Serif')!;
  expect(family.faces.length).toBe(2);
  expect(family.verdicts).toMatchObject({ website: 'yes', 'printed-goods': 'no', app: 'ask' });
  const face = (await owner.call(routes.getFace, { params: { faceId: second.releases[0]!.files[0]!.faceId! } })).answer;
  expect(face.licenses.map((l) => [l.kind, l.confirmed])).toEqual([['made-here', true]]);
  expect(face.coverage!.languages.find((l) => l.tag === 'cs')!.level).toBe('full');
});

test('once the source may not be changed any more, no further release is made, and those before stay', async () => {
  const [product] = (await owner.call(routes.listProducts)).answer;
  const license = (await owner.call(routes.listLicenses)).answer.find((l) => l.name === 'Open')!;
  await owner.call(routes.removeLicense, { params: { licenseId: license.id } });
  const { status } = await owner.call(routes.makeRelease, {
    params: { productId: product!.id },
    body: { recipe: product!.releases[0]!.recipe, notes: '' },
  });
  expect(status).toBe(409);
  expect((await owner.call(routes.listProducts)).answer).toEqual([product]);
});
