import { scripts } from '@orderly-glyph/core';
import { filterFor, type ChangedFamilies, library as librarySchema, type Filtered, type Library, type Wanted } from '@orderly-glyph/schema';
import { LRUCache } from 'lru-cache';
import type { DataSource } from 'typeorm';
import { dayIn } from '../accounts/index.js';
import { byName, listLibrary } from './library.js';
import { CollectionEntity } from './rows.js';

interface Snapshot {
  key: string;
  at: number;
  /** The checked answer as it is sent; written when somebody asks for it. */
  json: string;
  library: Library;
  filtered: Filtered[];
}

/** Should a server die between a change and the count, nothing stale is shown for longer than this. */
const LONGEST = 60_000;

/** The library of a workspace as last computed, kept while nothing changed. Verdicts depend on the day, and so does it. */
export class Snapshots {
  private readonly held = new LRUCache<string, { key: string; snapshot: Promise<Snapshot> }>({ max: 20 });

  constructor(private readonly db: DataSource) {}

  async get(workspaceId: string): Promise<Snapshot> {
    const [row] = (await this.db.query('SELECT revision, time_zone AS zone FROM workspace WHERE id = ?', [workspaceId])) as {
      revision: string;
      zone: string;
    }[];
    const key = `${row?.revision ?? 0}/${dayIn(row?.zone ?? 'UTC')}`;
    const known = this.held.get(workspaceId);
    if (known?.key === key) {
      const snapshot = await known.snapshot;
      if (Date.now() - snapshot.at < LONGEST) return snapshot;
    }
    return this.hold(workspaceId, key, this.make(workspaceId, key));
  }

  private hold(workspaceId: string, key: string, snapshot: Promise<Snapshot>): Promise<Snapshot> {
    this.held.set(workspaceId, { key, snapshot });
    snapshot.catch(() => this.held.delete(workspaceId));
    return snapshot;
  }

  private async make(workspaceId: string, key: string): Promise<Snapshot> {
    return snapshotOf(key, librarySchema.parse(await listLibrary(this.db, workspaceId)));
  }

  /**
   * Some families as they are now, of those that a change touched. What is kept is brought up to date by just these, where
   * nothing else happened since.
   * @param revision the count of changes before this one is counted
   */
  async renew(workspaceId: string, familyIds: readonly string[], revision: number): Promise<ChangedFamilies> {
    const fresh = librarySchema.parse(await listLibrary(this.db, workspaceId, familyIds));
    const here = new Set(fresh.families.map((f) => f.id));
    const gone = familyIds.filter((id) => !here.has(id));
    const held = this.held.get(workspaceId);
    const [before, day] = (held?.key ?? '').split('/');
    if (held && before === String(revision)) {
      // The route that made the change counts it next; the list is then of that count.
      const next = `${revision + 1}/${day}`;
      await this.hold(
        workspaceId,
        next,
        held.snapshot.then((old) => snapshotOf(next, merged(old.library, fresh, new Set(familyIds)), old.at)),
      );
    }
    return { ...fresh, gone };
  }

  /** Families of some faces as they are now. */
  async now(workspaceId: string, faceIds: readonly string[]): Promise<ChangedFamilies> {
    return { ...librarySchema.parse(await listLibrary(this.db, workspaceId, await this.familiesOf(workspaceId, faceIds))), gone: [] };
  }

  /** The same after a change to these faces alone, which the route that answers counts next. */
  async changed(workspaceId: string, faceIds: readonly string[]): Promise<ChangedFamilies> {
    const [row] = (await this.db.query('SELECT revision FROM workspace WHERE id = ?', [workspaceId])) as { revision: string }[];
    return this.renew(workspaceId, await this.familiesOf(workspaceId, faceIds), Number(row?.revision ?? 0));
  }

  /** A face that stands behind another shows with that one's family. */
  private async familiesOf(workspaceId: string, faceIds: readonly string[]): Promise<string[]> {
    if (faceIds.length === 0) return [];
    const rows = (await this.db.query(
      'SELECT DISTINCT f.family_id AS own, front.family_id AS front FROM face f LEFT JOIN face front ON front.id = f.folded_into WHERE f.workspace_id = ? AND f.id IN (?)',
      [workspaceId, [...new Set(faceIds)]],
    )) as { own: string; front: string | null }[];
    return [...new Set(rows.flatMap((r) => (r.front ? [r.own, r.front] : [r.own])))];
  }

  /** Ids of the families that fit a sentence, in the order of the list. */
  async find(workspaceId: string, wanted: Wanted): Promise<{ ids: string[]; of: number }> {
    const { filtered } = await this.get(workspaceId);
    const collection = wanted.collection
      ? await this.db.getRepository(CollectionEntity).findOneBy({ workspaceId, id: wanted.collection })
      : null;
    scriptNames ??= new Map(scripts().map((s) => [s.code, s.name]));
    const fits = filterFor(wanted, collection && !collection.removedAt ? new Set(collection.familyIds ?? []) : null, scriptNames);
    return { ids: filtered.filter(fits).map((f) => f.id), of: filtered.length };
  }
}

/** A list with some families replaced, taken out or added. */
function merged(old: Library, fresh: Library, touched: ReadonlySet<string>): Library {
  // Lists of characters that only the old families had stay until the list is made anew; they cost room, not truth.
  const runSets = [...old.runSets];
  const index = new Map(runSets.map((runs, i) => [runs, i]));
  const families = fresh.families.map((family) => ({
    ...family,
    faces: family.faces.map((face) => {
      const runs = fresh.runSets[face.runs]!;
      let at = index.get(runs);
      if (at === undefined) index.set(runs, (at = runSets.push(runs) - 1));
      return { ...face, runs: at };
    }),
  }));
  return { runSets, families: [...old.families.filter((f) => !touched.has(f.id)), ...families].sort(byName) };
}

function snapshotOf(key: string, library: Library, at = Date.now()): Snapshot {
  let json: string | null = null;
  return {
    key,
    at,
    library,
    filtered: library.families.map((f) => ({ ...f, formats: [...new Set(f.faces.flatMap((x) => x.formats))] })),
    get json() {
      return (json ??= JSON.stringify(library));
    },
  };
}

let scriptNames: Map<string, string> | null = null;
