import { createHash } from 'node:crypto';
import type { Proof, TargetFormat } from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import type { Compute } from '../compute/pool.js';
import { getBlob, putBlob } from '../db/blobs.js';
import { Rendition } from '../db/entities.js';

export interface Rendered {
  format: TargetFormat;
  sha256: string;
  bytes: number;
  proof: Proof;
}

interface Source {
  sha256: string;
  faceIndex: number;
}

/** A face in another container, made once, proved equal, and kept. @throws ComputeError when it cannot be made. */
export async function render(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  source: Source,
  format: TargetFormat,
  urgent = false,
): Promise<Rendered> {
  const repository = db.getRepository(Rendition);
  const key = { workspaceId, sourceSha256: source.sha256, faceIndex: source.faceIndex, format };
  const known = await repository.findOneBy(key);
  if (known) return known;
  const original = await getBlob(db.manager, workspaceId, source.sha256);
  const { bytes, proof } = await compute.run('convert', [original, source.faceIndex, format], urgent);
  if (!proof.equal) throw new Error(`The converted file is not the same face: ${proof.differences.join(' ')}`);
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await db.transaction(async (manager) => {
    await putBlob(manager, workspaceId, sha256, bytes);
    await manager.query(
      'INSERT IGNORE INTO rendition (workspace_id, source_sha256, face_index, format, sha256, bytes, proof) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [workspaceId, source.sha256, source.faceIndex, format, sha256, bytes.length, JSON.stringify(proof)],
    );
  });
  return { format, sha256, bytes: bytes.length, proof };
}
