import type { DataSource } from 'typeorm';

/** A face as one file holds it, and the version of the code its derived columns are from. */
export interface DerivedRow {
  faceFileId: string;
  factsVersion: number;
}

/** More faces than this are forgotten all at once; a library has a tenth of it. */
const MOST_KEPT = 60_000;
const PART = 1000;

/** A derived column never changes for a file and a version of the code, so it is read and parsed once a server. */
export class DerivedColumn<T> {
  private readonly kept = new Map<string, T>();

  constructor(
    private readonly column: 'line' | 'likeness',
    private readonly parse: (text: string) => T,
  ) {}

  /** The column of each row, undefined where it is still to be computed. */
  async of(db: DataSource, rows: readonly DerivedRow[]): Promise<(T | undefined)[]> {
    const keyOf = (r: DerivedRow): string => `${r.faceFileId}/${r.factsVersion}`;
    const unknown = rows.filter((r) => !this.kept.has(keyOf(r)));
    if (this.kept.size + unknown.length > MOST_KEPT) this.kept.clear();
    for (let i = 0; i < unknown.length; i += PART) {
      const found = (await db.query(
        `SELECT id AS faceFileId, facts_version AS factsVersion, ${this.column} AS value FROM face_file WHERE id IN (?)`,
        [unknown.slice(i, i + PART).map((r) => r.faceFileId)],
      )) as (DerivedRow & { value: string | null })[];
      for (const row of found) if (row.value !== null) this.kept.set(keyOf(row), this.parse(row.value));
    }
    return rows.map((r) => this.kept.get(keyOf(r)));
  }
}
