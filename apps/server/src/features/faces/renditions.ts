import { createHash } from 'node:crypto';
import { recipeKey, type FontFormat, type Comparison, type Recipe } from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import { getBlob, putBlob } from '../../platform/blobs/blobs.js';
import { ComputeError, type Compute } from '../../platform/compute/pool.js';
import { Rendition } from './rows.js';

export interface Rendered {
  format: FontFormat;
  sha256: string;
  bytes: number;
  comparison: Comparison;
}

interface Source {
  sha256: string;
  faceIndex: number;
}

/** A key that fits its column: long ones, and those with letters that it does not hold, by their digest. */
const shortKey = (key: string): string =>
  key.length <= 300 && /^[\x20-\x7e]*$/.test(key) ? key : `sha256:${createHash('sha256').update(key).digest('hex')}`;

/**
 * A face carried through a recipe, made once, proved, and kept under its source, the recipe and the versions of its steps.
 * @throws ComputeError when it cannot be made.
 */
export async function render(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  source: Source,
  recipe: Recipe,
  urgent = false,
): Promise<Rendered> {
  const key = { workspaceId, sourceSha256: source.sha256, faceIndex: source.faceIndex, recipe: shortKey(recipeKey(recipe)) };
  const known = await db.getRepository(Rendition).findOneBy(key);
  if (known) return known;
  const original = await getBlob(db.manager, workspaceId, source.sha256);
  const { bytes, format, comparison } = await compute.run('convert', [original, source.faceIndex, recipe], urgent);
  if (!comparison.equal)
    throw new ComputeError({
      code: 'not-equal',
      message: `It would not be the same face, so nothing was made: ${comparison.differences.slice(0, 3).join(' ')}`,
    });
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await db.transaction(async (manager) => {
    await putBlob(manager, workspaceId, sha256, bytes);
    await manager
      .createQueryBuilder()
      .insert()
      .orIgnore()
      .into(Rendition)
      .values({ ...key, format, sha256, bytes: bytes.length, comparison })
      .execute();
  });
  return { format, sha256, bytes: bytes.length, comparison };
}
