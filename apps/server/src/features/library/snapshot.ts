import { scripts } from '@orderly-glyph/core';
import { filterFor, library as librarySchema, type Filtered, type Library, type Wanted } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { dayIn } from '../accounts/index.js';
import { listLibrary } from './library.js';
import { CollectionEntity } from './rows.js';

interface Snapshot {
  key: string;
  at: number;
  /** The checked answer as it is sent. */
  json: string;
  library: Library;
  filtered: Filtered[];
}

/** Should a server die between a change and the count, nothing stale is shown for longer than this. */
const LONGEST = 60_000;
const MOST = 20;

/** The library of a workspace as last computed, kept while nothing changed. Verdicts depend on the day, and so does it. */
export class Snapshots {
  private readonly kept = new Map<string, Promise<Snapshot>>();
  private readonly keys = new Map<string, string>();

  constructor(private readonly db: DataSource) {}

  async get(workspaceId: string): Promise<Snapshot> {
    const [row] = (await this.db.query('SELECT revision, time_zone AS zone FROM workspace WHERE id = ?', [workspaceId])) as {
      revision: string;
      zone: string;
    }[];
    const key = `${row?.revision ?? 0}/${dayIn(row?.zone ?? 'UTC')}`;
    const known = this.kept.get(workspaceId);
    if (known && this.keys.get(workspaceId) === key) {
      const snapshot = await known;
      if (Date.now() - snapshot.at < LONGEST) return snapshot;
    }
    const made = this.make(workspaceId, key);
    this.keys.set(workspaceId, key);
    this.kept.delete(workspaceId);
    this.kept.set(workspaceId, made);
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= MOST) break;
      this.kept.delete(oldest);
    }
    made.catch(() => this.kept.delete(workspaceId));
    return made;
  }

  private async make(workspaceId: string, key: string): Promise<Snapshot> {
    const library = librarySchema.parse(await listLibrary(this.db, workspaceId));
    const filtered = library.families.map((f) => ({ ...f, formats: [...new Set(f.faces.flatMap((x) => x.formats))] }));
    return { key, at: Date.now(), json: JSON.stringify(library), library, filtered };
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

let scriptNames: Map<string, string> | null = null;
