import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankLicense, routes, type ChangedFamilies, type Family, type Library } from '@orderly-glyph/schema';
import { readFont } from '../../../packages/core/test/fonts.js';
import { newOwner, startServer, type Person, type TestServer } from './setup.js';

// Whoever changes something takes over the families in the answer instead of loading the list again. So after every kind of
// change the list held before, with those put in, must be the list that the server gives, kept or computed anew.

let server: TestServer;
let owner: Person;
const folders = mkdtempSync(join(tmpdir(), 'places-'));
beforeAll(async () => {
  server = await startServer({ PLACE_FOLDERS: folders });
  owner = await newOwner(server.address, 'Changes');
  await owner.bringIn([
    ['hand.ttf', readFont('gochiHand')],
    ['literata.ttf', readFont('literata')],
    ['didot.ttf', readFont('didot')],
  ]);
  held = await list();
});
afterAll(async () => {
  await server.stop();
  rmSync(folders, { recursive: true });
});

let held: Map<string, unknown>;
/** Families by name, with what their faces write spelled out, since numbers of lists differ from answer to answer. */
const spelled = ({ runSets, families }: Library): Map<string, Family & { writes: string[] }> =>
  new Map(
    families.map((f) => [f.id, { ...f, faces: f.faces.map((x) => ({ ...x, runs: 0 })), writes: f.faces.map((x) => runSets[x.runs]!) }]),
  );
const list = async (): Promise<Map<string, unknown>> => spelled((await owner.call(routes.listFamilies)).answer);
const named = async (name: string): Promise<Family> =>
  (await owner.call(routes.listFamilies)).answer.families.find((f) => f.name === name)!;

/** Takes an answer over and compares. Returns the names of the families it brought. */
async function takeOver(changed: ChangedFamilies): Promise<string[]> {
  for (const id of changed.gone) held.delete(id);
  for (const [id, family] of spelled(changed)) held.set(id, family);
  const sorted = (m: Map<string, unknown>): unknown[] => [...m].sort(([a], [b]) => (a < b ? -1 : 1));
  expect(sorted(held)).toEqual(sorted(await list()));
  // A change that nobody counted makes the server compute the list anew.
  await server.sql.query('UPDATE workspace SET revision = revision + 1');
  expect(sorted(held)).toEqual(sorted(await list()));
  return changed.families.map((f) => f.name).sort();
}

test('a license that is recorded, corrected, taken off record and put back', async () => {
  const [hand, didot] = [await named('Gochi Hand'), await named('GFS Didot')];
  const fields = {
    ...blankLicense([hand.leadFaceId]),
    name: 'First',
    kind: 'bought' as const,
    uses: { website: 'yes' as const },
    confirmed: true,
  };
  const { answer: first } = await owner.call(routes.createLicense, { body: fields });
  expect(await takeOver(first.changed)).toEqual(['Gochi Hand']);
  expect((await named('Gochi Hand')).verdicts.website).toBe('yes');
  // Both the faces it was for and those it is for now.
  const { answer: moved } = await owner.call(routes.changeLicense, {
    params: { licenseId: first.id },
    body: { ...fields, name: 'Moved', faceIds: [didot.leadFaceId], version: first.version },
  });
  expect(await takeOver(moved.changed)).toEqual(['GFS Didot', 'Gochi Hand']);
  const { answer: removed } = await owner.call(routes.removeLicense, { params: { licenseId: first.id } });
  expect(await takeOver(removed.changed)).toEqual(['GFS Didot']);
  const { answer: back } = await owner.call(routes.restoreLicense, { params: { licenseId: first.id } });
  expect(await takeOver(back.changed)).toEqual(['GFS Didot']);
});

test('what is made here, and the license of what it is made from', async () => {
  const { leadFaceId } = await named('Literata');
  const uses = { website: 'yes', changing: 'yes', 'passing-on': 'yes' } as const;
  const open = { ...blankLicense([leadFaceId]), name: 'Open', kind: 'free' as const, uses, confirmed: true };
  const { answer: license } = await owner.call(routes.createLicense, { body: open });
  expect(await takeOver(license.changed)).toEqual(['Literata']);
  const { answer: made } = await owner.call(routes.createProduct, {
    body: { kind: 'edition', faceIds: [leadFaceId], recipe: { name: 'Packet Serif', languages: ['pl'], formats: ['ttf'] } },
  });
  expect(await takeOver(made.changed)).toEqual(['Packet Serif']);
  const { answer: less } = await owner.call(routes.changeLicense, {
    params: { licenseId: license.id },
    body: { ...open, uses: { ...uses, website: 'no' }, version: license.version },
  });
  // What is made from it asks again.
  expect(await takeOver(less.changed)).toEqual(['Literata', 'Packet Serif']);
  expect((await named('Packet Serif')).verdicts.website).toBe('ask');
});

test('a delivery, a place that is called something else, and a face that comes off it', async () => {
  const { leadFaceId } = await named('Gochi Hand');
  const { answer: license } = await owner.call(routes.createLicense, {
    body: { ...blankLicense([leadFaceId]), name: 'Ours', kind: 'made-here', uses: { 'design-work': 'yes' }, confirmed: true },
  });
  await takeOver(license.changed);
  const { answer: place } = await owner.call(routes.createPlace, { body: { name: 'Studio', profileId: 'folder', address: 'studio' } });
  const placeId = place.id;
  const { answer: check } = await owner.call(routes.checkForPlace, {
    params: { placeId },
    body: { faceIds: [leadFaceId] },
  });
  const { answer: sent } = await owner.call(routes.createDelivery, {
    body: { placeId, faces: [{ faceId: leadFaceId, statement: check[0]!.statement, note: '' }] },
  });
  await owner.finished(sent.jobId);
  const { answer: delivery } = await owner.call(routes.getDelivery, { params: { deliveryId: sent.id } });
  expect(await takeOver(delivery.changed!)).toEqual(['Gochi Hand']);
  expect((await named('Gochi Hand')).places).toEqual(['Studio']);
  const rename = (name: string, version: number) =>
    owner.call(routes.changePlace, { params: { placeId }, body: { name, address: 'studio', key: '', version } });
  const { answer: renamed } = await rename('The workshop', place.version);
  expect(await takeOver(renamed.changed)).toEqual(['Gochi Hand']);
  expect((await rename('The workshop', renamed.version)).answer.changed.families).toEqual([]);
  const [install] = (await owner.call(routes.listPlaces)).answer[0]!.installs;
  const { answer: off } = await owner.call(routes.removeInstall, { params: { installId: install!.id } });
  expect(await takeOver(off.changed)).toEqual(['Gochi Hand']);
  expect((await named('Gochi Hand')).places).toEqual([]);
});
