/** People, how they sign in, and their workspaces. */
import { z } from 'zod';
import { route } from '../route.js';
import { id, isoTime, line, prose, role, timeZone } from '../words.js';

const email = z
  .email()
  .max(190)
  .transform((s) => s.toLowerCase());
const password = z.string().min(10, 'At least 10 characters, please.').max(200);

export const session = z.object({
  signedIn: z.boolean(),
  demoAvailable: z.boolean(),
  /** `demo`: a visitor of the sample business, who shares its account with others. */
  account: z.object({ id, name: z.string(), email: z.string(), demo: z.boolean() }).nullable(),
  workspace: z.object({ id, name: z.string(), isDemo: z.boolean(), timeZone: z.string() }).nullable(),
  role: role.nullable(),
  workspaces: z.array(z.object({ id, name: z.string(), role })),
});
export type Session = z.infer<typeof session>;

export const member = z.object({ id, name: z.string(), email: z.string(), role, you: z.boolean(), version: z.number().int() });

/** An invitation that nobody has taken up yet. Its address is shown once, when it is made. */
export const invitation = z.object({ id, role, note: z.string(), by: z.string(), createdAt: isoTime, expiresAt: isoTime });
export type Invitation = z.infer<typeof invitation>;

/** A browser somebody is signed in with. */
export const ownSession = z.object({ id, agent: z.string(), createdAt: isoTime, seenAt: isoTime, current: z.boolean() });
export type OwnSession = z.infer<typeof ownSession>;

export const accountsRoutes = {
  getSession: route({
    method: 'GET',
    path: '/api/session',
    access: 'public',
    summary: 'Who is signed in, where, and in which role',
    answer: session,
  }),
  signIn: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/session',
    access: 'public',
    summary: 'Sign in',
    body: z.object({ email, password: z.string().max(200) }),
    answer: session,
  }),
  openDemo: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/session/demo',
    access: 'public',
    summary: 'Open the sample business',
    answer: session,
  }),
  startSampleOver: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/session/demo/start-over',
    access: 'public',
    summary: 'Put the sample business back to how it was at first; only on the machine that it runs on',
  }),
  signOut: route({ method: 'DELETE', affects: 'nothing', path: '/api/session', access: 'public', summary: 'Sign out' }),
  createAccount: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/accounts',
    access: 'public',
    summary: 'Create an account with a workspace of its own',
    body: z.object({ name: line(120), email, password, workspace: line(120), timeZone: timeZone.default('UTC') }),
    answer: session,
  }),
  changeAccount: route({
    method: 'PATCH',
    affects: 'nothing',
    path: '/api/account',
    access: 'account',
    notInDemo: true,
    summary:
      'Change one’s own name, e-mail address or password; a new address or password takes the current one and ends all other sessions',
    body: z.object({
      name: line(120).optional(),
      email: email.optional(),
      password: password.optional(),
      current: z.string().max(200).default(''),
    }),
    answer: session,
  }),
  listSessions: route({
    method: 'GET',
    path: '/api/account/sessions',
    access: 'account',
    notInDemo: true,
    summary: 'Where one is signed in',
    answer: z.array(ownSession),
  }),
  endSession: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/account/sessions/:sessionId',
    access: 'account',
    notInDemo: true,
    summary: 'Sign one browser out',
    params: z.object({ sessionId: id }),
  }),
  changeWorkspace: route({
    method: 'PATCH',
    affects: 'nothing',
    path: '/api/workspace',
    access: 'owner',
    summary: 'Change the name or the time zone of the workspace',
    body: z.object({ name: line(120), timeZone }),
    answer: session,
  }),
  listInvitations: route({
    method: 'GET',
    path: '/api/invitations',
    access: 'owner',
    summary: 'Invitations that nobody has taken up yet',
    answer: z.array(invitation),
  }),
  createInvitation: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/invitations',
    access: 'owner',
    summary: 'Invite a person: the answer holds an address, for one use within seven days, to pass on',
    body: z.object({ role, note: prose(120) }),
    answer: invitation.extend({ path: z.string() }),
  }),
  revokeInvitation: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/invitations/:invitationId',
    access: 'owner',
    summary: 'Take an invitation back',
    params: z.object({ invitationId: id }),
  }),
  readInvitation: route({
    method: 'GET',
    path: '/api/public/invitations/:token',
    access: 'public',
    summary: 'To what an invitation invites',
    params: z.object({ token: z.string().max(64) }),
    answer: z.object({ workspace: z.string(), role, by: z.string(), expiresAt: isoTime }),
  }),
  acceptInvitation: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/public/invitations/:token',
    access: 'public',
    summary: 'Join, with the account one is signed in to or with a new one',
    params: z.object({ token: z.string().max(64) }),
    body: z.object({ account: z.object({ name: line(120), email, password }).nullable() }),
    answer: session,
  }),
  resetMember: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/members/:memberId/reset',
    access: 'owner',
    summary: 'Make an address, for one use within a day, at which a person sets a new password',
    params: z.object({ memberId: id }),
    answer: z.object({ path: z.string(), expiresAt: isoTime }),
  }),
  readReset: route({
    method: 'GET',
    path: '/api/public/resets/:token',
    access: 'public',
    summary: 'Whether such an address still holds',
    params: z.object({ token: z.string().max(64) }),
    answer: z.object({ by: z.string(), expiresAt: isoTime }),
  }),
  useReset: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/public/resets/:token',
    access: 'public',
    summary: 'Set a new password; all sessions of the account end',
    params: z.object({ token: z.string().max(64) }),
    body: z.object({ password }),
  }),
  switchWorkspace: route({
    method: 'PUT',
    affects: 'nothing',
    path: '/api/session/workspace',
    access: 'account',
    summary: 'Work in another of one’s workspaces',
    body: z.object({ workspaceId: id }),
    answer: session,
  }),
  listMembers: route({
    method: 'GET',
    path: '/api/members',
    access: 'viewer',
    summary: 'People in the workspace',
    answer: z.array(member),
  }),
  changeMember: route({
    method: 'PATCH',
    affects: 'nothing',
    path: '/api/members/:memberId',
    access: 'owner',
    summary: 'Change a person’s role',
    params: z.object({ memberId: id }),
    body: z.object({ role, version: z.number().int() }),
    answer: member,
  }),
  removeMember: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/members/:memberId',
    access: 'owner',
    summary: 'Take a person out of the workspace',
    params: z.object({ memberId: id }),
  }),
};
