/** House styles: the faces of a brand in their roles. */
import { z } from 'zod';
import { okChanged } from '../families.js';
import { route } from '../route.js';
import { id, isoTime, line } from '../words.js';

export const HOUSE_ROLES = ['headline', 'text', 'accent', 'figures'] as const;
const color = z.string().regex(/^#[0-9a-f]{6}$/i);

/** What a role is set in. Sizes in points. */
export const houseRole = z.object({
  faceId: id,
  size: z.number().min(4).max(400),
  ink: color,
  paper: color,
});
const roles = z.object({
  headline: houseRole.nullable(),
  text: houseRole.nullable(),
  accent: houseRole.nullable(),
  figures: houseRole.nullable(),
});
export const houseStyle = z.object({
  id,
  name: z.string(),
  roles,
  /** What deserves a second look, in sentences. */
  doubts: z.array(z.object({ role: z.enum(HOUSE_ROLES).nullable(), message: z.string() })),
  changedBy: z.string(),
  changedAt: isoTime,
  version: z.number().int(),
});
export type HouseStyle = z.infer<typeof houseStyle>;

const fields = { name: line(120), roles };
const params = z.object({ styleId: id });
export const houseStylesRoutes = {
  listHouseStyles: route({
    method: 'GET',
    path: '/api/house-styles',
    access: 'viewer',
    summary: 'House styles of the workspace',
    answer: z.array(houseStyle),
  }),
  createHouseStyle: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/house-styles',
    access: 'editor',
    summary: 'Make a house style',
    body: z.object(fields),
    answer: houseStyle,
  }),
  changeHouseStyle: route({
    method: 'PUT',
    affects: 'nothing',
    path: '/api/house-styles/:styleId',
    access: 'editor',
    summary: 'Change a house style',
    params,
    body: z.object({ ...fields, version: z.number().int() }),
    answer: houseStyle,
  }),
  removeHouseStyle: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/house-styles/:styleId',
    access: 'editor',
    summary: 'Forget a house style',
    params,
  }),
  applyHouseStyle: route({
    method: 'POST',
    affects: 'library',
    path: '/api/house-styles/:styleId/places/:placeId',
    access: 'editor',
    summary: 'Set all roles of a place by a house style, with faces that lie there',
    params: z.object({ styleId: id, placeId: id }),
    /** `set`: roles that were given; `missing`: faces that are not there yet. */
    answer: okChanged.extend({ set: z.array(z.string()), missing: z.array(id) }),
  }),
  houseSheet: route({
    doing: 'Writing the brand sheet',
    job: 'again',
    method: 'GET',
    path: '/api/house-styles/:styleId/sheet',
    access: 'viewer',
    summary: 'A house style on one page, as PDF',
    params,
    answer: z.string(),
    carries: 'bytes',
  }),
};
