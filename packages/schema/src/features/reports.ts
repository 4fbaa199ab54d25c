/** The audit, and proof of rights. */
import { z } from 'zod';
import { route } from '../route.js';
import { answer, id, isoDay, isoTime, use } from '../words.js';

/** One face and one use of it; `place` is null where it is nowhere installed. */
export const auditRow = z.object({
  faceId: id,
  family: z.string(),
  face: z.string(),
  use,
  place: z.string().nullable(),
  address: z.string().nullable(),
  since: isoTime.nullable(),
  by: z.string().nullable(),
  today: answer,
  onDay: answer,
  /** It is used somewhere, and the answer is, or on the chosen day will be, other than yes. */
  problem: z.boolean(),
  reason: z.string(),
  reasonOnDay: z.string(),
  license: z.string().nullable(),
  endsOn: isoDay.nullable(),
  duties: z.array(z.string()),
  remedy: z.string().nullable(),
  /** Reasons owners gave for going ahead without a right. */
  overrides: z.array(z.object({ person: z.string(), at: isoTime, note: z.string() })),
});
export type AuditRow = z.infer<typeof auditRow>;

export const audit = z.object({
  workspace: z.string(),
  madeAt: isoTime,
  today: isoDay,
  day: isoDay,
  problems: z.number().int(),
  rows: z.array(auditRow),
});
export type Audit = z.infer<typeof audit>;

export const reportsRoutes = {
  writeProofOfRights: route({
    doing: 'Writing the proof of rights',
    job: 'again',
    method: 'POST',
    affects: 'nothing',
    path: '/api/rights/proof',
    access: 'viewer',
    summary: 'Proof of rights for chosen faces and a use: a PDF, or a ZIP with the PDF, license texts, receipts and statements',
    body: z.object({ faceIds: z.array(id).min(1).max(2000), use, as: z.enum(['pdf', 'zip']) }),
    answer: z.string(),
    carries: 'bytes',
  }),
  getAudit: route({
    method: 'GET',
    path: '/api/rights/audit',
    access: 'viewer',
    summary: 'Every face, every place it is used, the verdict today and on a chosen day, problems first',
    query: z.object({ day: isoDay.optional() }),
    answer: audit,
  }),
  downloadAudit: route({
    doing: 'Writing the audit',
    job: 'again',
    method: 'GET',
    path: '/api/rights/audit/file',
    access: 'viewer',
    summary: 'The audit report as a file',
    query: z.object({ day: isoDay.optional(), as: z.enum(['pdf', 'csv', 'json']) }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
