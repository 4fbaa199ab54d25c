import { findFaces } from '../faces/index.js';
import { randomBytes, randomUUID } from 'node:crypto';
import { sayDay, verdict } from '@orderly-glyph/core';
import type { Answer, ProofPlan, ProofSheet, routes } from '@orderly-glyph/schema';
import { LRUCache } from 'lru-cache';
import { IsNull, type DataSource } from 'typeorm';
import type { Compute } from '../../platform/compute/pool.js';
import type { SheetPage } from '../../platform/compute/work/page.js';
import { HttpProblem, invalid, notFound } from '../../platform/http/problem.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { ProofSheetEntity, type ProofSheetRow } from './rows.js';
import { laySheet, licenseLine } from './sheet.js';

export async function renderPdf(db: DataSource, compute: Compute, workspaceId: string, plan: ProofPlan): Promise<Uint8Array> {
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  return compute.run('pagesPdf', [await laySheet(db, compute, workspaceId, plan), plan.title, workspace.name], true);
}

/** @throws HttpProblem 404 when there is no such page */
export async function renderPng(db: DataSource, compute: Compute, workspaceId: string, plan: ProofPlan, page: number): Promise<Uint8Array> {
  const pages = await laySheet(db, compute, workspaceId, plan);
  const wanted = pages[page - 1];
  if (!wanted) throw notFound(`Page ${page}`);
  let picture = painted.get(wanted);
  if (!picture) {
    picture = compute.run('paint', [wanted], true);
    painted.set(wanted, picture);
    picture.catch(() => painted.delete(wanted));
  }
  return picture;
}

const describe = (row: ProofSheetRow, today: string): ProofSheet => ({
  id: row.id,
  title: row.title,
  plan: row.plan,
  endsOn: row.endsOn,
  ended: row.endsOn < today,
  path: `/proof/${row.secret}`,
  by: row.createdBy,
  createdAt: row.createdAt.toISOString(),
});

export async function listProofSheets(db: DataSource, workspaceId: string): Promise<ProofSheet[]> {
  const rows = await db.getRepository(ProofSheetEntity).find({ where: { workspaceId, removedAt: IsNull() }, order: { createdAt: 'DESC' } });
  const today = await todayOf(db, workspaceId);
  return rows.map((r) => describe(r, today));
}

export async function createProofSheet(
  db: DataSource,
  who: { workspaceId: string; name: string },
  plan: ProofPlan,
  endsOn: string,
): Promise<ProofSheet> {
  const today = await todayOf(db, who.workspaceId);
  if (endsOn < today) throw invalid('The page must end today or later. Nothing was put anywhere.', 'endsOn');
  await findFaces(db, who.workspaceId, plan.faceIds);
  const row: ProofSheetRow = {
    id: randomUUID(),
    workspaceId: who.workspaceId,
    // 24 random bytes cannot be guessed.
    secret: randomBytes(24).toString('base64url'),
    title: plan.title,
    plan,
    endsOn,
    createdBy: who.name,
    createdAt: new Date(),
    removedAt: null,
  };
  await db.getRepository(ProofSheetEntity).insert(row as never);
  return describe(row, today);
}

export async function removeProofSheet(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const { affected } = await db.getRepository(ProofSheetEntity).update({ id, workspaceId, removedAt: IsNull() }, { removedAt: new Date() });
  if (!affected) throw notFound('This proof sheet');
}

/** Gives a public page a new address; whoever has the former one finds nothing there. */
export async function renewProofSheet(db: DataSource, workspaceId: string, id: string): Promise<ProofSheet> {
  const { affected } = await db
    .getRepository(ProofSheetEntity)
    .update({ id, workspaceId, removedAt: IsNull() }, { secret: randomBytes(24).toString('base64url') });
  if (!affected) throw notFound('This proof sheet');
  return describe(await db.getRepository(ProofSheetEntity).findOneByOrFail({ id }), await todayOf(db, workspaceId));
}

/** A public sheet by its secret. @throws HttpProblem 404, 410 */
async function openSheet(db: DataSource, secret: string): Promise<ProofSheetRow> {
  const row = await db.getRepository(ProofSheetEntity).findOneBy({ secret });
  if (!row || row.removedAt)
    throw new HttpProblem(404, 'not-found', 'There is no proof sheet at this address. Whoever sent it can send a new one.');
  if (row.endsOn < (await todayOf(db, row.workspaceId)))
    throw new HttpProblem(410, 'ended', `This proof sheet could be read until ${sayDay(row.endsOn)}. Whoever sent it can put it up again.`);
  return row;
}

/** Faces and their licenses may change; a page shows the former for no longer than this. */
const LONGEST = 60_000;
const laid = new LRUCache<string, Promise<SheetPage[]>>({ max: 40, ttl: LONGEST });
/** Pages of a public sheet, laid once and kept a while: anybody may call for them. */
function pagesOf(db: DataSource, compute: Compute, row: ProofSheetRow): Promise<SheetPage[]> {
  const kept = laid.get(row.id);
  if (kept) return kept;
  const pages = laySheet(db, compute, row.workspaceId, row.plan);
  laid.set(row.id, pages);
  pages.catch(() => laid.delete(row.id));
  return pages;
}

async function rightsOf(db: DataSource, row: ProofSheetRow): Promise<{ name: string; license: string; web: boolean }[]> {
  const leads = await findFaces(db, row.workspaceId, row.plan.faceIds);
  const licenses = await licensesOf(db, row.workspaceId, row.plan.faceIds);
  const today = await todayOf(db, row.workspaceId);
  return leads.map((lead) => {
    const own = licenses.get(lead.faceId) ?? [];
    return {
      name: `${lead.familyName} ${lead.style}`,
      license: licenseLine(own[0] ?? null),
      web: verdict('website', own.map(licenseRecord), lead.facts.embedding, today).answer === 'yes',
    };
  });
}

export async function readProofSheet(db: DataSource, compute: Compute, secret: string): Promise<Answer<typeof routes.readProofSheet>> {
  const row = await openSheet(db, secret);
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: row.workspaceId });
  return {
    title: row.title,
    business: workspace.name,
    endsOn: row.endsOn,
    text: row.plan.text,
    ink: row.plan.ink,
    paper: row.plan.paper,
    pages: (await pagesOf(db, compute, row)).length,
    faces: await rightsOf(db, row),
  };
}

/** Pictures of pages, kept as long as the pages themselves. */
const painted = new WeakMap<SheetPage, Promise<Uint8Array>>();

export async function readProofSheetPage(db: DataSource, compute: Compute, secret: string, page: number): Promise<Uint8Array> {
  const wanted = (await pagesOf(db, compute, await openSheet(db, secret)))[page - 1];
  if (!wanted) throw notFound(`Page ${page}`);
  return compute.run('paint', [wanted], true);
}

/** The face a public page may set live text in. @throws HttpProblem 403 when its license does not let a website show it */
export async function proofFace(
  db: DataSource,
  secret: string,
  number: number,
): Promise<{ workspaceId: string; faceId: string; text: string }> {
  const row = await openSheet(db, secret);
  const faceId = row.plan.faceIds[number];
  const rights = (await rightsOf(db, row))[number];
  if (!faceId || !rights) throw notFound('This face');
  if (!rights.web) throw new HttpProblem(403, 'license', 'The license of this face does not let a website show live text in it.');
  return { workspaceId: row.workspaceId, faceId, text: `${row.plan.text}${rights.name}` };
}
