/** What is made here. */
import { z } from 'zod';
import { changedFamilies } from '../families.js';
import { route } from '../route.js';
import { format, id, isoTime, line, prose, sha256, targetFormat } from '../words.js';

/** What an edition of a face is: its name, the languages (CLDR tags; none for all it has), the formats. */
export const editionRecipe = z.object({
  name: line(80),
  languages: z.array(z.string().max(35)).max(200),
  formats: z.array(targetFormat).min(1).max(4),
});
export type EditionRecipe = z.infer<typeof editionRecipe>;

/** Something made here, with its releases, the newest first. */
export const product = z.object({
  id,
  kind: z.string(),
  kindName: z.string(),
  name: z.string(),
  licenseId: id.nullable(),
  sources: z.array(z.object({ name: z.string(), faceId: id.nullable() })),
  releases: z.array(
    z.object({
      number: z.number().int(),
      recipe: editionRecipe,
      notes: z.string(),
      by: z.string(),
      at: isoTime,
      files: z.array(
        z.object({
          name: z.string(),
          format,
          bytes: z.number().int(),
          sha256,
          fileId: id.nullable(),
          faceId: id.nullable(),
        }),
      ),
    }),
  ),
});
export type Product = z.infer<typeof product>;

export const productsRoutes = {
  listProducts: route({
    method: 'GET',
    path: '/api/products',
    access: 'viewer',
    summary: 'What was made here, with its releases',
    answer: z.array(product),
  }),
  createProduct: route({
    doing: 'Making the first release',
    job: 'once',
    method: 'POST',
    affects: 'library',
    path: '/api/products',
    access: 'editor',
    summary: 'Make something from faces, with its first release',
    body: z.object({
      kind: z.enum(['edition']),
      faceIds: z.array(id).min(1).max(1),
      recipe: editionRecipe,
      notes: prose(2000).default(''),
    }),
    answer: product.extend({ changed: changedFamilies }),
  }),
  makeRelease: route({
    doing: 'Making a release',
    job: 'once',
    method: 'POST',
    affects: 'library',
    path: '/api/products/:productId/releases',
    access: 'editor',
    summary: 'Make the next release',
    params: z.object({ productId: id }),
    body: z.object({ recipe: editionRecipe, notes: prose(2000).default('') }),
    answer: product.extend({ changed: changedFamilies }),
  }),
};
