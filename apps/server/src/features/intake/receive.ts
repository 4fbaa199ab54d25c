import { randomUUID } from 'node:crypto';
import type { Request } from 'express';
import { LessThan, type DataSource } from 'typeorm';
import { CHUNK, sendBytes } from '../../platform/blobs/blobs.js';
import { MAX_BUNDLE } from '@orderly-glyph/node';
import { conflict, HttpProblem, invalid } from '../../platform/http/problem.js';
import { cleanName, roomFor, type Space } from '../../platform/blobs/space.js';
import { Upload } from './rows.js';

/** Received bytes held before they are written. */
const TOGETHER = 4 * CHUNK;

/**
 * Streams one upload into the database a chunk at a time, so that nothing large is ever held in memory and any
 * server can go on with it. An upload that breaks off is removed.
 */
export async function receiveUpload(
  db: DataSource,
  request: Request,
  where: { workspaceId: string; intakeId: string; name: string },
  space: Space,
): Promise<{ id: string; name: string; bytes: number }> {
  const id = randomUUID();
  const name = cleanName(where.name);
  const declared = Number(request.headers['content-length'] ?? 0);
  if (declared > MAX_BUNDLE) throw tooLarge();
  const room = await roomFor(db, space, where.workspaceId);
  room.take(declared);
  await db.query(
    "INSERT INTO upload (id, workspace_id, intake_id, name, bytes, state, touched_at) VALUES (?, ?, ?, ?, ?, 'receiving', ?)",
    [id, where.workspaceId, where.intakeId, name, declared, new Date()],
  );
  let bytes = 0;
  try {
    // With its place taken: of two at once that fit only one by one, neither finds the other's place free.
    (await roomFor(db, space, where.workspaceId)).take(0);
    let seq = 0;
    let held: Buffer[] = [];
    let heldBytes = 0;
    // Several chunks in one durable commit, which costs as much for many as for one.
    const flush = (data: Buffer): Promise<void> =>
      db.transaction(async (manager) => {
        for (let at = 0; at < data.length; at += CHUNK)
          await sendBytes(manager.queryRunner!, 'INSERT INTO upload_chunk (upload_id, workspace_id, seq, data) VALUES (?, ?, ?, ?)', [
            id,
            where.workspaceId,
            seq++,
            data.subarray(at, at + CHUNK),
          ]);
        await manager.getRepository(Upload).update({ id }, { bytes: Math.max(bytes, declared), touchedAt: new Date() });
      });
    for await (const piece of request as AsyncIterable<Buffer>) {
      bytes += piece.length;
      if (bytes > MAX_BUNDLE) throw tooLarge();
      if (bytes > declared) room.take(bytes);
      held.push(piece);
      heldBytes += piece.length;
      if (heldBytes < TOGETHER) continue;
      const data = Buffer.concat(held);
      const whole = data.length - (data.length % CHUNK);
      await flush(data.subarray(0, whole));
      held = [data.subarray(whole)];
      heldBytes = data.length - whole;
    }
    if (!request.complete)
      throw new HttpProblem(400, 'broken-off', 'The upload broke off before its end. Nothing of it was kept; send it again.');
    if (heldBytes > 0) await flush(Buffer.concat(held));
    const { affectedRows } = (await db.query(
      "UPDATE upload u JOIN intake i ON i.id = u.intake_id SET u.state = 'received', u.bytes = ?, u.touched_at = ? WHERE u.id = ? AND i.state = 'waiting'",
      [bytes, new Date(), id],
    )) as { affectedRows: number };
    if (affectedRows === 0) throw conflict('The intake was started or thrown away while this file was still on its way. Begin a new one.');
    return { id, name, bytes };
  } catch (error) {
    await db.getRepository(Upload).delete({ id });
    if ((error as NodeJS.ErrnoException).code === 'ECONNRESET' || (error as Error).message === 'aborted')
      throw invalid('The upload was cancelled. Nothing of it was kept.');
    throw error;
  }
}

function tooLarge(): HttpProblem {
  return new HttpProblem(
    413,
    'too-large',
    'This is larger than 500 MiB, which is the most one upload may be. Nothing of it was kept; send it in parts.',
  );
}

/** Removes uploads that broke off with their server, and waits for nothing. */
export async function sweepUploads(db: DataSource): Promise<void> {
  await db.getRepository(Upload).delete({ state: 'receiving', touchedAt: LessThan(new Date(Date.now() - 10 * 60_000)) });
  // What was set aside and not tried again for a month is not tried any more.
  await db.query(
    "DELETE u FROM upload u JOIN intake i ON i.id = u.intake_id WHERE i.state = 'done' AND u.state = 'expanded' AND u.touched_at < ?",
    [new Date(Date.now() - 30 * 86_400_000)],
  );
}
