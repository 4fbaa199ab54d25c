import { createHash } from 'node:crypto';
import type { Companion } from '@orderly-glyph/schema';
import type { Request } from 'express';
import type { DataSource } from 'typeorm';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import { HttpProblem, invalid, notFound } from '../../platform/http/problem.js';
import { cleanName, roomFor, type Space } from '../../platform/blobs/space.js';
import { readCompanion } from './companion.js';
import { describeCompanion, EVIDENCE } from './describe.js';
import { storeCompanion } from './store-companion.js';
import { CompanionEntity, LicenseEntity, LicenseEvidence, LicenseVersion } from './rows.js';

const MOST_EVIDENCE = 25 * 1024 * 1024;

async function readBody(request: Request): Promise<Buffer> {
  const tooLarge = (): HttpProblem =>
    new HttpProblem(413, 'too-large', 'This is larger than 25 MiB, which is the most a file of evidence may be. Nothing of it was kept.');
  if (Number(request.headers['content-length'] ?? 0) > MOST_EVIDENCE) throw tooLarge();
  const parts: Buffer[] = [];
  let bytes = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    bytes += part.length;
    if (bytes > MOST_EVIDENCE) throw tooLarge();
    parts.push(part);
  }
  if (!request.complete)
    throw new HttpProblem(400, 'broken-off', 'The upload broke off before its end. Nothing of it was kept; send it again.');
  return Buffer.concat(parts);
}

/** Keeps a file with a license. The license gets a new version, since what it rests on changed. */
export async function addEvidence(
  db: DataSource,
  compute: Compute,
  who: { workspaceId: string; accountId: string; name: string },
  licenseId: string,
  name: string,
  request: Request,
  space: Space,
): Promise<Companion> {
  const { workspaceId } = who;
  const before = await db.getRepository(LicenseEntity).findOneBy({ id: licenseId, workspaceId });
  if (!before || before.removedAt) throw notFound('This license');
  (await roomFor(db, space, workspaceId)).take(Number(request.headers['content-length'] ?? MOST_EVIDENCE));
  const bytes = new Uint8Array(await readBody(request));
  if (bytes.length === 0) throw invalid('The file is empty. Nothing was kept.', 'file');
  const path = cleanName(name);
  const sorted = await compute.run('sortBytes', [bytes, path]);
  if (sorted.as === 'font' || sorted.as === 'zip')
    throw invalid('This is not evidence but a typeface or a bundle. Bring it in on the Intake page.', 'file');
  if (sorted.as === 'refused' || sorted.as === 'set-aside') throw invalid(`${sorted.reason} Nothing was kept.`, 'file');
  const read = await readCompanion(compute, bytes, path, sorted).catch((error: unknown) => {
    if (!(error instanceof ComputeError)) throw error;
    throw invalid(`${error.message} Nothing was kept.`, 'file');
  });
  return db.transaction(async (manager) => {
    const license = await manager
      .getRepository(LicenseEntity)
      .findOne({ where: { id: licenseId, workspaceId }, lock: { mode: 'pessimistic_write' } });
    if (!license || license.removedAt) throw notFound('This license');
    const now = new Date();
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const outcome = await storeCompanion(manager, { workspaceId, bundleId: null, path, sha256, bytes: () => Promise.resolve(bytes) }, read);
    const companionId = outcome.companionId!;
    await manager.getRepository(LicenseEvidence).insert({ licenseId, companionId, workspaceId });
    const last = await manager.getRepository(LicenseVersion).findOneByOrFail({ licenseId, version: license.version });
    const fields = last.fields as { companionIds?: string[] };
    const version = license.version + 1;
    await manager.getRepository(LicenseEntity).update({ id: licenseId }, { version });
    await manager.getRepository(LicenseVersion).insert({
      licenseId,
      version,
      workspaceId,
      fields: { ...fields, companionIds: [...(fields.companionIds ?? []), companionId] },
      byName: who.name,
      at: now,
      act: null,
    });
    return describeCompanion(await manager.getRepository(CompanionEntity).findOneByOrFail({ id: companionId }), EVIDENCE);
  });
}
