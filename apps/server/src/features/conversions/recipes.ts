import { randomUUID } from 'node:crypto';
import { newerFirst } from '@orderly-glyph/core';
import type { Converted, KeptRecipe as Kept, Wish } from '@orderly-glyph/schema';
import { In, type DataSource } from 'typeorm';
import { ComputeError, type Compute } from '../../platform/compute/pool.js';
import { HttpProblem, notFound } from '../../platform/http/problem.js';
import { findFaces, type LeadRow } from '../faces/index.js';
import { convertFace } from './conversions.js';
import { KeptRecipe, RecipeRun, type KeptRecipeRow } from './rows.js';

/** The newest face of each that is the same but for its version: by family, style and axes. */
async function newestOf(
  db: DataSource,
  workspaceId: string,
  faceIds: readonly string[],
): Promise<Map<string, { lead: LeadRow; newest: LeadRow }>> {
  if (faceIds.length === 0) return new Map();
  const rows = (await db.query(
    'SELECT DISTINCT other.id FROM face JOIN face other ON other.family_id = face.family_id AND other.style = face.style AND other.folded_into IS NULL WHERE face.workspace_id = ? AND face.id IN (?)',
    [workspaceId, [...faceIds]],
  )) as { id: string }[];
  const leads = await findFaces(db, workspaceId, [...new Set([...faceIds, ...rows.map((r) => r.id)])]);
  const sameOf = ({ familyId, style, facts }: LeadRow): string => JSON.stringify([familyId, style, facts.axes.map((a) => a.tag).sort()]);
  const newest = new Map<string, LeadRow>();
  for (const lead of leads) {
    const known = newest.get(sameOf(lead));
    if (!known || newerFirst(lead.facts.version, known.facts.version) < 0) newest.set(sameOf(lead), lead);
  }
  return new Map(leads.filter((l) => faceIds.includes(l.faceId)).map((lead) => [lead.faceId, { lead, newest: newest.get(sameOf(lead))! }]));
}

/** Whether a version comes before another; of two that say nothing none does. */
const isNewer = (a: LeadRow, b: LeadRow): boolean => a.faceId !== b.faceId && newerFirst(a.facts.version, b.facts.version) < 0;

/** Recipes that are kept, by name, with what each made. */
export async function listRecipes(db: DataSource, workspaceId: string): Promise<Kept[]> {
  const recipes = await db.getRepository(KeptRecipe).find({ where: { workspaceId }, order: { name: 'ASC' } });
  const runs =
    recipes.length === 0 ? [] : await db.getRepository(RecipeRun).findBy({ workspaceId, recipeId: In(recipes.map((r) => r.id)) });
  const faces = await newestOf(db, workspaceId, [...new Set(runs.map((r) => r.faceId))]);
  return recipes.map((r) => ({
    id: r.id,
    name: r.name,
    wish: r.wish,
    address: r.address,
    by: r.createdBy,
    at: r.createdAt.toISOString(),
    runs: runs
      .filter((run) => run.recipeId === r.id)
      .flatMap((run) => {
        const face = faces.get(run.faceId);
        if (!face) return [];
        const { lead, newest } = face;
        const newer = isNewer(newest, lead) ? newest.faceId : null;
        return [
          {
            faceId: run.faceId,
            face: `${lead.familyName} ${lead.style}`,
            at: run.at.toISOString(),
            made: run.made ?? [],
            problem: run.problem,
            outdated: newer !== null || lead.sha256 !== run.sourceSha256,
            newer,
          },
        ];
      })
      .sort((a, b) => a.face.localeCompare(b.face, 'en')),
  }));
}

/** Keeps a recipe under a name; one of that name before is replaced, and what it made is forgotten. */
export async function keepRecipe(
  db: DataSource,
  who: { workspaceId: string; name: string },
  { name, wish, address }: { name: string; wish: Wish; address: Record<string, string> },
): Promise<Kept> {
  const { workspaceId } = who;
  const row: KeptRecipeRow = { id: randomUUID(), workspaceId, name, wish, address, createdBy: who.name, createdAt: new Date() };
  await db.transaction(async (manager) => {
    await manager.getRepository(KeptRecipe).delete({ workspaceId, name });
    await manager.getRepository(KeptRecipe).insert(row);
  });
  return (await listRecipes(db, workspaceId)).find((r) => r.id === row.id)!;
}

/** Forgets a recipe. @throws HttpProblem when there is none */
export async function dropRecipe(db: DataSource, workspaceId: string, id: string): Promise<void> {
  const { affected } = await db.getRepository(KeptRecipe).delete({ id, workspaceId });
  if (!affected) throw notFound('This recipe');
}

/** Keeps what a recipe made of a face, or why it made nothing. */
async function note(
  db: DataSource,
  workspaceId: string,
  recipeId: string,
  faceId: string,
  { made, problem }: { made: Converted[] | null; problem: string },
): Promise<void> {
  const [lead] = await findFaces(db, workspaceId, [faceId]);
  await db
    .getRepository(RecipeRun)
    .upsert({ recipeId, faceId, workspaceId, sourceSha256: lead!.sha256, made, problem: problem.slice(0, 1000), at: new Date() }, [
      'recipeId',
      'faceId',
    ]);
}

/** Converts a face by a recipe that is kept, and remembers what came of it. @throws as `convertFace`, and when it is not kept */
export async function runRecipe(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  recipeId: string,
  faceId: string,
): Promise<Converted[]> {
  const recipe = await db.getRepository(KeptRecipe).findOneBy({ id: recipeId, workspaceId });
  if (!recipe) throw notFound('This recipe');
  try {
    const made = (await convertFace(db, compute, workspaceId, faceId, recipe.wish)).map((f) => f.about);
    await note(db, workspaceId, recipeId, faceId, { made, problem: '' });
    return made;
  } catch (error) {
    if (error instanceof HttpProblem || error instanceof ComputeError)
      await note(db, workspaceId, recipeId, faceId, { made: null, problem: error.message }).catch(() => undefined);
    throw error;
  }
}

/**
 * Runs kept recipes again for faces of which a newer version, or another file, came in since they ran. What is refused is
 * remembered with its reason, and the rest goes on.
 * @returns how many faces were made anew
 */
export async function runAgain(db: DataSource, compute: Compute, workspaceId: string): Promise<number> {
  let count = 0;
  for (const { id, runs } of await listRecipes(db, workspaceId))
    for (const run of runs.filter((r) => r.outdated)) {
      const faceId = run.newer ?? run.faceId;
      if (run.newer !== null && runs.some((other) => other.faceId === faceId && !other.outdated)) continue;
      try {
        await runRecipe(db, compute, workspaceId, id, faceId);
        count++;
      } catch (error) {
        if (!(error instanceof HttpProblem || error instanceof ComputeError)) throw error;
      }
    }
  return count;
}
