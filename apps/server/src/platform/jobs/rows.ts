import { entity, flag, json, key, maybe, text, time, uuid, whole, ws } from '../database/columns.js';

/** What came of a call: the head of its answer, or why there is none. */
export interface CallResult {
  status: number;
  headers: Record<string, string>;
  fileName: string | null;
  problem: { code: string; message: string; field?: string } | null;
}

export interface JobRow {
  id: string;
  workspaceId: string;
  kind: string;
  subjectId: string;
  state: 'receiving' | 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number;
  message: string;
  claimedBy: string | null;
  heartbeatAt: Date | null;
  cancelRequested: boolean;
  attempts: number;
  createdAt: Date;
  finishedAt: Date | null;
  /** Who asked; null for what nobody waits for. */
  accountId: string | null;
  title: string;
  page: string | null;
  /** Not before then, where it waits for a quieter hour. */
  notBefore: Date | null;
  /** How often the machine was too busy for it. */
  busy: number;
  /** Transactions of its work that went through. */
  applied: number;
  /** What a call was asked with. */
  input: object | null;
  result: CallResult | null;
  /** Bytes of what was sent with it and of its result. */
  bytes: number;
  fetchedAt: Date | null;
}

export const JobEntity = entity<JobRow>('job', {
  id: key(),
  workspaceId: ws(),
  kind: text('kind', 10),
  subjectId: uuid('subject_id'),
  state: text('state', 10),
  done: whole('done'),
  total: whole('total'),
  message: text('message', 500),
  claimedBy: uuid('claimed_by', maybe),
  heartbeatAt: time('heartbeat_at', maybe),
  cancelRequested: flag('cancel_requested'),
  attempts: whole('attempts'),
  createdAt: time('created_at'),
  finishedAt: time('finished_at', maybe),
  accountId: uuid('account_id', maybe),
  title: text('title', 200),
  page: text('page', 1000, maybe),
  notBefore: time('not_before', maybe),
  busy: whole('busy'),
  applied: whole('applied'),
  input: json<object>('input'),
  result: json<CallResult>('result'),
  bytes: whole('bytes'),
  fetchedAt: time('fetched_at', maybe),
});
