/** Proof sheets and their public pages. */
import { z } from 'zod';
import { route } from '../route.js';
import { id, isoDay, isoTime, line, prose } from '../words.js';

/** What a proof sheet shows. */
export const proofPlan = z.object({
  faceIds: z.array(id).min(1).max(20),
  title: line(160),
  text: prose(2000),
  parts: z.array(z.enum(['alphabet', 'sizes', 'languages', 'paragraph'])).max(4),
  ink: z.string().regex(/^#[0-9a-f]{6}$/i),
  paper: z.string().regex(/^#[0-9a-f]{6}$/i),
});
export type ProofPlan = z.infer<typeof proofPlan>;

export const proofSheet = z.object({
  id,
  title: z.string(),
  plan: proofPlan,
  endsOn: isoDay,
  ended: z.boolean(),
  /** Path of the public page, with its secret. */
  path: z.string(),
  by: z.string(),
  createdAt: isoTime,
});
export type ProofSheet = z.infer<typeof proofSheet>;

export const proofSheetsRoutes = {
  listProofSheets: route({
    method: 'GET',
    path: '/api/proofs',
    access: 'viewer',
    summary: 'Proof sheets with a public page',
    answer: z.array(proofSheet),
  }),
  createProofSheet: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/proofs',
    access: 'editor',
    summary: 'Put a proof sheet on a page that whoever has its address can read, until a day',
    body: z.object({ plan: proofPlan, endsOn: isoDay }),
    answer: proofSheet,
  }),
  removeProofSheet: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/proofs/:sheetId',
    access: 'editor',
    summary: 'Take a public page back',
    params: z.object({ sheetId: id }),
  }),
  renewProofSheet: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/proofs/:sheetId/renew',
    access: 'editor',
    summary: 'Give a public page a new address; the former no longer answers',
    params: z.object({ sheetId: id }),
    answer: proofSheet,
  }),
  renderProofSheet: route({
    doing: 'Drawing a proof sheet',
    job: 'again',
    whenLeft: 'stop',
    method: 'POST',
    affects: 'nothing',
    path: '/api/proofs/render',
    access: 'viewer',
    summary: 'A proof sheet as PDF, or one page of it as PNG',
    query: z.object({ as: z.enum(['pdf', 'png']), page: z.coerce.number().int().min(1).max(60).default(1) }),
    body: proofPlan,
    answer: z.string(),
    carries: 'bytes',
  }),
  readProofSheet: route({
    method: 'GET',
    path: '/api/public/proofs/:secret',
    access: 'public',
    summary: 'What a public proof page shows',
    params: z.object({ secret: z.string().max(64) }),
    answer: z.object({
      title: z.string(),
      business: z.string(),
      endsOn: isoDay,
      text: z.string(),
      ink: z.string(),
      paper: z.string(),
      pages: z.number().int(),
      /** `web`: whether its license lets the page set live text in it. */
      faces: z.array(z.object({ name: z.string(), license: z.string(), web: z.boolean() })),
    }),
  }),
  readProofSheetPage: route({
    method: 'GET',
    path: '/api/public/proofs/:secret/pages/:page',
    access: 'public',
    summary: 'One page of a public proof sheet as PNG',
    params: z.object({ secret: z.string().max(64), page: z.coerce.number().int().min(1).max(60) }),
    answer: z.string(),
    carries: 'bytes',
  }),
  readProofSheetFace: route({
    method: 'GET',
    path: '/api/public/proofs/:secret/faces/:number',
    access: 'public',
    summary: 'A face of a public proof sheet, cut down to its text, where the license lets a website show it',
    params: z.object({ secret: z.string().max(64), number: z.coerce.number().int().min(0).max(19) }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
