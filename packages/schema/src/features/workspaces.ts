/** A workspace taken along as a whole. */
import { z } from 'zod';
import { color, keepRule, kind } from '../order.js';
import { route } from '../route.js';
import { id, isoTime, sha256 } from '../words.js';
import { readyText } from './library.js';
import { licenseFields, startingPoint } from './licenses.js';

/** Where a face is in an export: a file by its hash, and the face within it. */
const faceAt = z.object({ sha256, index: z.number().int().min(0).max(4095) });

const evidenceAt = z.object({ sha256, name: z.string().max(1000) });

const portable = licenseFields.omit({ faceIds: true, companionIds: true });

/** The file in an export in which everything stands that is not a received file itself. */
export const EXPORT_NAME = 'orderly-glyph-workspace.json';

/**
 * All that a workspace owns, in words of its own: what it received lies beside it under `bundles/`, by the paths it came
 * with. Deliveries, installs and statements are there to be read; they are facts of the installation they were made in.
 */
export const workspaceExport = z.object({
  format: z.literal('orderly-glyph-workspace'),
  version: z.literal(1),
  madeAt: isoTime,
  name: z.string().max(255),
  timeZone: z.string().max(60),
  palette: z.array(color).max(24),
  keepRule: keepRule.nullable(),
  proofTexts: z.array(readyText).max(60),
  families: z
    .array(
      z.object({
        name: z.string().max(255),
        favorite: z.boolean(),
        archived: z.boolean(),
        labels: z.array(z.string().max(40)).max(100),
        note: z.string().max(4000),
        faces: z.array(faceAt.extend({ style: z.string().max(255), kind: kind.nullable() })).max(6000),
      }),
    )
    .max(20_000),
  collections: z.array(z.object({ name: z.string().max(120), families: z.array(z.string().max(255)).max(20_000) })).max(1000),
  searches: z.array(z.object({ name: z.string().max(120), query: z.string().max(2000) })).max(500),
  texts: z.array(z.object({ name: z.string().max(120), text: z.string().max(200_000) })).max(500),
  startingPoints: z.array(startingPoint.omit({ id: true })).max(50),
  licenses: z
    .array(
      z.object({
        fields: portable,
        faces: z.array(faceAt).max(6000),
        evidence: z.array(evidenceAt).max(200),
        confirmedBy: z.string().max(255).nullable(),
        confirmedAt: isoTime.nullable(),
        removed: z.boolean(),
        history: z
          .array(z.object({ version: z.number().int(), by: z.string(), at: isoTime, act: z.string().nullable(), fields: z.unknown() }))
          .max(2000),
      }),
    )
    .max(20_000),
  places: z.array(z.object({ name: z.string(), profile: z.string(), address: z.string() })).max(1000),
  installs: z
    .array(
      z.object({
        face: faceAt.nullable(),
        place: z.string(),
        file: z.string(),
        sha256,
        at: isoTime,
        by: z.string(),
        until: isoTime.nullable(),
      }),
    )
    .max(200_000),
  statements: z
    .array(
      z.object({
        face: faceAt.nullable(),
        for: z.string(),
        words: z.string(),
        person: z.string(),
        answer: z.string(),
        note: z.string(),
        license: z.string().nullable(),
        licenseVersion: z.number().int().nullable(),
        overridden: z.boolean(),
        at: isoTime,
      }),
    )
    .max(200_000),
});
export type WorkspaceExport = z.infer<typeof workspaceExport>;

/** Parts of an export in which stands what was made in the workspace; the first names what the others rest on. */
export const MADE_NAME = /^orderly-glyph-made-\d{3,6}\.json$/;
export const madeName = (number: number): string => `orderly-glyph-made-${String(number).padStart(3, '0')}.json`;

const carriedRow = z.record(z.string().max(64), z.union([z.string(), z.number(), z.null(), z.object({ base64: z.base64() })]));
export type CarriedRow = z.infer<typeof carriedRow>;

/** One part: rows of tables, and bytes that they name by SHA-256. */
export const madePart = z.object({
  format: z.literal('orderly-glyph-made'),
  version: z.literal(1),
  names: z
    .object({
      faces: z.array(faceAt.extend({ id })).max(200_000),
      families: z.array(z.object({ id, name: z.string().max(255) })).max(200_000),
      files: z.array(z.object({ id, sha256 })).max(200_000),
      /** In the order of the record's licenses. */
      licenses: z.array(id).max(20_000),
    })
    .nullable(),
  tables: z.record(z.string().max(64), z.array(carriedRow).max(200_000)),
  bytes: z.array(z.object({ sha256, base64: z.base64() })).max(100_000),
});
export type MadePart = z.infer<typeof madePart>;

export const workspacesRoutes = {
  exportWorkspace: route({
    doing: 'Exporting the workspace',
    job: 'again',
    method: 'GET',
    path: '/api/workspace/export',
    access: 'owner',
    summary: 'All that the workspace owns, as one open ZIP',
    answer: z.string(),
    carries: 'bytes',
  }),
  importWorkspace: route({
    doing: 'Reading an export back',
    job: 'once',
    method: 'POST',
    affects: 'library',
    path: '/api/workspace/import',
    access: 'owner',
    summary: 'Take over what an export says, once its files were brought in',
    /** Without a person's word for it, no license that an export calls confirmed is confirmed here. */
    body: z.object({ intakeId: id, vouched: z.boolean() }),
    answer: z.object({ licenses: z.number().int(), families: z.number().int(), left: z.array(z.string()) }),
  }),
};
