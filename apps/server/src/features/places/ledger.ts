import { IsNull, type DataSource, type EntityManager } from 'typeorm';
import { InstallEntity, InstallEvent, type InstallEventKind, type InstallEventRow, type InstallRow } from './rows.js';

/** What is (or is to be) installed: the same for all events of one install. */
export type Installing = Omit<InstallEventRow, 'id' | 'kind' | 'at' | 'byName' | 'note'>;

/** How an install stands by its events. */
export interface Standing {
  /** `open`: a call was begun, and no event says how it ended. */
  state: 'open' | 'put' | 'installed' | 'gone' | 'unknown';
  installedAt: Date | null;
  removedAt: Date | null;
  role: string | null;
}

/** What the events of an install have in common. */
export const installingOf = ({
  id,
  workspaceId,
  placeId,
  faceId,
  deliveryId,
  remoteName,
  sha256,
  format,
  bytes,
  version,
}: InstallRow): Installing => ({
  installId: id,
  workspaceId,
  placeId,
  faceId,
  deliveryId,
  remoteName,
  sha256,
  format,
  bytes,
  version,
});

/** Folds the events of one install, oldest first, into how it stands. The one place that says what events mean. */
export function fold(events: readonly Pick<InstallEventRow, 'kind' | 'at' | 'note'>[]): Standing {
  const out: Standing = { state: 'open', installedAt: null, removedAt: null, role: null };
  for (const { kind, at, note } of events)
    switch (kind) {
      case 'planned':
      case 'removing':
        out.state = 'open';
        break;
      case 'put':
        out.state = 'put';
        break;
      case 'verified':
        out.state = 'installed';
        out.installedAt ??= at;
        out.removedAt = null;
        break;
      case 'assigned':
        // Nothing said: another face has the role now.
        out.role = note === '' ? null : note;
        break;
      case 'withdrawn':
      case 'absent':
        out.state = 'gone';
        out.removedAt = at;
        break;
      case 'unknown':
        out.state = 'unknown';
        break;
    }
  return out;
}

/**
 * Writes an event, and the install as it stands after it. The table of installs is only ever written here: it is the fold
 * of the events, kept so that a list of installs is one query.
 */
export async function record(
  manager: EntityManager,
  installing: Installing,
  kind: InstallEventKind,
  by: string,
  note = '',
  at = new Date(),
): Promise<Standing> {
  await manager.getRepository(InstallEvent).insert({ ...installing, kind, at, byName: by, note: note.slice(0, 500) });
  const events = await manager.getRepository(InstallEvent).find({ where: { installId: installing.installId }, order: { id: 'ASC' } });
  const standing = fold(events);
  const { installId, ...what } = installing;
  const installs = manager.getRepository(InstallEntity);
  if (standing.installedAt) {
    const row = {
      id: installId,
      ...what,
      installedBy: events.find((e) => e.kind === 'verified')!.byName,
      installedAt: standing.installedAt,
      removedAt: standing.removedAt,
      role: standing.removedAt ? null : standing.role,
      ...(kind === 'verified' ? { seen: 'same' as const, seenAt: at, seenNote: '' } : {}),
    };
    // What other acts keep beside it (by hand, made from which file) stays as it is.
    if (await installs.existsBy({ id: installId })) await installs.update({ id: installId }, row);
    else
      await installs.insert({
        sourceSha256: null,
        byHand: false,
        leaving: false,
        listPosition: null,
        seen: 'same',
        seenAt: at,
        seenNote: '',
        ...row,
      });
  }
  return standing;
}

/** Installs whose last call has no known end, oldest first: what looking at the places has to settle. */
export async function unsettled(
  db: DataSource | EntityManager,
  where: { deliveryId: string } | { placeId: string },
): Promise<Installing[]> {
  const [column, value] = 'deliveryId' in where ? ['delivery_id', where.deliveryId] : ['place_id', where.placeId];
  const rows = (await db.query(
    `SELECT e.install_id AS installId, e.workspace_id AS workspaceId, e.place_id AS placeId, e.face_id AS faceId, e.delivery_id AS deliveryId, e.remote_name AS remoteName,
       e.sha256, e.format, e.bytes, e.version FROM install_event e
     WHERE e.${column} = ? AND e.kind IN ('planned', 'put', 'removing', 'unknown') AND e.id = (SELECT MAX(x.id) FROM install_event x WHERE x.install_id = e.install_id AND x.kind <> 'assigned')
     ORDER BY e.id`,
    [value],
  )) as Installing[];
  return rows;
}

/** What lies at a place by our record. */
export const installsAt = (db: DataSource | EntityManager, placeId: string): Promise<InstallRow[]> =>
  db.getRepository(InstallEntity).find({ where: { placeId, removedAt: IsNull() }, order: { installedAt: 'ASC' } });

/** What of some faces must come off where: the plan of a withdrawal. Null asks for all faces, or all places. */
export async function withdrawPlan(
  db: DataSource | EntityManager,
  workspaceId: string,
  { faceIds, placeId }: { faceIds: readonly string[] | null; placeId: string | null },
): Promise<InstallRow[]> {
  const query = db
    .getRepository(InstallEntity)
    .createQueryBuilder('i')
    .where('i.workspaceId = :workspaceId AND i.removedAt IS NULL', { workspaceId });
  if (faceIds) query.andWhere('i.faceId IN (:...faceIds)', { faceIds: faceIds.length > 0 ? faceIds : ['-'] });
  if (placeId) query.andWhere('i.placeId = :placeId', { placeId });
  return query.orderBy('i.installedAt').getMany();
}
