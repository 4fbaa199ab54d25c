import { blankLicense, routes, type License, type LicenseFields } from '@orderly-glyph/schema';
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

const websiteOf = async (name: string): Promise<string | undefined> =>
  (await owner.call(routes.listFamilies)).answer.families.find((f) => f.name === name)!.verdicts.website;
const licenseNamed = async (name: string): Promise<License> => (await owner.call(routes.listLicenses)).answer.find((l) => l.name === name)!;
const save = async ({ id, version, ...rest }: License, change: Partial<LicenseFields>): Promise<License> => {
  const fields = Object.fromEntries(
    Object.keys(blankLicense([])).map((key) => [key, rest[key as keyof typeof rest]]),
  ) as unknown as LicenseFields;
  return (await owner.call(routes.changeLicense, { params: { licenseId: id }, body: { ...fields, ...change, version } })).answer;
};

test('what a person answered more strictly stays so at the next release', async () => {
  const [product] = (await owner.call(routes.listProducts)).answer;
  await save(await licenseNamed('Packet Serif, made here'), { uses: { 'online-store': 'yes', website: 'no' }, note: 'Only for the shop.' });
  expect(
    (
      await owner.call(routes.makeRelease, {
        params: { productId: product!.id },
        body: { recipe: product!.releases[0]!.recipe, notes: '' },
      })
    ).status,
  ).toBe(200);
  expect(await licenseNamed('Packet Serif, made here')).toMatchObject({
    uses: { 'online-store': 'yes', website: 'no', 'printed-goods': 'no' },
    note: 'Only for the shop.',
    confirmed: true,
  });
  await save(await licenseNamed('Packet Serif, made here'), { uses: { website: 'yes' } });
});

test('when the record of the source changes, nothing made from it says yes until somebody looked', async () => {
  expect(await websiteOf('Packet Serif')).toBe('yes');
  // A price bears on nothing.
  await save(await licenseNamed('Open'), { price: 12, currency: 'EUR' });
  expect(await websiteOf('Packet Serif')).toBe('yes');
  await save(await licenseNamed('Open'), { uses: { ...OPEN, website: 'no' } });
  expect(await websiteOf('Packet Serif')).toBe('ask');
  expect(await licenseNamed('Packet Serif, made here')).toMatchObject({
    confirmed: false,
    note: expect.stringMatching(/^What is on record for Literata .* changed/),
  });
  await save(await licenseNamed('Open'), { uses: OPEN });
  await save(await licenseNamed('Packet Serif, made here'), { confirmed: true });
  expect(await websiteOf('Packet Serif')).toBe('yes');
  // Taken off record, it gives nothing any more; put back, a person still looks.
  const { id: licenseId } = await licenseNamed('Open');
  await owner.call(routes.removeLicense, { params: { licenseId } });
  expect(await websiteOf('Packet Serif')).toBe('ask');
  await owner.call(routes.restoreLicense, { params: { licenseId } });
  expect(await websiteOf('Packet Serif')).toBe('ask');
});

test('a face of the same name and version that is not ours gets nothing from a license made here', async () => {
  // Somebody's font that says the name, style and version that a first release would have.
  const { items } = await owner.bringIn([
    ['Literata.ttf', readFont('literata')],
    ['Gochi.ttf', readFont('gochiHand')],
  ]);
  await owner.call(routes.createLicense, {
    body: { ...blankLicense([items[1]!.faceId!]), name: 'Hand', kind: 'free', uses: OPEN, confirmed: true },
  });
  const recipe = { name: 'Seed Script', languages: [], formats: ['ttf' as const] };
  const made = (await owner.call(routes.createProduct, { body: { kind: 'edition' as const, faceIds: [items[1]!.faceId!], recipe } }))
    .answer;
  const theirs = made.releases[0]!.files[0]!;
  const bytes = new Uint8Array(await (await owner.raw('GET', `/api/files/${theirs.fileId}/bytes`, null)).arrayBuffer());
  const other = await newOwner(server.address, 'Other');
  const { items: brought } = await other.bringIn([
    ['Seed Script.ttf', bytes],
    ['Gochi.ttf', readFont('gochiHand')],
  ]);
  await other.call(routes.createLicense, {
    body: { ...blankLicense([brought[1]!.faceId!]), name: 'Hand', kind: 'free', uses: OPEN, confirmed: true },
  });
  const { status, answer } = await other.call(routes.createProduct, {
    body: { kind: 'edition' as const, faceIds: [brought[1]!.faceId!], recipe },
  });
  expect([status, JSON.stringify(answer)]).toEqual([
    409,
    expect.stringMatching(/a face of the name “Seed Script” here already.*nothing was made/),
  ]);
  expect((await other.call(routes.listProducts)).answer).toEqual([]);
  expect((await other.call(routes.listLicenses)).answer.map((l) => l.name)).toEqual(['Hand']);
});

test('once the source may not be changed any more, no further release is made, and those before stay', async () => {
  const before = (await owner.call(routes.listProducts)).answer;
  const product = before.find((p) => p.name === 'Packet Serif');
  const license = (await owner.call(routes.listLicenses)).answer.find((l) => l.name === 'Open')!;
  await owner.call(routes.removeLicense, { params: { licenseId: license.id } });
  const { status } = await owner.call(routes.makeRelease, {
    params: { productId: product!.id },
    body: { recipe: product!.releases[0]!.recipe, notes: '' },
  });
  expect(status).toBe(409);
  expect((await owner.call(routes.listProducts)).answer).toEqual(before);
});
