import { fileBase, FORMAT_INFO, missingFrom, sampleOf, verdict, writesOf } from '@orderly-glyph/core';
import type { Answer, routes } from '@orderly-glyph/schema';
import { In, IsNull } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { conflict, notFound } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { findFaces, type LeadRow } from '../faces/index.js';
import { alikePairs, licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { giveRole } from './carry-out.js';
import { connectorOf, PlaceError } from './connectors/index.js';
import type { Foresight } from './foresee.js';
import { installingOf, installsAt } from './ledger.js';
import { findPlace, profileOf } from './places.js';
import { InstallEntity } from './rows.js';

/** A list longer than this overwhelms whoever has to choose; common practice. */
const LONG_LIST = 30;

const nameOf = (lead: LeadRow): string => `${lead.familyName} ${lead.style}`;

/** What of a place's list deserves a second look. */
export async function placeAdvice(db: Foresight['db'], workspaceId: string, placeId: string): Promise<Answer<typeof routes.placeAdvice>> {
  const place = await findPlace(db, workspaceId, placeId);
  const { use } = profileOf(place);
  const installs = await installsAt(db, placeId);
  const ids = [...new Set(installs.map((i) => i.faceId))];
  const leads = new Map((await findFaces(db, workspaceId, ids)).map((l) => [l.faceId, l]));
  const out: Answer<typeof routes.placeAdvice> = [];
  const offered = installs.filter((i) => i.role !== 'withheld');
  if (use === 'customers-words' && offered.length > LONG_LIST)
    out.push({
      message: `Customers choose among ${offered.length} faces; more than ${LONG_LIST} overwhelm them. Withhold some for a season.`,
      faceIds: [],
    });
  const licenses = await licensesOf(db, workspaceId, ids);
  const today = await todayOf(db, workspaceId);
  for (const id of ids) {
    const lead = leads.get(id)!;
    const { answer, reasons } = verdict(use, (licenses.get(id) ?? []).map(licenseRecord), lead.facts.embedding, today);
    if (answer !== 'yes') out.push({ message: `${nameOf(lead)} is not cleared for this: ${reasons[0] ?? ''}`, faceIds: [id] });
  }
  for (const [a, b] of (await alikePairs(db, workspaceId, ids)).slice(0, 10))
    out.push({ message: `${nameOf(leads.get(a)!)} and ${nameOf(leads.get(b)!)} look very alike; one of them is enough.`, faceIds: [a, b] });
  return out;
}

/** Gives several faces a role, moves them to another kind, or puts them first in this order; what the place refuses is told, and the rest goes on. */
export async function arrange(
  { db, allowed }: Pick<Foresight, 'db' | 'allowed'>,
  who: { workspaceId: string; name: string },
  placeId: string,
  { installIds, role, kind, ordered }: { installIds: readonly string[]; role: string | null; kind: string | null; ordered: boolean },
): Promise<{ faceIds: string[]; refused: string[] }> {
  const place = await findPlace(db, who.workspaceId, placeId);
  const profile = profileOf(place);
  const connector = connectorOf(profile);
  if (role !== null && !profile.roles.some((r) => r.id === role))
    throw conflict(`${place.name} has no role “${role}”. Nothing was changed.`);
  if (kind !== null && !connector.arrange) throw conflict(`${place.name} has no kinds. Nothing was changed.`);
  if (ordered && !connector.order) throw conflict(`${place.name} keeps an order of its own. Nothing was changed.`);
  const installs = await db.getRepository(InstallEntity).findBy({ id: In([...installIds]), placeId, removedAt: IsNull() });
  if (installs.length < new Set(installIds).size) throw notFound('One of these installs');
  const refused: string[] = [];
  for (const install of installs)
    try {
      if (kind !== null) await connector.arrange!(place, allowed, install.remoteName, kind);
      if (role !== null) await giveRole(db, allowed, place, installingOf(install), role, who.name);
    } catch (error) {
      if (!(error instanceof PlaceError)) throw error;
      refused.push(error.message);
    }
  if (ordered)
    try {
      const byId = new Map(installs.map((i) => [i.id, i]));
      await connector.order!(
        place,
        allowed,
        installIds.map((id) => byId.get(id)!.remoteName),
      );
      await db.transaction(async (manager) => {
        const rows = manager.getRepository(InstallEntity);
        await rows.update({ placeId, removedAt: IsNull() }, { listPosition: null });
        for (const [listPosition, id] of installIds.entries()) await rows.update({ id }, { listPosition });
      });
    } catch (error) {
      if (!(error instanceof PlaceError)) throw error;
      refused.push(error.message);
    }
  return { faceIds: installs.map((i) => i.faceId), refused: [...new Set(refused)] };
}

/** The file as it lies at its place, whatever we put there. @throws HttpProblem */
export async function fetchBack(
  { db, allowed }: Pick<Foresight, 'db' | 'allowed'>,
  workspaceId: string,
  installId: string,
): Promise<{ name: string; mediaType: string; bytes: Uint8Array }> {
  const install = await db.getRepository(InstallEntity).findOneBy({ id: installId, workspaceId });
  if (!install) throw notFound('This install');
  const place = await findPlace(db, workspaceId, install.placeId);
  try {
    const bytes = await connectorOf(profileOf(place)).read(place, allowed, install.remoteName);
    if (bytes === null) throw conflict(`${install.remoteName} does not lie at ${place.name} any more.`);
    return { name: install.remoteName, mediaType: FORMAT_INFO[install.format].mediaType, bytes };
  } catch (error) {
    if (!(error instanceof PlaceError)) throw error;
    throw conflict(error.message);
  }
}

/** A picture for a list: the family's name, or words of the face's own script where it cannot write that. @throws ComputeError */
export async function listPicture(
  { db, compute }: Pick<Foresight, 'db' | 'compute'>,
  workspaceId: string,
  faceId: string,
  as: 'svg' | 'png',
): Promise<{ name: string; bytes: Uint8Array }> {
  const [lead] = await findFaces(db, workspaceId, [faceId]);
  const writes = writesOf(lead!.coverage?.writes?.runs ?? [], lead!.coverage?.writes?.loose ?? []);
  const samples = [
    lead!.familyName,
    ...(lead!.coverage?.languages ?? []).map((l) => (sampleOf(l.tag) ?? '').split(/\s+/).slice(0, 3).join(' ')),
  ];
  const text = samples.find((t) => t !== '' && missingFrom(t, writes).length === 0);
  if (text === undefined) throw conflict(`${nameOf(lead!)} writes no words that a picture could show.`);
  const bytes = await getBlob(db.manager, workspaceId, lead!.sha256);
  const wish = {
    text,
    size: 40,
    unit: 'px',
    measure: 'em',
    letterSpacing: 0,
    lineHeight: null,
    align: 'left',
    features: [],
    at: '',
    pieces: 'one',
  } as const;
  const drawn = await compute.run('drawWords', [bytes, lead!.faceIndex, wish, '#1b1916', `${nameOf(lead!)}, for a list`, as, 480], true);
  return { name: fileBase(lead!.familyName, lead!.style), bytes: drawn.bytes };
}
