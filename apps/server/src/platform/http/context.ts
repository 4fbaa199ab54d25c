import type { ChangedFamilies, Role } from '@orderly-glyph/schema';
import type { Request } from 'express';
import type { DataSource } from 'typeorm';
import type { BytesColumn, RemovedRows } from '../blobs/refs.js';
import type { Compute } from '../compute/pool.js';
import type { Config } from '../config.js';
import type { CallRoute } from '../jobs/calls.js';
import type { JobRunner } from '../jobs/runner.js';
import type { Secrets } from '../secrets.js';

/** Who calls, worked out anew at every request so that a changed role takes effect at once. */
export interface Caller {
  accountId: string;
  name: string;
  workspaceId: string | null;
  role: Role | null;
  /** A visitor of the sample business, who shares the account with others. */
  demo: boolean;
}

/** What speaking to places takes, and what the operator of this server lets them be. */
export interface AllowedPlaces {
  /** Places in private networks, as host:port. */
  hosts: ReadonlySet<string>;
  /** The folder in which places that are folders lie. */
  folders: string;
  /** Opens the keys of places. */
  secrets: Secrets;
  /** Reads what somebody else's page or style sheet loads, in a process that can be ended. */
  addresses(kind: 'sheets' | 'fonts' | 'dav', text: string, at: string): Promise<string[]>;
}

/** What handlers work with; made once a server. */
export interface App {
  config: Config;
  db: DataSource;
  compute: Compute;
  jobs: JobRunner;
  /** Routes that are carried out as jobs, by their names; filled when routes are bound. */
  calls: Map<string, CallRoute>;
  /** What the operator lets places be, and what speaking to them takes. */
  allowed: AllowedPlaces;
  /** Columns of all features that name kept bytes. */
  bytes: readonly BytesColumn[];
  /** Rows of all features that go when space is freed. */
  removed: readonly RemovedRows[];
  /** How the families of some faces are shown now. */
  families: {
    now(workspaceId: string, faceIds: readonly string[]): Promise<ChangedFamilies>;
    /** The same, to be answered by a route that affects the library: what is kept of the list is brought up to date by just these. */
    changed(workspaceId: string, faceIds: readonly string[]): Promise<ChangedFamilies>;
  };
  /** Who sends a request, and by which token; nobody without a valid one. */
  callerOf(request: Request): Promise<{ token: string | null; caller: Caller | null }>;
}
