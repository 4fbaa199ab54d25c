import { createHash, randomUUID } from 'node:crypto';
import { assignCodes, LAYOUTS, writeManifest, type Layout } from '@orderly-glyph/core';
import { In, type DataSource, type EntityManager } from 'typeorm';
import { getBlob, putBlob } from '../../platform/blobs/blobs.js';
import { ComputeError } from '../../platform/compute/pool.js';
import { conflict, notFound, stale } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { FaceEntity, findFaces, storeFont } from '../faces/index.js';
import { doubtLicense, LicenseFace, madeHere, writeLicense } from '../licenses/index.js';
import { rightsOf, stricter } from '../products/index.js';
import type { Deps } from './drawings.js';
import { codesOf, coreSet, drawingsOf, findSet, lastRelease, pictured, type Who } from './icon-sets.js';
import { DrawingEntity, IconCode, IconReleaseEntity, IconReleaseFile, IconSetEntity, type KeptNote } from './rows.js';

const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const kitName = (layout: Layout): string => `kit-${layout}.zip`;

/**
 * Makes the next release: its fonts come into the library, its kit is kept, and its code points are given away for good.
 * @returns the faces that may look different
 */
export async function makeRelease(
  { db, compute }: Deps,
  who: Who,
  setId: string,
  { notes, breaksMeant, version }: { notes: string; breaksMeant: boolean; version: number },
): Promise<string[]> {
  const { workspaceId } = who;
  const set = await findSet(db, workspaceId, setId);
  if (set.version !== version) throw stale(`Somebody changed “${set.facts.family}” while you looked at it`);
  const [drawings, codes, last, today] = await Promise.all([
    drawingsOf(db, setId),
    codesOf(db, setId),
    lastRelease(db, setId),
    todayOf(db, workspaceId),
  ]);
  const open = coreSet(set, drawings, codes);
  const points = assignCodes(open.icons, open.given);
  const core = { ...open, icons: open.icons.map((icon, i) => ({ ...icon, codePoint: points[i]! })) };
  const number = (last?.number ?? 0) + 1;
  // What is picked from faces is not given away for more than they allow.
  const sources = [...new Set(drawings.flatMap((d) => d.fromFaceId ?? []))];
  const leads = sources.length > 0 ? await findFaces(db, workspaceId, sources) : [];
  const rights = leads.length > 0 ? await rightsOf(db, workspaceId, { changes: ['subset', 'rename'] }, leads) : null;
  const refuse = (error: unknown): never => {
    if (!(error instanceof ComputeError)) throw error;
    throw conflict(`${error.message} Nothing was released.`);
  };
  const made = await compute.run('makeIcons', [core, last?.set ?? null, number, today], true).catch(refuse);
  if (made.note.breaks.length > 0 && !breaksMeant)
    throw conflict(
      `Pages that use release ${number - 1} would lose something: ${made.note.breaks.slice(0, 3).join(' ')} Say that this is meant, or keep the old names; nothing was released.`,
    );
  const fonts = await Promise.all(
    made.files.map(async (file) => ({
      ...file,
      sha256: hash(file.bytes),
      inspection: await compute.run('inspect', [file.bytes, file.name], true).catch(refuse),
    })),
  );
  const kits = LAYOUTS.map((layout) => ({ name: kitName(layout), bytes: made.kits[layout], sha256: hash(made.kits[layout]) }));
  // Pictures of what was drawn anew: as it was, and as it is.
  const byName = new Map(drawings.map((d) => [d.icon.name, d]));
  const note: KeptNote = { ...made.note, changed: made.note.changed.map((name) => pictured(byName.get(name)!)) };

  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
    const row = await manager.getRepository(IconSetEntity).findOneByOrFail({ id: setId });
    // Two people who press at once: the second finds the set changed, and nothing of theirs is kept.
    if (row.version !== version) throw stale(`Somebody changed “${set.facts.family}” while it was made`);
    const releaseId = randomUUID();
    await manager.getRepository(IconReleaseEntity).insert({
      id: releaseId,
      workspaceId,
      setId,
      number,
      day: today,
      notes,
      note: note as never,
      frozen: writeManifest({ ...core, given: made.given }, { number, day: today }),
      madeBy: who.name,
      madeAt: new Date(),
    });
    const faceIds = new Set<string>();
    const earlier = row.licenseId ? await manager.getRepository(LicenseFace).findBy({ licenseId: row.licenseId }) : [];
    const own = new Set(earlier.map((l) => l.faceId));
    const others = new Set(
      (await manager.getRepository(FaceEntity).find({ where: { workspaceId }, select: { id: true } })).map((f) => f.id),
    );
    for (const { name, bytes, sha256, inspection } of fonts) {
      const outcome = await storeFont(
        manager,
        { workspaceId, bundleId: null, path: name, sha256, bytes: () => Promise.resolve(bytes) },
        inspection,
      );
      if (outcome.faceId && others.has(outcome.faceId) && !own.has(outcome.faceId))
        throw conflict(`There is a face of the name “${set.facts.family}” here already. Give this set another name; nothing was released.`);
      if (outcome.faceId) faceIds.add(outcome.faceId);
      await manager
        .getRepository(IconReleaseFile)
        .insert({ releaseId, name, workspaceId, sha256, bytes: bytes.length, faceId: outcome.faceId ?? null });
    }
    for (const { name, bytes, sha256 } of kits) {
      await putBlob(manager, workspaceId, sha256, bytes);
      await manager.getRepository(IconReleaseFile).insert({ releaseId, name, workspaceId, sha256, bytes: bytes.length, faceId: null });
    }
    const known = new Set(codes.map((c) => c.codePoint));
    const names = new Map(drawings.map((d) => [d.id, d.icon.name]));
    const fresh = made.given.filter((g) => !known.has(g.codePoint));
    if (fresh.length > 0)
      await manager.getRepository(IconCode).insert(
        fresh.map(({ codePoint, name }) => ({
          setId,
          codePoint,
          workspaceId,
          drawingId: name,
          name: (names.get(name) ?? '').slice(0, 120),
          sinceRelease: number,
        })),
      );
    await manager.query(
      "UPDATE icon_drawing SET released_path = JSON_UNQUOTE(JSON_EXTRACT(shape, '$.path')) WHERE set_id = ? AND removed_at IS NULL",
      [setId],
    );
    // Drawings keep the code points that they were released with.
    for (const [i, d] of drawings.entries())
      if (d.icon.codePoint !== points[i])
        await manager.getRepository(DrawingEntity).update({ id: d.id }, { icon: { ...d.icon, codePoint: points[i]! } as never });
    const fields = {
      ...(rights?.fields ??
        madeHere(
          `Made here from drawings of ours. ${who.name} said on ${today}: “The drawings are ours, or we were given the right to make a font of them.”`,
        )),
    };
    const terms = row.licenseId ? await stricter(manager, row.licenseId, fields) : { ...fields, name: `${set.facts.family}, made here` };
    const license = await writeLicense(manager, who, { ...terms, faceIds: [...new Set([...own, ...faceIds])] }, row.licenseId);
    await manager
      .getRepository(IconSetEntity)
      .update({ id: setId }, { licenseId: license.id, version: version + 1, changedAt: new Date() });
    return license.faceIds;
  });
}

/** A release's kit. @throws HttpProblem when there is no such release */
export async function kitOf(
  db: DataSource,
  workspaceId: string,
  setId: string,
  number: number,
  layout: Layout,
): Promise<{ name: string; bytes: Uint8Array }> {
  const set = await findSet(db, workspaceId, setId);
  const release = await db.getRepository(IconReleaseEntity).findOneBy({ setId, number });
  if (!release) throw notFound('This release');
  const file = await db.getRepository(IconReleaseFile).findOneByOrFail({ releaseId: release.id, name: kitName(layout) });
  return { name: `${set.facts.family} ${number}.zip`, bytes: await getBlob(db.manager, workspaceId, file.sha256) };
}

/** The record of a face that drawings were picked from changed: the license of what was released is looked over before it says yes again. */
export async function followIconSources(manager: EntityManager, who: Who, faceIds: readonly string[]): Promise<string[]> {
  if (faceIds.length === 0) return [];
  const drawings = await manager.getRepository(DrawingEntity).findBy({ workspaceId: who.workspaceId, fromFaceId: In([...faceIds]) });
  if (drawings.length === 0) return [];
  const touched: string[] = [];
  for (const { id, licenseId } of await manager.getRepository(IconSetEntity).findBy({ id: In([...new Set(drawings.map((d) => d.setId))]) }))
    if (licenseId)
      touched.push(
        ...(await doubtLicense(
          manager,
          who,
          licenseId,
          `What is on record for ${[...new Set(drawings.filter((d) => d.setId === id).map((d) => d.fromName))].join(', ')} changed after drawings of it went into this. Look it over and confirm it again.`,
        )),
      );
  return touched;
}
