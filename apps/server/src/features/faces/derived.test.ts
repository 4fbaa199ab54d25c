import type { Derived } from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import { KeptFact, type DerivedRow } from './derived.js';

const FACT: Derived<unknown> = { id: 'widest', version: 2, from: () => null };
/** Answers as the table would, and counts the questions. */
function table() {
  const asked: string[][] = [];
  const db = {
    query: (_sql: string, [, ids]: [string, string[]]) => {
      asked.push(ids);
      return Promise.resolve(
        ids.map((fileId) => ({ fileId, faceIndex: 0, derivedVersion: 2, value: fileId === 'none' ? 'null' : `["${fileId}"]` })),
      );
    },
  } as unknown as DataSource;
  return { db, asked };
}
const row = (fileId: string, derivedVersion = 2): DerivedRow => ({ fileId, faceIndex: 0, derivedVersion });

test('a fact is read once for each file and version, and one that is none is undefined', async () => {
  const { db, asked } = table();
  const fact = new KeptFact<string[]>(FACT, (text) => JSON.parse(text) as string[]);
  expect(await fact.of(db, [row('a'), row('none'), row('b')])).toEqual([['a'], undefined, ['b']]);
  expect(await fact.of(db, [row('b'), row('a')])).toEqual([['b'], ['a']]);
  expect(asked).toEqual([['a', 'none', 'b']]);
  // A newer version is asked for; until it is there nothing older is told in its place.
  expect(await fact.of(db, [row('a', 3)])).toEqual([undefined]);
});

test('more faces than are kept still get their facts, all of them', async () => {
  const { db } = table();
  const fact = new KeptFact<string[]>(FACT, (text) => JSON.parse(text) as string[]);
  const rows = Array.from({ length: 60_500 }, (_, i) => row(`f${i}`));
  const found = await fact.of(db, rows);
  expect(found.filter((f) => f === undefined)).toEqual([]);
  expect(found[0]).toEqual(['f0']);
});
