import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Request } from 'express';
import { HttpProblem, invalid } from './problem.js';

/** Bytes that one upload has at most. */
const MOST_BYTES = 64 * 1024 * 1024;

/** Keeps a request's body in a file while it is worked on. @throws HttpProblem when it is too large or breaks off */
export async function withBody<T>(request: Request, work: (path: string) => Promise<T>): Promise<T> {
  const dir = await mkdtemp(join(tmpdir(), 'received-'));
  const path = join(dir, 'body');
  let bytes = 0;
  try {
    try {
      await pipeline(
        request,
        async function* (pieces: AsyncIterable<Buffer>) {
          for await (const piece of pieces) {
            bytes += piece.length;
            if (bytes > MOST_BYTES)
              throw new HttpProblem(413, 'too-large', 'It is larger than 64 MiB. Send it in parts, or smaller; nothing was kept.');
            yield piece;
          }
        },
        createWriteStream(path),
      );
    } catch (error) {
      if (error instanceof HttpProblem) throw error;
      throw invalid('The upload broke off before its end. Nothing of it was kept; send it again.');
    }
    return await work(path);
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}
