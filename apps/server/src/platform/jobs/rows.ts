import { entity, flag, key, maybe, text, time, uuid, whole, ws } from '../database/columns.js';

export interface JobRow {
  id: string;
  workspaceId: string;
  kind: 'intake' | 'delivery' | 'facts' | 'installs';
  subjectId: string;
  state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number;
  message: string;
  claimedBy: string | null;
  heartbeatAt: Date | null;
  cancelRequested: boolean;
  attempts: number;
  createdAt: Date;
  finishedAt: Date | null;
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
});
