/** Bringing files in. */
import { z } from 'zod';
import { route } from '../route.js';
import { id, isoTime } from '../words.js';
import { job } from './jobs.js';
import { suggestion } from './licenses.js';

export const itemState = z.enum(['waiting', 'added', 'already-here', 'companion', 'set-aside', 'refused']);

export const intakeItem = z.object({
  id,
  path: z.string(),
  bundle: z.string().nullable(),
  bytes: z.number().int(),
  state: itemState,
  reason: z.string(),
  faceId: id.nullable(),
  companionId: id.nullable(),
  /** Its bytes are still here, and reading it can be tried again. */
  again: z.boolean(),
});
export type IntakeItem = z.infer<typeof intakeItem>;

export const intake = z.object({
  id,
  label: z.string(),
  state: z.enum(['waiting', 'queued', 'running', 'done', 'failed', 'cancelled']),
  by: z.string(),
  createdAt: isoTime,
  bytes: z.number().int(),
  uploads: z.array(z.object({ id, name: z.string(), bytes: z.number().int() })),
  counts: z.record(itemState, z.number().int()),
  familyCount: z.number().int(),
  jobId: id.nullable(),
});
export type Intake = z.infer<typeof intake>;

/** A text of an intake that says something of rights: what it is, and which faces it counts for. */
export const bundleSuggestion = z.object({
  bundleId: id,
  bundle: z.string(),
  companionId: id,
  companionName: z.string(),
  /** Null where its terms are no known license. */
  suggestion: suggestion.nullable(),
  /** Faces it counts for that have no license on record, and their families. */
  faceIds: z.array(id),
  families: z.array(z.string()),
  /** Families it does not count for, with the reason. */
  left: z.array(z.object({ family: z.string(), faces: z.number().int(), reason: z.string() })),
  /** Faces it counts for that have a license on record already. */
  settled: z.number().int(),
});
export type BundleSuggestion = z.infer<typeof bundleSuggestion>;

export const intakeRoutes = {
  listIntakes: route({
    method: 'GET',
    path: '/api/intakes',
    access: 'viewer',
    summary: 'Acts of bringing files in, newest first',
    answer: z.array(intake),
  }),
  createIntake: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/intakes',
    access: 'editor',
    summary: 'Begin bringing files in',
    body: z.object({ label: z.string().trim().max(160) }),
    answer: intake,
  }),
  getIntake: route({
    method: 'GET',
    path: '/api/intakes/:intakeId',
    access: 'viewer',
    summary: 'One intake with what became of each file',
    params: z.object({ intakeId: id }),
    answer: z.object({ intake: intake, items: z.array(intakeItem), suggestions: z.array(bundleSuggestion) }),
  }),
  uploadFile: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/intakes/:intakeId/uploads',
    access: 'editor',
    summary: 'Send one file or ZIP, as it is, in the request body',
    params: z.object({ intakeId: id }),
    query: z.object({ name: z.string().min(1).max(1000) }),
    answer: z.object({ id, name: z.string(), bytes: z.number().int() }),
    carries: 'upload',
  }),
  startIntake: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/intakes/:intakeId/start',
    access: 'editor',
    summary: 'Sort what was sent',
    params: z.object({ intakeId: id }),
    answer: job,
  }),
  discardIntake: route({
    method: 'DELETE',
    affects: 'library',
    path: '/api/intakes/:intakeId',
    access: 'editor',
    summary: 'Throw away an intake that was not started',
    params: z.object({ intakeId: id }),
  }),
  retryItem: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/intakes/:intakeId/items/:itemId/retry',
    access: 'editor',
    summary: 'Read a file again that was set aside because reading it took too much',
    params: z.object({ intakeId: id, itemId: id }),
    answer: job,
  }),
};
