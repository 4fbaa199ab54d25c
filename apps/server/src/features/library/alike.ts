import { findFaces } from '../faces/index.js';
import { LIKENESS, rankAlike, sayLikeness, type Use } from '@orderly-glyph/core';
import type { Answer, VersionChanges, routes } from '@orderly-glyph/schema';
import { LRUCache } from 'lru-cache';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { type DerivedRow, KeptFact, withFact } from '../faces/index.js';
import { licensesOf } from './library.js';
import type { Snapshots } from './snapshot.js';

type Alike = Answer<typeof routes.getAlike>;

const known = new KeptFact<number[]>(LIKENESS, (text) => JSON.parse(text) as number[]);

/** Where the faces of a workspace stand; read once for each file and version of the code. */
async function likenesses(db: DataSource, workspaceId: string): Promise<{ faceId: string; familyId: string; likeness: number[] }[]> {
  const rows = (await db.query(
    `SELECT face.id AS faceId, face.family_id AS familyId, ff.file_id AS fileId, ff.face_index AS faceIndex, d.version AS derivedVersion
     FROM face JOIN face_file ff ON ff.id = face.lead_id ${withFact(LIKENESS, 'd')} WHERE face.workspace_id = ? AND face.removed_at IS NULL AND face.folded_into IS NULL AND d.value <> 'null'`,
    [workspaceId],
  )) as (DerivedRow & { faceId: string; familyId: string })[];
  const found = await known.of(db, rows);
  return rows.flatMap((r, i) => (found[i] ? [{ faceId: r.faceId, familyId: r.familyId, likeness: found[i] }] : []));
}

/** Pairs among some faces that look very alike, nearest first; of different families only. */
export async function alikePairs(db: DataSource, workspaceId: string, faceIds: readonly string[]): Promise<[string, string][]> {
  const all = (await likenesses(db, workspaceId)).filter((x) => faceIds.includes(x.faceId));
  const out: { pair: [string, string]; score: number }[] = [];
  for (const [i, own] of all.entries()) {
    const others = all.slice(i + 1).filter((x) => x.familyId !== own.familyId);
    for (const { item, score } of rankAlike(
      own.likeness,
      others.map((c) => ({ item: c, likeness: c.likeness })),
    ))
      if (sayLikeness(score) === 'very alike') out.push({ pair: [own.faceId, item.faceId], score });
  }
  return out.sort((a, b) => b.score - a.score).map((x) => x.pair);
}

type Standing = { faceId: string; familyId: string; likeness: number[] };
/** Who stands where in a workspace, as long as its library has not changed. */
const standing = new LRUCache<string, { key: string; all: Standing[] }>({ max: 20 });

/** The nearest face of each other family, twelve of them; only of families cleared for a use, or only under an open license, when asked. */
export async function findAlike(
  db: DataSource,
  snapshots: Snapshots,
  workspaceId: string,
  faceId: string,
  { use, free }: { use?: Use | undefined; free?: boolean | undefined },
): Promise<Alike> {
  const [lead] = await findFaces(db, workspaceId, [faceId]);
  const { library, key } = await snapshots.get(workspaceId);
  let held = standing.get(workspaceId);
  if (held?.key !== key) {
    held = { key, all: await likenesses(db, workspaceId) };
    standing.set(workspaceId, held);
  }
  const { all } = held;
  const own = all.find((x) => x.faceId === faceId);
  if (!own) return [];
  const shown = new Map(library.families.filter((f) => !f.archived).map((f) => [f.id, f]));
  const licenses = free ? await licensesOf(db, workspaceId, null) : null;
  const candidates = all.filter((x) => {
    const family = shown.get(x.familyId);
    if (!family || x.familyId === lead!.familyId) return false;
    if (use && family.verdicts[use] !== 'yes') return false;
    return !licenses || (licenses.get(x.faceId) ?? []).some((l) => l.kind === 'open' && l.confirmed);
  });
  const out: Alike = [];
  const families = new Set<string>();
  for (const { item, score } of rankAlike(
    own.likeness,
    candidates.map((c) => ({ item: c, likeness: c.likeness })),
  )) {
    if (families.has(item.familyId)) continue;
    families.add(item.familyId);
    out.push({ faceId: item.faceId, score });
    if (out.length === 12) break;
  }
  return out;
}

const MOST_LISTED = 4000;

/** Which characters the newer of two faces draws otherwise. */
export async function versionChanges(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  olderId: string,
  newerId: string,
): Promise<VersionChanges> {
  const [older, newer] = await findFaces(db, workspaceId, [olderId, newerId]);
  const [a, b] = await Promise.all([getBlob(db.manager, workspaceId, older!.sha256), getBlob(db.manager, workspaceId, newer!.sha256)]);
  const { added, removed, changed, same } = await compute.run('versions', [a, older!.faceIndex, b, newer!.faceIndex], true);
  return {
    added: added.slice(0, MOST_LISTED),
    removed: removed.slice(0, MOST_LISTED),
    changed: changed.slice(0, MOST_LISTED),
    counts: { added: added.length, removed: removed.length, changed: changed.length, same },
  };
}
