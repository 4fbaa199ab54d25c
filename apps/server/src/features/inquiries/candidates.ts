import type { Answer, routes } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { findFaces } from '../faces/index.js';
import { licensesOf } from '../library/index.js';

/** Words by which makers call faces that are drawn around, into or over a plain one; common practice. */
const DECORATED =
  /\b(outline|outlined|inline|shadow|shaded|3d|engraved|stencil|rough|grunge|distressed|texture|textured|decorated|decorative|ornate|open|neon|stamp|press)\b/i;
/** Cousins that are named at most. */
const MOST = 8;

/** What is on record about faces that a picture may be set in. */
export async function describeCandidates(
  db: DataSource,
  workspaceId: string,
  faceIds: readonly string[],
): Promise<Answer<typeof routes.describeCandidates>> {
  const leads = await findFaces(db, workspaceId, [...faceIds]);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const others = (await db.query(
    `SELECT face.id, family.name AS family, face.style, face.family_id AS familyId FROM face JOIN family ON family.id = face.family_id
     WHERE face.workspace_id = ? AND face.removed_at IS NULL AND face.folded_into IS NULL`,
    [workspaceId],
  )) as { id: string; family: string; style: string; familyId: string }[];
  const decorated = others.filter((o) => DECORATED.test(`${o.family} ${o.style}`));
  return leads.map((lead) => ({
    faceId: lead.faceId,
    licenses: (licenses.get(lead.faceId) ?? []).map(({ id, name, kind, grantor, price, currency, confirmed }) => ({
      id,
      name,
      kind,
      grantor,
      price: price === null ? null : Number(price),
      currency,
      confirmed: Boolean(confirmed),
    })),
    cousins: decorated
      .filter(
        (o) =>
          o.id !== lead.faceId && (o.familyId === lead.familyId || o.family.toLowerCase().startsWith(`${lead.familyName.toLowerCase()} `)),
      )
      .slice(0, MOST)
      .map((o) => ({ faceId: o.id, name: `${o.family} ${o.style}` })),
  }));
}
