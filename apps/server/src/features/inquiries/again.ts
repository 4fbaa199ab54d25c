import type { Sureness } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { IsNull } from 'typeorm';
import { ComputeError, type Compute } from '../../platform/compute/pool.js';
import { findFaces } from '../faces/index.js';
import { InquiryEntity } from './rows.js';
import { shapesOf } from './shapes.js';

/** A face that came in later is news when so little more of the picture is left over than with the best so far. */
const BETTER = 0.8;
/** Inquiries that are looked at, and faces in one go. */
const MOST_INQUIRIES = 200;
const PART = 500;

/** Looks for the pictures of open inquiries among faces that came in since they were searched. */
export async function lookAgain(db: DataSource, compute: Compute, workspaceId: string): Promise<void> {
  const rows = (
    await db.getRepository(InquiryEntity).find({
      where: { workspaceId, open: true, removedAt: IsNull() },
      order: { changedAt: 'DESC' },
      take: MOST_INQUIRIES,
    })
  ).filter((r) => r.kept !== null && r.reading.word !== '');
  if (rows.length === 0) return;
  const first = new Date(Math.min(...rows.map((r) => r.searchedAt.getTime())));
  const begun = new Date();
  const asked = rows.map((r) => ({
    ink: r.kept!,
    word: r.reading.word,
    without: r.reading.without,
    asWord: r.reading.asWord,
    stretched: r.reading.stretched,
    slanted: r.reading.slanted,
  }));
  const found: ({ faceId: string; score: number; sureness: Sureness } | null)[] = rows.map(() => null);
  let looked = 0;
  // Part by part until all that came in were looked at: a collection may bring thousands.
  for (;;) {
    const faces = await shapesOf(db, workspaceId, { since: first, most: PART, from: looked });
    if (faces.length === 0) break;
    looked += faces.length;
    // One picture after another: one that cannot be searched is left, and the others go on.
    for (const [i, one] of asked.entries()) {
      const [f] = await compute.run('searchAgain', [[one], faces]).catch((error: unknown) => {
        if (!(error instanceof ComputeError) || !error.gaveUp) throw error;
        console.error(`Inquiry ${rows[i]!.id} was not searched again: ${error.message}`);
        return [null];
      });
      if (f && (!found[i] || f.score < found[i].score)) found[i] = f;
    }
    if (faces.length < PART) break;
  }
  if (looked === 0) return;
  for (const [i, row] of rows.entries()) {
    const best = found[i];
    const known = row.candidates[0];
    const isNew = best && !row.candidates.some((c) => c.faceId === best.faceId || c.siblings.includes(best.faceId));
    const fits =
      best &&
      (best.sureness === 'surely' || best.sureness === 'probably' || best.sureness === 'nearest') &&
      (!known || best.score < BETTER * known.score);
    let { news } = row;
    if (best && isNew && fits) {
      const [lead] = await findFaces(db, workspaceId, [best.faceId]);
      if (lead) news = { faceId: best.faceId, family: lead.familyName, sureness: best.sureness, at: begun.toISOString() };
    }
    // Nobody's change: the version stays, and what somebody changed meanwhile is not overwritten.
    await db.getRepository(InquiryEntity).update({ id: row.id, version: row.version }, { news, searchedAt: begun } as never);
  }
}
