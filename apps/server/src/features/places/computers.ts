import { createHash, randomBytes } from 'node:crypto';
import type { Answer, routes, Sent } from '@orderly-glyph/schema';
import { IsNull, type DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { conflict, HttpProblem, notFound } from '../../platform/http/problem.js';
import { Workspace } from '../accounts/index.js';
import { joinedComputers, licensesOf } from '../library/index.js';
import type { CheckedFace } from './foresee.js';
import { installingOf, record } from './ledger.js';
import { findPlace, profileOf } from './places.js';
import { ComputerEntity, InstallEntity, type ComputerRow, type PlaceRow } from './rows.js';

const CODE_MS = 15 * 60_000;
const hash = (text: string): string => createHash('sha256').update(text).digest('hex');
/** Letters and figures that nobody confuses when reading them aloud. */
const LETTERS = 'ABCDEFGHJKMNPQRSTVWXYZ23456789';
/** Twelve of thirty letters: 58 bits, for a quarter of an hour. */
function newCode(): string {
  const letters: string[] = [];
  // Bytes past the last full round of the alphabet are thrown again, so that no letter is likelier.
  while (letters.length < 12)
    for (const b of randomBytes(16)) if (b < 240 && letters.length < 12) letters.push(LETTERS[b % LETTERS.length]!);
  return letters.join('').replace(/(.{4})(?=.)/g, '$1-');
}
const plain = (code: string): string => code.toUpperCase().replace(/[^A-Z0-9]/g, '');

async function joinedPlace(db: DataSource, workspaceId: string, placeId: string): Promise<PlaceRow> {
  const place = await findPlace(db, workspaceId, placeId);
  if (profileOf(place).connector !== 'joined') throw conflict(`${place.name} is no computer that fetches its faces itself.`);
  return place;
}

/** Makes a code; the one before it does not hold any more, and the database keeps a hash of it. */
export async function computerCode(db: DataSource, workspaceId: string, placeId: string): Promise<{ code: string; endsAt: string }> {
  const place = await joinedPlace(db, workspaceId, placeId);
  const code = newCode();
  const codeEndsAt = new Date(Date.now() + CODE_MS);
  await db
    .getRepository(ComputerEntity)
    .upsert({ placeId: place.id, workspaceId, codeHash: hash(plain(code)), codeEndsAt, system: '' }, ['placeId']);
  return { code, endsAt: codeEndsAt.toISOString() };
}

export async function describeComputer(db: DataSource, workspaceId: string, placeId: string): Promise<Answer<typeof routes.getComputer>> {
  const place = await joinedPlace(db, workspaceId, placeId);
  const row = await db.getRepository(ComputerEntity).findOneBy({ placeId: place.id });
  const leaving = await db.getRepository(InstallEntity).findBy({ placeId, removedAt: IsNull(), leaving: true });
  return {
    joinedAt: row?.joinedAt?.toISOString() ?? null,
    syncedAt: row?.syncedAt?.toISOString() ?? null,
    system: row?.system ?? '',
    leaving: leaving.map((i) => i.id),
  };
}

/** A computer joins with its code, once. @throws HttpProblem 404 when the code does not hold */
export async function joinComputer(
  db: DataSource,
  { code, system }: { code: string; system: string },
): Promise<Answer<typeof routes.joinComputer>> {
  const token = randomBytes(32).toString('base64url');
  const computers = db.getRepository(ComputerEntity);
  const row = await computers.findOneBy({ codeHash: hash(plain(code)) });
  const gone = new HttpProblem(
    404,
    'not-found',
    'This code does not hold: it was used, or is older than a quarter of an hour. Ask for a new one.',
  );
  if (!row?.codeEndsAt || row.codeEndsAt < new Date()) throw gone;
  // Two that come with one code at once: only the first finds it.
  const { affected } = await computers.update(
    { placeId: row.placeId, codeHash: row.codeHash! },
    { codeHash: null, codeEndsAt: null, tokenHash: hash(token), joinedAt: new Date(), system },
  );
  if (!affected) throw gone;
  const place = await findPlace(db, row.workspaceId, row.placeId);
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: row.workspaceId });
  return { token, computer: place.name, workspace: workspace.name };
}

/** @throws HttpProblem 401 */
export async function computerOf(db: DataSource, authorization: string | undefined): Promise<ComputerRow> {
  const token = /^Bearer ([\w-]{43})$/.exec(authorization ?? '')?.[1];
  const row = token ? await db.getRepository(ComputerEntity).findOneBy({ tokenHash: hash(token) }) : null;
  if (!row)
    throw new HttpProblem(
      401,
      'signed-out',
      'This computer is not joined any more. Join it again with a new code; its fonts stay as they are.',
    );
  return row;
}

/** Takes down what a computer tells, and says what shall be there. */
export async function syncComputer(
  db: DataSource,
  computer: ComputerRow,
  report: Sent<typeof routes.syncComputer>['report'],
): Promise<Answer<typeof routes.syncComputer> & { faceIds: string[] }> {
  const { placeId, workspaceId } = computer;
  const place = await findPlace(db, workspaceId, placeId);
  const told = new Map(report.map((r) => [r.installId, r.state]));
  const faceIds: string[] = [];
  await db.transaction(async (manager) => {
    const installs = await manager.getRepository(InstallEntity).findBy({ placeId, removedAt: IsNull() });
    const now = new Date();
    for (const install of installs) {
      const state = told.get(install.id);
      if (!state) continue;
      if (install.leaving && (state === 'removed' || state === 'missing')) {
        await record(manager, installingOf(install), 'withdrawn', place.name, 'The computer took it off.');
        faceIds.push(install.faceId);
        continue;
      }
      const seen = state === 'there' ? 'same' : state === 'changed' ? 'other' : 'absent';
      if (seen !== install.seen) faceIds.push(install.faceId);
      const seenNote = install.leaving
        ? 'It comes off when the computer asks next.'
        : seen === 'same'
          ? ''
          : `The computer says: ${state}.`;
      await manager.getRepository(InstallEntity).update({ id: install.id }, { seen, seenAt: now, seenNote });
    }
    await manager.getRepository(ComputerEntity).update({ placeId }, { syncedAt: now });
  });
  const left = await db.getRepository(InstallEntity).find({ where: { placeId, removedAt: IsNull() }, order: { installedAt: 'ASC' } });
  return {
    wanted: left.filter((i) => !i.leaving).map((i) => ({ installId: i.id, name: i.remoteName, sha256: i.sha256, bytes: i.bytes })),
    remove: left.filter((i) => i.leaving).map((i) => i.id),
    faceIds: [...new Set(faceIds)],
  };
}

/** The bytes of a file that is assigned to this computer, and of no other. @throws HttpProblem 404 */
export async function computerFile(db: DataSource, computer: ComputerRow, installId: string): Promise<Uint8Array> {
  const install = await db
    .getRepository(InstallEntity)
    .findOneBy({ id: installId, placeId: computer.placeId, removedAt: IsNull(), leaving: false });
  if (!install) throw notFound('This file');
  return getBlob(db.manager, computer.workspaceId, install.sha256);
}

/** Whether one more computer still has a seat under the license that each answer rests on. @throws HttpProblem 409 */
export async function checkSeats(db: DataSource, place: PlaceRow, cells: readonly CheckedFace[]): Promise<void> {
  const joined = await joinedComputers(db, place.workspaceId);
  const licenses = await licensesOf(
    db,
    place.workspaceId,
    cells.map((c) => c.faceId),
  );
  for (const cell of cells) {
    const license = (licenses.get(cell.faceId) ?? []).find((l) => l.id === cell.verdict.licenseId);
    const seats = license?.limits?.['design-work'];
    if (!license || seats === undefined) continue;
    const [{ n }] = (await db.query(
      'SELECT COUNT(*) AS n FROM install i JOIN license_face lf ON lf.face_id = i.face_id WHERE i.place_id = ? AND i.removed_at IS NULL AND lf.license_id = ?',
      [place.id, license.id],
    )) as [{ n: number | string }];
    const used = (license.counters?.['design-work'] ?? 0) + (joined.get(license.id) ?? 0);
    if (Number(n) === 0 && used + 1 > seats)
      throw conflict(
        `“${license.name}” has ${seats} ${seats === 1 ? 'seat' : 'seats'} and all are taken, so ${cell.face} cannot go to one more computer. Take it off another one, or buy a seat. Nothing was assigned.`,
      );
  }
}
