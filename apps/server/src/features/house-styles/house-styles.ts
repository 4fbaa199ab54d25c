import { randomUUID } from 'node:crypto';
import { verdict, type Recipe } from '@orderly-glyph/core';
import { HOUSE_ROLES, type HouseStyle } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import type { HousePart } from '../../platform/compute/work/house-sheet.js';
import { conflict, invalid, notFound, stale } from '../../platform/http/problem.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { findFaces, render, type LeadRow } from '../faces/index.js';
import { licensesOf, ReadyTextEntity } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { assignRole, findPlace, installsAt, profileOf, type Foresight } from '../places/index.js';
import { doubtsOf } from './doubts.js';
import { HouseStyleEntity, type HouseStyleRow } from './rows.js';

type Fields = Pick<HouseStyle, 'name' | 'roles'>;

async function describe(db: DataSource, workspaceId: string, rows: readonly HouseStyleRow[]): Promise<HouseStyle[]> {
  const ids = [...new Set(rows.flatMap((r) => HOUSE_ROLES.flatMap((role) => r.roles[role]?.faceId ?? [])))];
  const texts = await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } });
  const leads = new Map<string, LeadRow>();
  // A face that was removed since leaves its role empty, and the rest stands.
  for (const id of ids) for (const lead of await findFaces(db, workspaceId, [id]).catch(() => [])) leads.set(lead.faceId, lead);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    roles: Object.fromEntries(
      HOUSE_ROLES.map((r) => [r, leads.has(row.roles[r]?.faceId ?? '') ? row.roles[r] : null]),
    ) as HouseStyle['roles'],
    doubts: doubtsOf(row.roles, leads, texts),
    changedBy: row.changedBy,
    changedAt: row.changedAt.toISOString(),
    version: row.version,
  }));
}

export const listHouseStyles = async (db: DataSource, workspaceId: string): Promise<HouseStyle[]> =>
  describe(db, workspaceId, await db.getRepository(HouseStyleEntity).find({ where: { workspaceId }, order: { name: 'ASC' } }));

export async function findHouseStyle(db: DataSource, workspaceId: string, id: string): Promise<HouseStyleRow> {
  const row = await db.getRepository(HouseStyleEntity).findOneBy({ id, workspaceId });
  if (!row) throw notFound('This house style');
  return row;
}

/** @throws HttpProblem for a name that is taken, an empty style, or a face of somebody else */
export async function saveHouseStyle(
  db: DataSource,
  who: { workspaceId: string; name: string },
  fields: Fields,
  before: { id: string; version: number } | null,
): Promise<HouseStyle> {
  const { workspaceId } = who;
  const faceIds = [...new Set(HOUSE_ROLES.flatMap((r) => fields.roles[r]?.faceId ?? []))];
  if (faceIds.length === 0) throw invalid('A house style has a face in at least one role. Nothing was kept.', 'roles');
  await findFaces(db, workspaceId, faceIds);
  const styles = db.getRepository(HouseStyleEntity);
  const same = await styles.findOneBy({ workspaceId, name: fields.name });
  if (same && same.id !== before?.id)
    throw conflict(`There is a house style “${fields.name}” already. Nothing was kept; choose another name.`);
  const row: HouseStyleRow = {
    id: before?.id ?? randomUUID(),
    workspaceId,
    ...fields,
    version: (before?.version ?? 0) + 1,
    changedBy: who.name,
    changedAt: new Date(),
  };
  if (before) {
    await findHouseStyle(db, workspaceId, before.id);
    const { id, version, ...rest } = row;
    const { affected } = await styles.update({ id, workspaceId, version: before.version }, { ...rest, version, roles: row.roles as never });
    if (!affected) throw stale(`Somebody changed “${fields.name}” while you worked on it`);
  } else await styles.insert({ ...row, roles: row.roles as never });
  return (await describe(db, workspaceId, [row]))[0]!;
}

/** Roles of places that a role of a house style stands for. */
const STANDS_FOR: Readonly<Record<string, readonly string[]>> = {
  headline: ['headings', 'headline'],
  text: ['text'],
  accent: ['accent', 'buttons'],
  figures: [],
};

/** Sets the roles of a place by a house style, with faces that lie there; what is not there yet is told. */
export async function applyHouseStyle(
  deps: Foresight,
  who: { workspaceId: string; name: string },
  styleId: string,
  placeId: string,
): Promise<{ set: string[]; missing: string[]; faceIds: string[] }> {
  const { db } = deps;
  const style = await findHouseStyle(db, who.workspaceId, styleId);
  const place = await findPlace(db, who.workspaceId, placeId);
  const kind = profileOf(place);
  const there = await installsAt(db, placeId);
  const set: string[] = [];
  const missing: string[] = [];
  const faceIds: string[] = [];
  for (const role of HOUSE_ROLES) {
    const face = style.roles[role]?.faceId;
    const at = kind.roles.find((r) => STANDS_FOR[role]!.includes(r.id));
    if (!face || !at) continue;
    const install = there.find((i) => i.faceId === face);
    if (!install) {
      missing.push(face);
      continue;
    }
    faceIds.push(await assignRole(deps, who, install.id, at.id));
    set.push(at.name);
  }
  if (set.length === 0 && missing.length === 0)
    throw conflict(`${place.name} has no roles that this house style sets. Nothing was changed.`);
  return { set, missing: [...new Set(missing)], faceIds };
}

const SAMPLES = { headline: 'Sow, water, wait', text: '', accent: 'Opened each spring', figures: '0123456789  £3.20  12 %' } as const;

/** A house style on one page. Faces are embedded where both the license and the file allow it, and drawn as outlines elsewhere. */
export async function houseSheet(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  styleId: string,
): Promise<{ name: string; pdf: Uint8Array }> {
  const style = await findHouseStyle(db, workspaceId, styleId);
  const [described] = await describe(db, workspaceId, [style]);
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const texts = await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } });
  const today = await todayOf(db, workspaceId);
  const parts: HousePart[] = [];
  for (const role of HOUSE_ROLES) {
    const set = described!.roles[role];
    if (!set) continue;
    const [lead] = await findFaces(db, workspaceId, [set.faceId]);
    const { embedding, outlines } = lead!.facts;
    const records = ((await licensesOf(db, workspaceId, [set.faceId])).get(set.faceId) ?? []).map(licenseRecord);
    const may =
      verdict('documents', records, embedding, today).answer === 'yes' &&
      embedding.level !== 'restricted' &&
      !embedding.bitmapOnly &&
      !embedding.noSubsetting;
    // PDF embeds plain files of one design. A variable face is drawn at its usual one.
    const recipe: Recipe = [
      ...(lead!.facts.axes.length > 0 ? [{ step: 'instance', options: {} }] : []),
      ...(lead!.format === 'ttf' || lead!.format === 'otf'
        ? []
        : [{ step: 'container', options: { to: outlines === 'glyf' ? 'ttf' : 'otf' } }]),
    ];
    const made = recipe.length > 0 ? await render(db, compute, workspaceId, lead!, recipe, true) : { sha256: lead!.sha256 };
    parts.push({
      role,
      name: `${lead!.familyName} ${lead!.style}`,
      sample: SAMPLES[role] || texts[0]?.text || 'Cover seed to twice its own depth. Water before sowing, not after.',
      size: set.size,
      ink: set.ink,
      paper: set.paper,
      bytes: await getBlob(db.manager, workspaceId, made.sha256),
      faceIndex: recipe.length > 0 ? 0 : lead!.faceIndex,
      embed: may,
    });
  }
  return { name: style.name, pdf: await compute.run('houseSheet', [style.name, workspace.name, parts], true) };
}
