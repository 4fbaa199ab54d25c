import { DERIVED, type Derived, type DerivedValues } from '@orderly-glyph/core';
import { LRUCache } from 'lru-cache';
import type { DataSource, EntityManager } from 'typeorm';

/** A kept fact of a face: which file and face, and the version of the code it is from. */
export interface DerivedRow {
  fileId: string;
  faceIndex: number;
  derivedVersion: number;
}

/** Joins a fact of the faces of `ff` (face_file) as `alias`; its JSON is `alias.value`. */
export const withFact = (fact: Pick<Derived<unknown>, 'id'>, alias: string): string =>
  `LEFT JOIN derived ${alias} ON ${alias}.file_id = ff.file_id AND ${alias}.face_index = ff.face_index AND ${alias}.id = '${fact.id}'`;

/** Facts of one face of a file, to be kept. */
export interface Kept {
  workspaceId: string;
  fileId: string;
  faceIndex: number;
  values: DerivedValues;
}

/** Facts sent in one statement; those of a face may be some hundred KiB. */
const MOST_TEXT = 4 * 1024 * 1024;

/** Keeps facts of faces; what is there of them is replaced. */
export async function keepFacts(manager: EntityManager, faces: readonly Kept[]): Promise<void> {
  let rows: unknown[][] = [];
  let length = 0;
  const send = async (): Promise<void> => {
    if (rows.length > 0)
      await manager.query('REPLACE INTO derived (file_id, face_index, id, version, value, workspace_id) VALUES ?', [rows]);
    rows = [];
    length = 0;
  };
  for (const { workspaceId, fileId, faceIndex, values } of faces)
    for (const fact of DERIVED) {
      if (!(fact.id in values)) continue;
      const value = JSON.stringify(values[fact.id] ?? null);
      rows.push([fileId, faceIndex, fact.id, fact.version, value, workspaceId]);
      length += value.length;
      if (length > MOST_TEXT) await send();
    }
  await send();
}

/** Files of which some fact is missing or of an older version, with the ids of those facts. */
export async function staleFacts(
  db: DataSource | EntityManager,
  workspaceId: string,
  facts: readonly Derived<unknown>[] = DERIVED,
): Promise<Map<string, string[]>> {
  const out = new Map<string, string[]>();
  for (const fact of facts) {
    const rows = (await db.query(
      `SELECT DISTINCT ff.file_id AS fileId FROM face_file ff ${withFact(fact, 'd')} WHERE ff.workspace_id = ? AND (d.version IS NULL OR d.version < ?)`,
      [workspaceId, fact.version],
    )) as { fileId: string }[];
    for (const { fileId } of rows) out.set(fileId, [...(out.get(fileId) ?? []), fact.id]);
  }
  return out;
}

/** Says that facts are as new as the code, where a file that was read once cannot be read any more. */
export async function acceptFacts(db: DataSource, workspaceId: string, fileId: string, ids: readonly string[]): Promise<void> {
  for (const fact of DERIVED.filter((d) => ids.includes(d.id)))
    await db.query(
      `INSERT INTO derived (file_id, face_index, id, version, value, workspace_id)
       SELECT ff.file_id, ff.face_index, ?, ?, 'null', ? FROM face_file ff WHERE ff.file_id = ? ON DUPLICATE KEY UPDATE version = VALUES(version)`,
      [fact.id, fact.version, workspaceId, fileId],
    );
}

/** More faces than this are not kept; a library has a tenth of it. */
const MOST_KEPT = 60_000;
const PART = 1000;

/** A fact never changes for a file and a version of the code, so it is read and parsed once a server. */
export class KeptFact<T extends object> {
  private readonly kept: LRUCache<string, T>;

  constructor(
    private readonly fact: Derived<unknown>,
    private readonly parse: (text: string) => T,
  ) {
    this.kept = new LRUCache({ max: MOST_KEPT });
  }

  /** The fact of each row, undefined where it is still to be computed or is none. */
  async of(db: DataSource, rows: readonly DerivedRow[]): Promise<(T | undefined)[]> {
    const keyOf = (r: DerivedRow): string => `${r.fileId}/${r.faceIndex}/${r.derivedVersion}`;
    // What is asked for is held by the call itself, so that more faces than are kept still get their facts.
    const values = new Map<string, T>();
    const unknown = rows.filter((r) => {
      const value = this.kept.get(keyOf(r));
      if (value) values.set(keyOf(r), value);
      return !value;
    });
    for (let i = 0; i < unknown.length; i += PART) {
      const found = (await db.query(
        'SELECT file_id AS fileId, face_index AS faceIndex, version AS derivedVersion, value FROM derived WHERE id = ? AND file_id IN (?)',
        [this.fact.id, [...new Set(unknown.slice(i, i + PART).map((r) => r.fileId))]],
      )) as (DerivedRow & { value: string })[];
      for (const row of found) {
        if (row.value === 'null') continue;
        const value = this.parse(row.value);
        values.set(keyOf(row), value);
        this.kept.set(keyOf(row), value);
      }
    }
    return rows.map((r) => values.get(keyOf(r)));
  }
}
