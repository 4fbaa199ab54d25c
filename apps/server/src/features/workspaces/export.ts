import { once } from 'node:events';
import type { Writable } from 'node:stream';
import { EXPORT_NAME, licenseFields, madeName, workspaceExport, type WorkspaceExport } from '@orderly-glyph/schema';
import { IsNull, type DataSource } from 'typeorm';
import yazl from 'yazl';
import { z } from 'zod';
import { getBlob } from '../../platform/blobs/blobs.js';
import { Workspace } from '../accounts/index.js';
import { FamilyEntity, FileEntity } from '../faces/index.js';
import { CollectionEntity, KeptSearch, KeptText, ReadyTextEntity } from '../library/index.js';
import { LicenseEntity, LicenseVersion, StartingPointEntity } from '../licenses/index.js';
import { PlaceEntity } from '../places/index.js';
import { madeParts } from './carried.js';

/** The record of a workspace as `orderly-glyph-workspace.json` holds it. */
async function recordOf(db: DataSource, workspaceId: string): Promise<WorkspaceExport> {
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const all = async <T>(sql: string): Promise<T[]> => (await db.query(sql, [workspaceId])) as T[];
  const faces = await all<{ id: string; familyId: string; style: string; kind: string | null; sha256: string; index: number }>(
    'SELECT face.id, face.family_id AS familyId, face.style, face.kind, f.sha256, ff.face_index AS `index` FROM face JOIN face_file ff ON ff.id = face.lead_id JOIN font_file f ON f.id = ff.file_id WHERE face.workspace_id = ? AND face.removed_at IS NULL',
  );
  const at = new Map(faces.map((f) => [f.id, { sha256: f.sha256, index: f.index }]));
  const families = await db.getRepository(FamilyEntity).findBy({ workspaceId });
  const nameOf = new Map(families.map((f) => [f.id, f.name]));
  const covered = await all<{ licenseId: string; faceId: string }>(
    'SELECT license_id AS licenseId, face_id AS faceId FROM license_face WHERE workspace_id = ?',
  );
  const evidence = await all<{ licenseId: string; sha256: string; name: string }>(
    'SELECT le.license_id AS licenseId, c.sha256, c.name FROM license_evidence le JOIN companion c ON c.id = le.companion_id WHERE le.workspace_id = ?',
  );
  const versions = await db.getRepository(LicenseVersion).find({ where: { workspaceId }, order: { version: 'ASC' } });
  const portable = licenseFields.omit({ faceIds: true, companionIds: true });
  return workspaceExport.parse({
    format: 'orderly-glyph-workspace',
    version: 1,
    madeAt: new Date().toISOString(),
    name: workspace.name,
    timeZone: workspace.timeZone,
    palette: workspace.palette ?? [],
    keepRule: workspace.keepRule,
    proofTexts: (await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } })).map(
      ({ language, label, text }) => ({
        language,
        label,
        text,
      }),
    ),
    families: families
      .map((f) => ({
        name: f.name,
        favorite: Boolean(f.favorite),
        archived: f.archivedAt !== null,
        labels: f.labels ?? [],
        note: f.note ?? '',
        faces: faces.filter((x) => x.familyId === f.id).map(({ sha256, index, style, kind }) => ({ sha256, index, style, kind })),
      }))
      .filter((f) => f.faces.length > 0),
    collections: (await db.getRepository(CollectionEntity).findBy({ workspaceId, removedAt: IsNull() })).map((c) => ({
      name: c.name,
      families: (c.familyIds ?? []).flatMap((id) => nameOf.get(id) ?? []),
    })),
    searches: (await db.getRepository(KeptSearch).findBy({ workspaceId })).map(({ name, query }) => ({ name, query })),
    texts: (await db.getRepository(KeptText).findBy({ workspaceId })).map(({ name, text }) => ({ name, text })),
    startingPoints: (await db.getRepository(StartingPointEntity).findBy({ workspaceId })).map(({ name, fields }) => ({ name, ...fields })),
    licenses: (await db.getRepository(LicenseEntity).find({ where: { workspaceId }, order: { createdAt: 'ASC', id: 'ASC' } })).map(
      (row) => ({
        fields: portable.parse({
          ...row,
          quotes: row.quotes ?? {},
          limits: row.limits ?? {},
          counters: row.counters ?? {},
          duties: row.duties ?? [],
          confirmed: Boolean(row.confirmed),
        }),
        faces: covered.filter((c) => c.licenseId === row.id).flatMap((c) => at.get(c.faceId) ?? []),
        evidence: evidence.filter((e) => e.licenseId === row.id).map(({ sha256, name }) => ({ sha256, name })),
        confirmedBy: row.confirmedBy,
        confirmedAt: row.confirmedAt?.toISOString() ?? null,
        removed: row.removedAt !== null,
        history: versions
          .filter((v) => v.licenseId === row.id)
          .map((v) => ({ version: v.version, by: v.byName, at: v.at.toISOString(), act: v.act, fields: v.fields })),
      }),
    ),
    places: (await db.getRepository(PlaceEntity).findBy({ workspaceId })).map((p) => ({
      name: p.name,
      profile: p.profileId,
      address: p.address,
    })),
    installs: (
      await all<{ faceId: string; place: string; file: string; sha256: string; at: Date; by: string; until: Date | null }>(
        'SELECT i.face_id AS faceId, p.name AS place, i.remote_name AS file, i.sha256, i.installed_at AS at, i.installed_by AS `by`, i.removed_at AS until FROM install i JOIN place p ON p.id = i.place_id WHERE i.workspace_id = ?',
      )
    ).map(({ faceId, ...i }) => ({ ...i, face: at.get(faceId) ?? null, at: i.at.toISOString(), until: i.until?.toISOString() ?? null })),
    statements: (
      await all<{
        faceId: string;
        for: string | null;
        words: string;
        person: string;
        answer: string;
        note: string;
        license: string | null;
        licenseVersion: number | null;
        overridden: number;
        at: Date;
      }>(
        'SELECT s.face_id AS faceId, p.name AS `for`, s.words, s.person, s.answer, s.note, s.license_name AS license, s.license_version AS licenseVersion, s.overridden, s.at FROM statement s LEFT JOIN delivery d ON d.id = s.delivery_id LEFT JOIN place p ON p.id = d.place_id WHERE s.workspace_id = ? ORDER BY s.at',
      )
    ).map(({ faceId, ...s }) => ({
      ...s,
      for: s.for ?? 'a web kit',
      face: at.get(faceId) ?? null,
      overridden: s.overridden > 0,
      at: s.at.toISOString(),
    })),
  });
}

/** What was received, as paths in an export: each bundle in a folder of its own, files by the paths they came with. */
async function receivedOf(db: DataSource, workspaceId: string): Promise<{ path: string; sha256: string }[]> {
  const rows = (await db.query(
    `SELECT i.path, i.bundle_id AS bundleId, b.name AS bundle, COALESCE(f.sha256, c.sha256) AS sha256, i.intake_id AS intake, i.seq FROM item i JOIN bundle b ON b.id = i.bundle_id
       LEFT JOIN font_file f ON f.id = i.file_id LEFT JOIN companion c ON c.id = i.companion_id
     WHERE i.workspace_id = ? AND (i.file_id IS NOT NULL OR i.companion_id IS NOT NULL)
     UNION ALL SELECT c.name, 'evidence', 'Evidence', c.sha256, 'evidence', 0 FROM companion c WHERE c.workspace_id = ? AND c.bundle_id IS NULL
     ORDER BY intake, seq, path`,
    [workspaceId, workspaceId],
  )) as { path: string; bundleId: string; bundle: string; sha256: string | null }[];
  // Files whose item is of a time before items named them.
  const rest = (await db.getRepository(FileEntity).findBy({ workspaceId })).map(({ name, sha256 }) => ({ path: name, sha256 }));
  const folders = new Map<string, string>();
  const taken = new Set<string>();
  const out: { path: string; sha256: string }[] = [];
  const put = (folder: string, path: string, sha256: string): void => {
    const clean = `bundles/${folder}/${path}`
      .split('/')
      .map((p) => p.replace(/[\\:*?"<>|\p{Cc}]/gu, '_').replace(/^\.+/, '_'))
      .filter(Boolean)
      .join('/')
      .slice(0, 800);
    // An archive inside one was a folder in the path; an archive of that name cannot be a folder everywhere.
    let free = clean.replace(/\.zip\//gi, '.zip-/');
    for (let n = 2; taken.has(free.toLowerCase()); n++) free = clean.replace(/(\.\w+)?$/, ` ${n}$1`);
    taken.add(free.toLowerCase());
    out.push({ path: free, sha256 });
  };
  const seen = new Set<string>();
  for (const r of rows) {
    if (r.sha256 === null) continue;
    let folder = folders.get(r.bundleId);
    if (!folder)
      folders.set(
        r.bundleId,
        (folder = `${String(folders.size + 1).padStart(3, '0')} ${r.bundle
          .replace(/\.zip$/i, '')
          .split('/')
          .pop()!
          .slice(0, 60)}`),
      );
    put(folder, r.path, r.sha256);
    seen.add(r.sha256);
  }
  for (const r of rest) if (!seen.has(r.sha256)) put('000 others', r.path.split('/').pop()!, r.sha256);
  return out;
}

/** Writes everything a workspace owns as one open ZIP, a file at a time. */
export async function exportWorkspace(db: DataSource, workspaceId: string, out: Writable): Promise<void> {
  const zip = new yazl.ZipFile();
  const options = { mtime: new Date() };
  zip.addBuffer(Buffer.from(`${JSON.stringify(await recordOf(db, workspaceId), null, 1)}\n`), EXPORT_NAME, options);
  zip.addBuffer(
    Buffer.from(`${JSON.stringify(z.toJSONSchema(workspaceExport, { unrepresentable: 'any', io: 'input' }), null, 1)}\n`),
    'orderly-glyph-workspace.schema.json',
    options,
  );
  let number = 0;
  for await (const part of madeParts(db, workspaceId)) zip.addBuffer(Buffer.from(JSON.stringify(part)), madeName(++number), options);
  zip.outputStream.pipe(out);
  let open = true;
  out.once('close', () => (open = false));
  for (const { path, sha256 } of await receivedOf(db, workspaceId)) {
    if (!open) return;
    zip.addBuffer(Buffer.from(await getBlob(db.manager, workspaceId, sha256)), path, {
      ...options,
      compress: !/\.(woff2?|zip|png|jpe?g|pdf)$/i.test(path),
    });
    if (out.writableNeedDrain) await once(out, 'drain');
  }
  zip.end();
  await once(zip.outputStream, 'end');
}
