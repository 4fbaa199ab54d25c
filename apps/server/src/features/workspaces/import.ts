import { randomUUID } from 'node:crypto';
import { reservedNames } from '@orderly-glyph/core';
import { EXPORT_NAME, MADE_NAME, type MadePart, type WorkspaceExport } from '@orderly-glyph/schema';
import { In, type DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import { type Compute, ComputeError } from '../../platform/compute/pool.js';
import { conflict, invalid } from '../../platform/http/problem.js';
import { Workspace } from '../accounts/index.js';
import { FaceEntity, FamilyEntity, familyKey } from '../faces/index.js';
import { CollectionEntity, KeptSearch, KeptText, LibraryChange, ReadyTextEntity } from '../library/index.js';
import {
  CompanionEntity,
  LicenseEntity,
  LicenseEvidence,
  LicenseFace,
  type LicenseRow,
  LicenseVersion,
  StartingPointEntity,
} from '../licenses/index.js';

import { CARRIED, MadeReader, Renamed } from './carried.js';

/**
 * Carries over what an export says of the files that an intake brought in from it: licenses with their history and evidence,
 * the order of the library, texts. Without `vouched` every license waits to be confirmed again. All of it or nothing; an intake is only read back once.
 */
export async function importWorkspace(
  db: DataSource,
  compute: Compute,
  who: { workspaceId: string; name: string },
  { intakeId, vouched }: { intakeId: string; vouched: boolean },
): Promise<{ licenses: number; families: number; left: string[] }> {
  const { workspaceId } = who;
  const [found] = (await db.query(
    "SELECT c.sha256 FROM companion c JOIN bundle b ON b.id = c.bundle_id WHERE c.workspace_id = ? AND b.intake_id = ? AND SUBSTRING_INDEX(c.name, '/', -1) = ? LIMIT 1",
    [workspaceId, intakeId, EXPORT_NAME],
  )) as { sha256: string }[];
  if (!found) throw invalid(`There is no ${EXPORT_NAME} in this intake, so it is no export of a workspace. Its files are kept.`);
  const read = await compute.run('readExport', [await getBlob(db.manager, workspaceId, found.sha256)]).catch((error: unknown) => {
    if (!(error instanceof ComputeError)) throw error;
    throw invalid(`${error.message} Its files are kept.`);
  });
  if (read.record === null) throw invalid(`The export cannot be read: ${read.problem} Its files are kept, nothing else was taken over.`);
  const record = read.record;
  const parts = (await db.query(
    "SELECT c.sha256, SUBSTRING_INDEX(c.name, '/', -1) AS name FROM companion c JOIN bundle b ON b.id = c.bundle_id WHERE c.workspace_id = ? AND b.intake_id = ? AND SUBSTRING_INDEX(c.name, '/', -1) LIKE 'orderly-glyph-made-%' ORDER BY name",
    [workspaceId, intakeId],
  )) as { sha256: string; name: string }[];
  const made: MadePart[] = [];
  for (const { sha256, name } of parts.filter((p) => MADE_NAME.test(p.name))) {
    const part = await compute.run('readMade', [await getBlob(db.manager, workspaceId, sha256)]);
    if (part.record === null) throw invalid(`${name} cannot be read: ${part.problem} Its files are kept, nothing else was taken over.`);
    made.push(part.record);
  }
  const left: string[] = [];
  const keyOf = ({ sha256, index }: { sha256: string; index: number }): string => `${sha256}/${index}`;
  return db.transaction(async (manager) => {
    await manager.query('SELECT id FROM workspace WHERE id = ? FOR UPDATE', [workspaceId]);
    const rows = (await manager.query(
      'SELECT ff.face_id AS faceId, face.family_id AS familyId, f.sha256, ff.face_index AS `index` FROM face_file ff JOIN font_file f ON f.id = ff.file_id JOIN face ON face.id = ff.face_id WHERE ff.workspace_id = ? AND ff.removed_at IS NULL',
      [workspaceId],
    )) as { faceId: string; familyId: string; sha256: string; index: number }[];
    const faces = new Map(rows.map((r) => [keyOf(r), r]));
    const companions = await manager
      .getRepository(CompanionEntity)
      .find({ select: { id: true, sha256: true, name: true, content: true }, where: { workspaceId } });
    const marker = `Read back from an export of ${record.name}, made on ${record.madeAt}`;
    if (await manager.getRepository(LibraryChange).existsBy({ workspaceId, summary: marker.slice(0, 500) }))
      throw conflict('This export was read back here already. Nothing was changed.');
    const now = new Date();
    const families = await takeFamilies(record);
    const ids = new Renamed();
    const licenseIds: string[] = [];
    for (const l of record.licenses) {
      const own = l.faces.flatMap((f) => faces.get(keyOf(f)) ?? []);
      if (own.length < l.faces.length) left.push(`“${l.fields.name}”: ${l.faces.length - own.length} of its faces did not come along.`);
      const evidence = l.evidence.flatMap((e) => companions.find((c) => c.sha256 === e.sha256) ?? []);
      if (evidence.length < l.evidence.length) left.push(`“${l.fields.name}”: a file of its evidence did not come along.`);
      const id = randomUUID();
      licenseIds.push(id);
      const version = Math.max(1, ...l.history.map((h) => h.version));
      const row: LicenseRow = {
        ...l.fields,
        id,
        workspaceId,
        // Anyone can write that something was confirmed; it counts when the person reading it back says that it does.
        confirmed: vouched && l.fields.confirmed,
        confirmedBy: vouched && l.confirmedBy ? `${l.confirmedBy}, taken over by ${who.name}`.slice(0, 255) : null,
        confirmedAt: vouched && l.confirmedAt ? new Date(l.confirmedAt) : null,
        reservedNames: [...new Set(evidence.flatMap((e) => (e.content ? reservedNames(e.content) : [])))],
        version,
        removedAt: l.removed ? now : null,
        createdAt: now,
      };
      await manager.getRepository(LicenseEntity).insert(row as never);
      const history = l.history.length > 0 ? l.history : [{ version, by: who.name, at: now.toISOString(), act: null, fields: l.fields }];
      for (const h of history)
        await manager.getRepository(LicenseVersion).insert({
          licenseId: id,
          version: h.version,
          workspaceId,
          fields: (h.fields ?? {}) as object,
          byName: h.by.slice(0, 255),
          at: new Date(h.at),
          act: h.act === 'removed' || h.act === 'restored' ? h.act : null,
        });
      const faceIds = [...new Set(own.map((f) => f.faceId))];
      if (faceIds.length > 0)
        await manager.getRepository(LicenseFace).insert(faceIds.map((faceId) => ({ licenseId: id, faceId, workspaceId })));
      const companionIds = [...new Set(evidence.map((e) => e.id))];
      if (companionIds.length > 0)
        await manager
          .getRepository(LicenseEvidence)
          .insert(companionIds.map((companionId) => ({ licenseId: id, companionId, workspaceId })));
    }
    for (const c of record.collections) {
      const familyIds = c.families.flatMap((name) => families.get(name) ?? []);
      await manager
        .getRepository(CollectionEntity)
        .insert({ id: randomUUID(), workspaceId, name: c.name, familyIds, createdAt: now, removedAt: null } as never);
    }
    for (const s of record.searches)
      await manager.getRepository(KeptSearch).insert({ id: randomUUID(), workspaceId, ...s, createdAt: now });
    for (const t of record.texts) await manager.getRepository(KeptText).insert({ id: randomUUID(), workspaceId, ...t, createdAt: now });
    const points = new Set((await manager.getRepository(StartingPointEntity).findBy({ workspaceId })).map((p) => p.name.toLowerCase()));
    for (const { name, ...fields } of record.startingPoints)
      if (!points.has(name.toLowerCase()))
        await manager.getRepository(StartingPointEntity).insert({ id: randomUUID(), workspaceId, name, fields });
    if ((await manager.getRepository(ReadyTextEntity).countBy({ workspaceId })) === 0 && record.proofTexts.length > 0)
      await manager
        .getRepository(ReadyTextEntity)
        .insert(record.proofTexts.map((t, position) => ({ id: randomUUID(), workspaceId, position, ...t })));
    await takeMade(ids, families, licenseIds);
    const workspace = await manager.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
    await manager
      .getRepository(Workspace)
      .update(
        { id: workspaceId },
        { palette: (workspace.palette ?? record.palette) as never, keepRule: (workspace.keepRule ?? record.keepRule) as never },
      );
    await manager.query(
      "INSERT INTO library_change (id, workspace_id, by_name, at, summary, steps, undone_at) VALUES (?, ?, ?, ?, ?, '[]', ?)",
      [randomUUID(), workspaceId, who.name, now, marker.slice(0, 500), now],
    );
    if (!vouched && record.licenses.some((l) => l.fields.confirmed)) left.unshift('Nothing is confirmed yet: look at each license.');
    return { licenses: record.licenses.length, families: record.families.length, left: left.slice(0, 50) };

    /** What was made: sets, typefaces, editions, styles, recipes, inquiries and proofs, with what they rest on here. */
    async function takeMade(ids: Renamed, familyIds: ReadonlyMap<string, string>, licenses: readonly string[]): Promise<void> {
      const names = made.find((p) => p.names !== null)?.names;
      if (!names) return;
      for (const f of names.faces) {
        const face = faces.get(keyOf(f));
        if (face) ids.set(f.id, face.faceId);
      }
      for (const f of names.families) {
        const familyId = familyIds.get(f.name);
        if (familyId) ids.set(f.id, familyId);
      }
      names.licenses.forEach((old, i) => licenses[i] && ids.set(old, licenses[i]));
      const files = new Map(
        (
          (await manager.query('SELECT id, sha256 FROM font_file WHERE workspace_id = ?', [workspaceId])) as {
            id: string;
            sha256: string;
          }[]
        ).map((f) => [f.sha256, f.id]),
      );
      for (const f of names.files) {
        const file = files.get(f.sha256);
        if (file) ids.set(f.id, file);
      }
      const reader = new MadeReader(manager, workspaceId, ids);
      for (const part of made) reader.announce(part);
      for (const part of made) await reader.takeBytes(part);
      for (const table of Object.keys(CARRIED)) for (const part of made) await reader.take(table, part.tables[table] ?? []);
      left.push(...reader.left);
    }

    /** Names, labels and notes of families, and the styles and kinds that people gave faces. Ids by name. */
    async function takeFamilies({ families: list }: WorkspaceExport): Promise<Map<string, string>> {
      const out = new Map<string, string>();
      for (const f of list) {
        const own = f.faces.flatMap((x) => faces.get(keyOf(x)) ?? []);
        const familyId = own[0]?.familyId;
        if (!familyId) {
          left.push(`${f.name}: none of its faces came along.`);
          continue;
        }
        out.set(f.name, familyId);
        const family = await manager.getRepository(FamilyEntity).findOneByOrFail({ id: familyId, workspaceId });
        await manager.getRepository(FamilyEntity).update(
          { id: familyId },
          {
            name: f.name,
            ownName: Boolean(family.ownName) || familyKey(f.name) !== family.nameKey,
            favorite: f.favorite,
            labels: f.labels as never,
            note: f.note || null,
            archivedAt: f.archived ? now : null,
          },
        );
        // A family that a person put together stays together.
        const strays = own.filter((x) => x.familyId !== familyId).map((x) => x.faceId);
        if (strays.length > 0)
          await manager.getRepository(FaceEntity).update({ id: In(strays), workspaceId }, { familyId, ownFamily: true });
        for (const x of f.faces) {
          const face = faces.get(keyOf(x));
          if (face && x.kind) await manager.getRepository(FaceEntity).update({ id: face.faceId }, { kind: x.kind });
        }
      }
      return out;
    }
  });
}
