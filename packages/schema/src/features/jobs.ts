/** Work that takes longer than a person waits: how far it is, stopping it, and what came of it. */
import { z } from 'zod';
import { route } from '../route.js';
import { id, isoTime } from '../words.js';

export const job = z.object({
  id,
  /** 'call' for a request that was carried out as a job, else the kind of work. */
  kind: z.string(),
  subjectId: id,
  state: z.enum(['receiving', 'queued', 'running', 'done', 'failed', 'cancelled']),
  done: z.number().int(),
  total: z.number().int(),
  message: z.string(),
  /** What was asked for, in words. */
  title: z.string(),
  /** Address of the page that it was asked from, within this application. */
  page: z.string().nullable(),
  /** What waits to be fetched: a file by its name, an answer, or nothing. */
  result: z.enum(['file', 'answer', 'none']),
  fileName: z.string().nullable(),
  /** When it is tried again, where the server was too busy. */
  againAt: isoTime.nullable(),
  createdAt: isoTime,
  finishedAt: isoTime.nullable(),
});
export type Job = z.infer<typeof job>;

export const jobsRoutes = {
  listJobs: route({
    method: 'GET',
    path: '/api/jobs',
    access: 'viewer',
    summary: 'Work of yours that runs, or whose result waits for you',
    answer: z.array(job),
  }),
  getJob: route({
    method: 'GET',
    path: '/api/jobs/:jobId',
    access: 'viewer',
    summary: 'How far a job is',
    params: z.object({ jobId: id }),
    answer: job,
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
  jobResult: route({
    method: 'GET',
    path: '/api/jobs/:jobId/result',
    access: 'viewer',
    summary: 'What came of a call that was carried out as a job: its answer or file, or why there is none',
    params: z.object({ jobId: id }),
    answer: z.string(),
    carries: 'bytes',
  }),
  cancelJob: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/jobs/:jobId/cancel',
    access: 'viewer',
    summary: 'Ask a job to stop; what is done stays',
    params: z.object({ jobId: id }),
    answer: job,
  }),
  retryJob: route({
    method: 'POST',
    affects: 'nothing',
    path: '/api/jobs/:jobId/retry',
    access: 'editor',
    summary: 'Start a failed or stopped job again; what was done is not done twice',
    params: z.object({ jobId: id }),
    answer: job,
  }),
  dismissJob: route({
    method: 'DELETE',
    affects: 'nothing',
    path: '/api/jobs/:jobId',
    access: 'viewer',
    summary: 'Put away a call of yours that ended, with its result',
    params: z.object({ jobId: id }),
  }),
};
