import { z } from 'zod';
import type { Contract } from './contract.js';
import * as o from './objects.js';
import { id, line, ok, role, targetFormat, use } from './words.js';

const none = z.object({});

/** Fills in what a route leaves out and keeps the exact types of what it states. */
function route<
  P extends z.ZodType = typeof none,
  Q extends z.ZodType = typeof none,
  B extends z.ZodType = typeof none,
  A extends z.ZodType = typeof ok,
>(
  c: Pick<Contract<P, Q, B, A>, 'method' | 'path' | 'access' | 'summary' | 'carries'> & { params?: P; query?: Q; body?: B; answer?: A },
): Contract<P, Q, B, A> {
  return { params: none, query: none, body: none, answer: ok, ...c } as unknown as Contract<P, Q, B, A>;
}

const email = z
  .email()
  .max(190)
  .transform((s) => s.toLowerCase());
const password = z.string().min(10, 'At least 10 characters, please.').max(200);
const pickFaces = z.array(id).min(1).max(100);

/** The route table. */
export const routes = {
  getSession: route({
    method: 'GET',
    path: '/api/session',
    access: 'public',
    summary: 'Who is signed in, where, and in which role',
    answer: o.session,
  }),
  signIn: route({
    method: 'POST',
    path: '/api/session',
    access: 'public',
    summary: 'Sign in',
    body: z.object({ email, password: z.string().max(200) }),
    answer: o.session,
  }),
  openDemo: route({ method: 'POST', path: '/api/session/demo', access: 'public', summary: 'Open the sample business', answer: o.session }),
  signOut: route({ method: 'DELETE', path: '/api/session', access: 'public', summary: 'Sign out' }),
  createAccount: route({
    method: 'POST',
    path: '/api/accounts',
    access: 'public',
    summary: 'Create an account with a workspace of its own',
    body: z.object({ name: line(120), email, password, workspace: line(120) }),
    answer: o.session,
  }),
  switchWorkspace: route({
    method: 'PUT',
    path: '/api/session/workspace',
    access: 'account',
    summary: 'Work in another of one’s workspaces',
    body: z.object({ workspaceId: id }),
    answer: o.session,
  }),

  listMembers: route({
    method: 'GET',
    path: '/api/members',
    access: 'viewer',
    summary: 'People in the workspace',
    answer: z.array(o.member),
  }),
  addMember: route({
    method: 'POST',
    path: '/api/members',
    access: 'owner',
    summary: 'Add a person',
    body: z.object({ name: line(120), email, password, role }),
    answer: o.member,
  }),
  changeMember: route({
    method: 'PATCH',
    path: '/api/members/:memberId',
    access: 'owner',
    summary: 'Change a person’s role',
    params: z.object({ memberId: id }),
    body: z.object({ role }),
    answer: o.member,
  }),
  removeMember: route({
    method: 'DELETE',
    path: '/api/members/:memberId',
    access: 'owner',
    summary: 'Take a person out of the workspace',
    params: z.object({ memberId: id }),
  }),

  getDesk: route({
    method: 'GET',
    path: '/api/desk',
    access: 'viewer',
    summary: 'What needs attention, most pressing first',
    answer: z.array(o.deskItem),
  }),
  getProofTexts: route({
    method: 'GET',
    path: '/api/proof-texts',
    access: 'viewer',
    summary: 'Ready texts of the workspace',
    answer: z.array(o.proofText),
  }),
  setProofTexts: route({
    method: 'PUT',
    path: '/api/proof-texts',
    access: 'editor',
    summary: 'Replace the ready texts',
    body: z.array(o.proofText).max(60),
    answer: z.array(o.proofText),
  }),

  listIntakes: route({
    method: 'GET',
    path: '/api/intakes',
    access: 'viewer',
    summary: 'Acts of bringing files in, newest first',
    answer: z.array(o.intake),
  }),
  createIntake: route({
    method: 'POST',
    path: '/api/intakes',
    access: 'editor',
    summary: 'Begin bringing files in',
    body: z.object({ label: z.string().trim().max(160) }),
    answer: o.intake,
  }),
  getIntake: route({
    method: 'GET',
    path: '/api/intakes/:intakeId',
    access: 'viewer',
    summary: 'One intake with what became of each file',
    params: z.object({ intakeId: id }),
    answer: z.object({ intake: o.intake, items: z.array(o.intakeItem), suggestions: z.array(o.bundleSuggestion) }),
  }),
  uploadFile: route({
    method: 'POST',
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
    path: '/api/intakes/:intakeId/start',
    access: 'editor',
    summary: 'Sort what was sent',
    params: z.object({ intakeId: id }),
    answer: o.job,
  }),
  discardIntake: route({
    method: 'DELETE',
    path: '/api/intakes/:intakeId',
    access: 'editor',
    summary: 'Throw away an intake that was not started',
    params: z.object({ intakeId: id }),
  }),

  getJob: route({
    method: 'GET',
    path: '/api/jobs/:jobId',
    access: 'viewer',
    summary: 'How far a job is',
    params: z.object({ jobId: id }),
    answer: o.job,
  }),
  watchJob: route({
    method: 'GET',
    path: '/api/jobs/:jobId/events',
    access: 'viewer',
    summary: 'A job’s progress as server-sent events',
    params: z.object({ jobId: id }),
    answer: z.string(),
    carries: 'events',
  }),
  cancelJob: route({
    method: 'POST',
    path: '/api/jobs/:jobId/cancel',
    access: 'editor',
    summary: 'Ask a job to stop; what is done stays',
    params: z.object({ jobId: id }),
    answer: o.job,
  }),

  listFamilies: route({
    method: 'GET',
    path: '/api/families',
    access: 'viewer',
    summary: 'The library, a family a line',
    answer: o.library,
  }),
  listLanguages: route({
    method: 'GET',
    path: '/api/languages',
    access: 'viewer',
    summary: 'Languages a face may be judged for',
    answer: z.array(o.languageName),
  }),
  checkText: route({
    method: 'POST',
    path: '/api/text-check',
    access: 'viewer',
    summary: 'Which faces set a text, and what each lacks',
    body: z.object({ text: z.string().min(1).max(200_000), faceIds: z.array(id).max(6000), use: use.nullable() }),
    answer: o.textCheck,
  }),
  getFace: route({
    method: 'GET',
    path: '/api/faces/:faceId',
    access: 'viewer',
    summary: 'Everything known of one face',
    params: z.object({ faceId: id }),
    answer: o.face,
  }),
  listCharacters: route({
    method: 'GET',
    path: '/api/faces/:faceId/characters',
    access: 'viewer',
    summary: 'The characters of a face by block, or those whose name or code point fits',
    params: z.object({ faceId: id }),
    query: z.object({ q: z.string().max(100).optional() }),
    answer: o.characters,
  }),
  getGlyph: route({
    method: 'GET',
    path: '/api/faces/:faceId/glyph',
    access: 'viewer',
    summary: 'One glyph drawn and measured, by code point or glyph number',
    params: z.object({ faceId: id }),
    query: z.object({
      codePoint: z.coerce.number().int().min(0).max(0x10ffff).optional(),
      glyph: z.coerce.number().int().min(0).max(65535).optional(),
    }),
    answer: o.glyphDetail,
  }),
  getFaceLine: route({
    method: 'GET',
    path: '/api/faces/:faceId/line',
    access: 'viewer',
    summary: 'The face cut down to the characters of a text, as a font file',
    params: z.object({ faceId: id }),
    query: z.object({ text: z.string().min(1).max(2000), rev: z.string().max(64).optional() }),
    answer: z.string(),
    carries: 'bytes',
  }),
  downloadFace: route({
    method: 'GET',
    path: '/api/faces/:faceId/as/:format',
    access: 'viewer',
    summary: 'A face in another container, outlines as they are',
    params: z.object({ faceId: id, format: targetFormat }),
    answer: z.string(),
    carries: 'bytes',
  }),
  downloadFile: route({
    method: 'GET',
    path: '/api/files/:fileId/bytes',
    access: 'viewer',
    summary: 'A font file as it was received',
    params: z.object({ fileId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),
  readCompanion: route({
    method: 'GET',
    path: '/api/companions/:companionId',
    access: 'viewer',
    summary: 'The text of a companion, where it can be read',
    params: z.object({ companionId: id }),
    answer: z.object({ companion: o.companion, text: z.string().nullable() }),
  }),
  downloadCompanion: route({
    method: 'GET',
    path: '/api/companions/:companionId/bytes',
    access: 'viewer',
    summary: 'A companion as it was received',
    params: z.object({ companionId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),

  listLicenses: route({
    method: 'GET',
    path: '/api/licenses',
    access: 'viewer',
    summary: 'Licenses on record',
    answer: z.array(o.license),
  }),
  createLicense: route({
    method: 'POST',
    path: '/api/licenses',
    access: 'editor',
    summary: 'Record a license',
    body: o.licenseFields,
    answer: o.license,
  }),
  changeLicense: route({
    method: 'PUT',
    path: '/api/licenses/:licenseId',
    access: 'editor',
    summary: 'Correct a license; the former version is kept',
    params: z.object({ licenseId: id }),
    body: o.licenseFields,
    answer: o.license,
  }),
  removeLicense: route({
    method: 'DELETE',
    path: '/api/licenses/:licenseId',
    access: 'editor',
    summary: 'Take a license off record; its versions are kept',
    params: z.object({ licenseId: id }),
  }),

  listPlaces: route({
    method: 'GET',
    path: '/api/places',
    access: 'viewer',
    summary: 'Places and what is installed there',
    answer: z.array(o.place),
  }),
  createPlace: route({
    method: 'POST',
    path: '/api/places',
    access: 'owner',
    summary: 'Add a place',
    body: z.object({ name: line(120), profileId: z.string().max(40), address: z.url({ protocol: /^https?$/ }).max(300), key: line(200) }),
    answer: o.place,
  }),
  removePlace: route({
    method: 'DELETE',
    path: '/api/places/:placeId',
    access: 'owner',
    summary: 'Forget a place that has nothing installed',
    params: z.object({ placeId: id }),
  }),
  checkForPlace: route({
    method: 'POST',
    path: '/api/places/:placeId/preflight',
    access: 'viewer',
    summary: 'Foresee what a place will say to some faces',
    params: z.object({ placeId: id }),
    body: z.object({ faceIds: pickFaces, convertTo: targetFormat.nullable() }),
    answer: z.array(o.preflightFace),
  }),

  createDelivery: route({
    method: 'POST',
    path: '/api/deliveries',
    access: 'editor',
    summary: 'Put faces at a place',
    body: z.object({
      placeId: id,
      convertTo: targetFormat.nullable(),
      headings: z.boolean(),
      faces: z
        .array(z.object({ faceId: id, statement: z.string().max(1000), note: z.string().trim().max(1000) }))
        .min(1)
        .max(100),
    }),
    answer: o.delivery,
  }),
  getDelivery: route({
    method: 'GET',
    path: '/api/deliveries/:deliveryId',
    access: 'viewer',
    summary: 'One delivery and what became of each face',
    params: z.object({ deliveryId: id }),
    answer: o.delivery,
  }),
  removeInstall: route({
    method: 'DELETE',
    path: '/api/installs/:installId',
    access: 'editor',
    summary: 'Take a face off a place',
    params: z.object({ installId: id }),
  }),
  getKit: route({
    method: 'GET',
    path: '/api/kit',
    access: 'viewer',
    summary: 'A handover kit for a website, as a ZIP',
    query: z.object({ faces: z.string().max(4000) }),
    answer: z.string(),
    carries: 'bytes',
  }),
};
export type Routes = typeof routes;
