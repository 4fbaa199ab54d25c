import { createHash, randomUUID } from 'node:crypto';
import { writeTypeface } from '@orderly-glyph/core';
import { In, type DataSource } from 'typeorm';
import { getBlob, putBlob } from '../../platform/blobs/blobs.js';
import { ComputeError } from '../../platform/compute/pool.js';
import { conflict, notFound, stale } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { FaceEntity, storeFont } from '../faces/index.js';
import { LicenseFace, madeHere, writeLicense } from '../licenses/index.js';
import { stricter } from '../products/index.js';
import { TypefaceEntity, TypefaceReleaseEntity, TypefaceReleaseFile } from './rows.js';
import { coreTypeface, findTypeface, KIT, lettersOfFace, noteOf, type Deps, type Who } from './typefaces.js';

const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const refuse = (error: unknown): never => {
  if (!(error instanceof ComputeError)) throw error;
  throw conflict(`${error.message} Nothing was released.`);
};

/**
 * Makes the next release: its fonts come into the library, its kit is kept.
 * @returns the faces that may look different
 */
export async function makeRelease(
  { db, compute }: Deps,
  who: Who,
  typefaceId: string,
  { notes, version }: { notes: string; version: number },
): Promise<string[]> {
  const { workspaceId } = who;
  const face = await findTypeface(db, workspaceId, typefaceId);
  if (face.version !== version) throw stale(`Somebody changed “${face.facts.family}” while you looked at it`);
  const [letters, today] = await Promise.all([lettersOfFace(db, typefaceId), todayOf(db, workspaceId)]);
  const core = coreTypeface(face, letters);
  const [last] = await db.getRepository(TypefaceReleaseEntity).find({ where: { typefaceId }, order: { number: 'DESC' }, take: 1 });
  const number = (last?.number ?? 0) + 1;
  const made = await compute.run('makeTypeface', [core, number, today], true).catch(refuse);
  const fonts = await Promise.all(
    made.files.map(async (file) => ({
      ...file,
      sha256: hash(file.bytes),
      inspection: await compute.run('inspect', [file.bytes, file.name], true).catch(refuse),
    })),
  );
  const kit = await compute
    .run('typefaceZip', [core, { number, day: today }, made.files.map(({ name, bytes }) => ({ name, bytes })), notes], true)
    .catch(refuse);
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
    const row = await manager.getRepository(TypefaceEntity).findOneByOrFail({ id: typefaceId });
    // Two people who press at once: the second finds it changed, and nothing of theirs is kept.
    if (row.version !== version) throw stale(`Somebody changed “${row.facts.family}” while it was made`);
    const releaseId = randomUUID();
    await manager.getRepository(TypefaceReleaseEntity).insert({
      id: releaseId,
      workspaceId,
      typefaceId,
      number,
      day: today,
      notes,
      note: noteOf(last?.shapes ?? null, made.paths),
      shapes: made.paths,
      frozen: writeTypeface(core, { number, day: today }),
      madeBy: who.name,
      madeAt: new Date(),
    } as never);
    const own = new Set(
      row.licenseId ? (await manager.getRepository(LicenseFace).findBy({ licenseId: row.licenseId })).map((l) => l.faceId) : [],
    );
    const others = new Set(
      (await manager.getRepository(FaceEntity).find({ where: { workspaceId }, select: { id: true } })).map((f) => f.id),
    );
    const faceIds = new Set<string>();
    for (const { name, bytes, sha256, inspection } of fonts) {
      const outcome = await storeFont(
        manager,
        { workspaceId, bundleId: null, path: name, sha256, bytes: () => Promise.resolve(bytes) },
        inspection,
      );
      if (outcome.faceId && others.has(outcome.faceId) && !own.has(outcome.faceId))
        throw conflict(
          `There is a face of the name “${row.facts.family} ${row.facts.style}” here already. Give this typeface another name; nothing was released.`,
        );
      if (outcome.faceId) faceIds.add(outcome.faceId);
      await manager
        .getRepository(TypefaceReleaseFile)
        .insert({ releaseId, name, workspaceId, sha256, bytes: bytes.length, faceId: outcome.faceId ?? null });
    }
    const sha256 = hash(kit);
    await putBlob(manager, workspaceId, sha256, kit);
    await manager.getRepository(TypefaceReleaseFile).insert({ releaseId, name: KIT, workspaceId, sha256, bytes: kit.length, faceId: null });
    const fields = madeHere(
      `Made here from letters of ours. ${who.name} said on ${today}: “The letters are ours, or we were given the right to make a font of them.”`,
    );
    const terms = row.licenseId ? await stricter(manager, row.licenseId, fields) : { ...fields, name: `${row.facts.family}, made here` };
    const license = await writeLicense(manager, who, { ...terms, faceIds: [...new Set([...own, ...faceIds])] }, row.licenseId);
    await manager
      .getRepository(TypefaceEntity)
      .update({ id: typefaceId }, { licenseId: license.id, version: version + 1, changedAt: new Date() });
    return license.faceIds;
  });
}

/** A release as ZIP. @throws HttpProblem when there is no such release */
export async function kitOf(
  db: DataSource,
  workspaceId: string,
  typefaceId: string,
  number: number,
): Promise<{ name: string; bytes: Uint8Array }> {
  const face = await findTypeface(db, workspaceId, typefaceId);
  const release = await db.getRepository(TypefaceReleaseEntity).findOneBy({ typefaceId, number });
  if (!release) throw notFound('This release');
  const file = await db.getRepository(TypefaceReleaseFile).findOneByOrFail({ releaseId: In([release.id]), name: KIT });
  return { name: `${face.facts.family} ${number}.zip`, bytes: await getBlob(db.manager, workspaceId, file.sha256) };
}
