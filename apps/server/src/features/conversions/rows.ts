import type { Converted, Wish } from '@orderly-glyph/schema';
import { entity, json, key, text, time, uuid, ws } from '../../platform/database/columns.js';

/** A recipe kept under a name. */
export interface KeptRecipeRow {
  id: string;
  workspaceId: string;
  name: string;
  wish: Wish;
  /** The form as it was filled in: what stands in the address of the bench. */
  address: Record<string, string>;
  createdBy: string;
  createdAt: Date;
}
export const KeptRecipe = entity<KeptRecipeRow>('kept_recipe', {
  id: key(),
  workspaceId: ws(),
  name: text('name', 120),
  wish: json<Wish>('wish'),
  address: json<Record<string, string>>('address'),
  createdBy: text('created_by'),
  createdAt: time('created_at'),
});

/** What a kept recipe made of a face the last time. Its files are renditions. */
export interface RecipeRunRow {
  recipeId: string;
  faceId: string;
  workspaceId: string;
  sourceSha256: string;
  made: Converted[] | null;
  /** Why nothing was made; empty when something was. */
  problem: string;
  at: Date;
}
export const RecipeRun = entity<RecipeRunRow>('recipe_run', {
  recipeId: uuid('recipe_id', { primary: true }),
  faceId: uuid('face_id', { primary: true }),
  workspaceId: ws(),
  sourceSha256: { name: 'source_sha256', type: 'char', length: 64 },
  made: json<Converted[]>('made'),
  problem: text('problem', 1000),
  at: time('at'),
});

export const conversionsRows = [KeptRecipe, RecipeRun];
