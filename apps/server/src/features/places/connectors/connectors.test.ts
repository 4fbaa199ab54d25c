import { profile, PROFILES, type Profile } from '@orderly-glyph/core';
import { connectorOf, CONNECTORS, type Allowed, type Connector, PlaceError, type RemoteFile } from './index.js';
import type { PlaceRow } from '../rows.js';

/** A connector that is not shipped: a shelf in memory. */
const kept = new Map<string, Uint8Array>();
const CUPBOARD: Connector = {
  id: 'cupboard',
  where: () => null,
  try: () => Promise.resolve(),
  list: () => Promise.resolve({ files: [...kept.keys()].map((name) => ({ name, family: null, style: null, sha256: null })), types: null }),
  put(_place, _allowed, file) {
    kept.set(file.name, file.bytes);
    return Promise.resolve();
  },
  read: (_place, _allowed, name) => Promise.resolve(kept.get(name) ?? null),
  remove: (_place, _allowed, name) => Promise.resolve(kept.delete(name) ? 'removed' : 'absent'),
};

test('every kind of place has a connector that is there', () => {
  for (const p of PROFILES) expect(connectorOf(p).id).toBe(p.connector);
  expect(() => connectorOf({ connector: 'none' } as Profile)).toThrow(/no connector none/);
});

test('one more connector is found by its profile and keeps the bargain of all of them', async () => {
  const shelf: Profile = { ...profile('folder')!, id: 'cupboard', connector: 'cupboard' };
  const connector = connectorOf(shelf, [...CONNECTORS, CUPBOARD]);
  const [place, allowed] = [{} as PlaceRow, {} as Allowed];
  const file: RemoteFile = { name: 'a.ttf', mediaType: 'font/ttf', family: 'A', bytes: Uint8Array.of(1, 2), statement: '', upload: 'u' };
  await connector.try(place, allowed);
  expect(await connector.read(place, allowed, 'a.ttf')).toBeNull();
  await connector.put(place, allowed, file);
  expect([(await connector.list(place, allowed)).files.map((f) => f.name), await connector.read(place, allowed, 'a.ttf')]).toEqual([
    ['a.ttf'],
    file.bytes,
  ]);
  expect([await connector.remove(place, allowed, 'a.ttf'), await connector.remove(place, allowed, 'a.ttf')]).toEqual(['removed', 'absent']);
});

test('an error says whether anything can have changed', () => {
  expect(new PlaceError('unknown', 'No answer.').kind).toBe('unknown');
});
