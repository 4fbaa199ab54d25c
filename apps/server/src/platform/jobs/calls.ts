import { randomUUID } from 'node:crypto';
import { Readable, Writable } from 'node:stream';
import { finished, pipeline } from 'node:stream/promises';
import type { AnyContract, Role } from '@orderly-glyph/schema';
import type { Request, Response } from 'express';
import type { DataSource } from 'typeorm';
import { CHUNK, sendBytes } from '../blobs/blobs.js';
import { roomFor, type Space } from '../blobs/space.js';
import { touchLibrary } from '../cache/revision.js';
import { HttpProblem, problemOf } from '../http/problem.js';
import { JobEntity, type CallResult, type JobRow } from './rows.js';
import { queueJob, takeTurn, type JobControl, type JobKind } from './runner.js';

/** What a call was asked with, as it is kept until it is carried out. */
export interface CallInput {
  route: string;
  params: unknown;
  query: unknown;
  body: unknown;
  name: string;
}

/** A route that is carried out as a job, and how. */
export interface CallRoute {
  name: string;
  contract: AnyContract;
  carryOut(call: {
    params: unknown;
    query: unknown;
    body: unknown;
    who: { accountId: string; name: string; workspaceId: string; role: Role };
    request: Request;
    response: Response;
  }): Promise<unknown>;
}

/** Bytes that may be sent with a call. */
const MOST_SENT = 64 * 1024 * 1024;
const tooLarge = (): HttpProblem =>
  new HttpProblem(413, 'too-large', 'It is larger than 64 MiB. Send it in parts, or smaller; nothing was kept.');

async function putChunk(db: DataSource, jobId: string, part: 'in' | 'out', seq: number, data: Buffer): Promise<void> {
  const runner = db.createQueryRunner();
  try {
    await sendBytes(runner, 'INSERT INTO job_chunk (job_id, part, seq, data) VALUES (?, ?, ?, ?)', [jobId, part, seq, data]);
    await runner.query('UPDATE job SET bytes = bytes + ? WHERE id = ?', [data.length, jobId]);
  } finally {
    await runner.release();
  }
}

/** Kept bytes of a job, a chunk at a time. */
async function* chunks(db: DataSource, jobId: string, part: 'in' | 'out'): AsyncGenerator<Buffer> {
  for (let seq = 0; ; seq++) {
    const [row] = (await db.query('SELECT data FROM job_chunk WHERE job_id = ? AND part = ? AND seq = ?', [jobId, part, seq])) as {
      data: Buffer;
    }[];
    if (!row) return;
    yield row.data;
  }
}

/** Cuts a stream into chunks of the usual size. */
async function* inChunks(source: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let held: Buffer[] = [];
  let bytes = 0;
  for await (const piece of source) {
    held.push(piece);
    bytes += piece.length;
    if (bytes < CHUNK) continue;
    const all = Buffer.concat(held);
    let at = 0;
    for (; all.length - at >= CHUNK; at += CHUNK) yield all.subarray(at, at + CHUNK);
    held = [all.subarray(at)];
    bytes = all.length - at;
  }
  if (bytes > 0) yield Buffer.concat(held);
}

/**
 * Queues a call, with the bytes that are sent with it.
 * @throws HttpProblem 429 when too much waits, 413 or 507 when there is no room
 */
export async function queueCall(
  db: DataSource,
  space: Space,
  { name, contract }: Pick<CallRoute, 'name' | 'contract'>,
  who: { accountId: string; name: string; workspaceId: string },
  given: { params: unknown; query: unknown; body: unknown; page: string | null; upload: Request | null },
): Promise<string> {
  const id = randomUUID();
  const { params, query, body, upload } = given;
  const room = await roomFor(db, space, who.workspaceId);
  if (upload) {
    const declared = Number(upload.headers['content-length'] ?? 0);
    if (declared > MOST_SENT) throw tooLarge();
    room.take(declared);
  }
  const input: CallInput = { route: name, params, query, body, name: who.name };
  await db.transaction(async (manager) => {
    await takeTurn(manager, who.workspaceId, who.accountId);
    await queueJob(manager, {
      id,
      workspaceId: who.workspaceId,
      kind: 'call',
      subjectId: id,
      state: upload ? 'receiving' : 'queued',
      accountId: who.accountId,
      title: contract.doing ?? contract.summary,
      page: given.page,
      input,
    });
  });
  if (!upload) return id;
  try {
    let bytes = 0;
    let seq = 0;
    for await (const data of inChunks(upload as AsyncIterable<Buffer>)) {
      bytes += data.length;
      if (bytes > MOST_SENT) throw tooLarge();
      room.take(bytes);
      await putChunk(db, id, 'in', seq++, data);
    }
    if (!upload.complete) throw new Error('aborted');
    await db.query("UPDATE job SET state = 'queued' WHERE id = ? AND state = 'receiving'", [id]);
    return id;
  } catch (error) {
    await db.query('DELETE FROM job WHERE id = ?', [id]);
    if (error instanceof HttpProblem) throw error;
    throw new HttpProblem(422, 'invalid', 'The upload broke off before its end. Nothing of it was kept; send it again.');
  }
}

/** Stands in for the answer to a browser: what is written to it is kept with the job. */
class KeptAnswer extends Writable {
  private readonly kept: Record<string, string> = {};
  private held: Buffer[] = [];
  private heldBytes = 0;
  private total = 0;
  private seq = 0;

  constructor(
    private readonly db: DataSource,
    private readonly jobId: string,
    private readonly take: (bytes: number) => void,
  ) {
    super({ highWaterMark: CHUNK });
  }

  setHeader(name: string, value: string): this {
    this.kept[name.toLowerCase()] = String(value);
    return this;
  }

  get headers(): Record<string, string> {
    return this.kept;
  }

  override _write(chunk: Buffer, _encoding: string, done: (error?: Error | null) => void): void {
    this.held.push(chunk);
    this.heldBytes += chunk.length;
    this.total += chunk.length;
    if (this.heldBytes < CHUNK) return done();
    this.flush(false).then(() => done(), done);
  }

  override _final(done: (error?: Error | null) => void): void {
    this.flush(true).then(() => done(), done);
  }

  private async flush(last: boolean): Promise<void> {
    this.take(this.total);
    const all = Buffer.concat(this.held);
    let at = 0;
    for (; all.length - at >= CHUNK || (last && at < all.length); at += CHUNK)
      await putChunk(this.db, this.jobId, 'out', this.seq++, all.subarray(at, at + CHUNK));
    this.held = at < all.length ? [all.subarray(at)] : [];
    this.heldBytes = Math.max(0, all.length - at);
  }
}

const RANK: Record<Role, number> = { viewer: 0, editor: 1, owner: 2 };

/** Calls as a kind of job. */
export function callKind(db: DataSource, space: Space, routesByName: ReadonlyMap<string, CallRoute>): JobKind {
  const refusal = (status: number, problem: NonNullable<CallResult['problem']>): CallResult => ({
    status,
    headers: {},
    fileName: null,
    problem,
  });
  return {
    once: (row) => routesByName.get((row.input as CallInput | null)?.route ?? '')?.contract.job === 'once',
    failure: (error) => {
      const { status, code, message, field } = problemOf(error);
      return refusal(status, { code, message, ...(field ? { field } : {}) });
    },
    work: async (control: JobControl) => {
      const { row } = control;
      const input = row.input as CallInput;
      const route = routesByName.get(input.route);
      if (!route) throw new Error(`There is no route “${input.route}”.`);
      const { contract } = route;
      // A right that was taken away meanwhile is gone for what still waits, too.
      const [member] = (await db.query('SELECT role FROM member WHERE workspace_id = ? AND account_id = ?', [
        row.workspaceId,
        row.accountId,
      ])) as { role: Role }[];
      if (!member || RANK[member.role] < RANK[contract.access as Role])
        throw new HttpProblem(403, 'role', 'Your role in this workspace no longer allows this. Nothing was changed.');
      if (contract.job === 'once' && row.applied > 0)
        throw new HttpProblem(
          409,
          'carried-out',
          'It was carried out, but the server stopped before it could say so. Load the page again to see what came of it.',
        );
      await db.query("DELETE FROM job_chunk WHERE job_id = ? AND part = 'out'", [row.id]);
      await db.query('UPDATE job SET bytes = (SELECT COALESCE(SUM(LENGTH(data)), 0) FROM job_chunk WHERE job_id = job.id) WHERE id = ?', [
        row.id,
      ]);
      const room = await roomFor(db, space, row.workspaceId);
      const request = Object.assign(Readable.from(chunks(db, row.id, 'in')), { headers: {}, complete: true });
      const answer = new KeptAnswer(db, row.id, (bytes) => room.take(bytes));
      // Told by whoever waits for it below; without a listener it would end the server.
      answer.on('error', () => undefined);
      const ended = finished(answer);
      ended.catch(() => undefined);
      const value = await route.carryOut({
        params: input.params,
        query: input.query,
        body: input.body,
        who: { accountId: row.accountId!, name: input.name, workspaceId: row.workspaceId, role: member.role },
        request: request as unknown as Request,
        response: answer as unknown as Response,
      });
      if (contract.affects === 'library') await touchLibrary(db, row.workspaceId);
      if (contract.carries !== 'bytes') {
        answer.setHeader('Content-Type', 'application/json; charset=utf-8');
        answer.end(JSON.stringify(contract.answer.parse(value)));
      }
      await ended;
      const { headers } = answer;
      return {
        message: 'Done',
        result: {
          status: 200,
          headers,
          fileName: contract.carries === 'bytes' ? nameIn(headers['content-disposition'] ?? '') : null,
          problem: null,
        },
      };
    },
  };
}

/** The file name that a header gives. Source: RFC 6266, 4.3. */
function nameIn(disposition: string): string {
  const encoded = /filename\*=UTF-8''([^;]+)/i.exec(disposition)?.[1];
  return encoded ? decodeURIComponent(encoded) : (/filename="?([^";]+)"?/i.exec(disposition)?.[1] ?? 'file');
}

/** Sends what came of a call, as if it had been carried out while its browser waited. @throws HttpProblem with its refusal */
export async function sendResult(db: DataSource, row: JobRow, response: Response): Promise<void> {
  if (row.state === 'cancelled') throw new HttpProblem(409, 'cancelled', 'It was stopped before its end. What was done before stays.');
  const { result } = row;
  if (!result || result.problem) {
    const p = result?.problem;
    throw new HttpProblem(result?.status ?? 500, p?.code ?? 'internal', p?.message ?? row.message, p?.field);
  }
  response.status(result.status);
  for (const [name, value] of Object.entries(result.headers)) response.setHeader(name, value);
  try {
    await pipeline(Readable.from(chunks(db, row.id, 'out')), response);
  } catch {
    // Whoever asked went away; what was made waits for them.
    return;
  }
  await db.query('UPDATE job SET fetched_at = ? WHERE id = ?', [new Date(), row.id]);
}

/** How long ended calls are kept: those that were fetched, and those that wait for whoever left, ms. */
const KEPT_MS = { fetched: 10 * 60_000, waiting: 7 * 86_400_000 };
/** An upload that did not go on for so long broke off with its server, ms. */
const BROKEN_OFF_MS = 2 * 3_600_000;

/** Removes ended calls that nobody will fetch any more, with their bytes. */
export async function sweepCalls(db: DataSource): Promise<void> {
  const now = Date.now();
  await db.query(
    "DELETE FROM job WHERE kind = 'call' AND state IN ('done', 'failed', 'cancelled') AND (finished_at < ? OR fetched_at < ?) LIMIT 500",
    [new Date(now - KEPT_MS.waiting), new Date(now - KEPT_MS.fetched)],
  );
  await db.query("DELETE FROM job WHERE kind = 'call' AND state = 'receiving' AND created_at < ? LIMIT 500", [
    new Date(now - BROKEN_OFF_MS),
  ]);
}

export const findJob = (db: DataSource, id: string): Promise<JobRow | null> => db.getRepository(JobEntity).findOneBy({ id });
