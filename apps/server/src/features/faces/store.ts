import { randomUUID } from 'node:crypto';
import {
  FACTS,
  faceKey,
  leadOrder,
  LINE,
  NAMING,
  nameKey,
  valueOf,
  type DerivedValues,
  type FaceFacts,
  type Inspection,
  type Naming,
} from '@orderly-glyph/core';
import type { EntityManager } from 'typeorm';
import { keepFacts, withFact } from './derived.js';
import { putBlob } from '../../platform/blobs/blobs.js';
import { BundleFile, FaceEntity, FaceFile, type FaceRow, FamilyEntity, type FamilyRow, FileEntity, type FileRow } from './rows.js';

/** What became of an item, to be written in the same transaction as what it brought. */
export interface Outcome {
  state: 'added' | 'already-here' | 'companion' | 'set-aside' | 'refused';
  reason: string;
  faceId?: string;
  fileId?: string;
  companionId?: string;
}

export interface Incoming {
  workspaceId: string;
  /** The bundle it came in; null for what was made here. */
  bundleId: string | null;
  path: string;
  sha256: string;
  /** Its bytes, read when they are to be stored. */
  bytes(): Promise<Uint8Array>;
}

const fileName = (path: string): string => path.split('/').pop() ?? path;

/** Stores a font's bytes, file, faces and families; folds the same face in another container into one. */
export async function storeFont(manager: EntityManager, incoming: Incoming, { format, faces }: Inspection): Promise<Outcome> {
  const { workspaceId, bundleId, sha256 } = incoming;
  const files = manager.getRepository(FileEntity);
  const known = await files.findOneBy({ workspaceId, sha256 });
  if (known) return storeKnownFont(manager, incoming, known);
  const bytes = await incoming.bytes();
  await putBlob(manager, workspaceId, sha256, bytes);
  const fileId = randomUUID();
  await files.insert({
    id: fileId,
    workspaceId,
    sha256,
    name: fileName(incoming.path),
    format,
    bytes: bytes.length,
    createdAt: new Date(),
  });
  if (bundleId) await linkBundle(manager, workspaceId, bundleId, fileId);
  const notes: string[] = [];
  let first: string | undefined;
  for (const values of faces) {
    const face = valueOf(values, FACTS)!;
    const { faceId, note } = await storeFace(manager, incoming, fileId, face, values);
    first ??= faceId;
    if (note) notes.push(note);
    const worst = face.findings.find((f) => f.severity === 'blocks');
    if (worst) notes.push(worst.message);
  }
  if (faces.length > 1) notes.unshift(`A collection of ${faces.length} faces.`);
  return { state: 'added', reason: notes.join(' ').slice(0, 1000), fileId, ...(first ? { faceId: first } : {}) };
}

/** Bytes that are here already are linked to the bundle they came in once more. */
export async function storeKnownFont(manager: EntityManager, { workspaceId, bundleId }: Incoming, known: FileRow): Promise<Outcome> {
  if (bundleId) await linkBundle(manager, workspaceId, bundleId, known.id);
  const back = await bringBack(manager, known.id);
  const face = await manager.getRepository(FaceFile).findOneBy({ fileId: known.id });
  return {
    state: 'already-here',
    reason: `The same file is here already, as ${known.name}.${back ? ' It had been removed and is back in the library.' : ''}`,
    fileId: known.id,
    ...(face ? { faceId: face.faceId } : {}),
  };
}

/** Bringing a file in again says that it is wanted after all. Returns whether it had been removed. */
async function bringBack(manager: EntityManager, fileId: string): Promise<boolean> {
  const changed = (await manager.query(
    'UPDATE face_file ff JOIN face ON face.id = ff.face_id SET ff.removed_at = NULL, face.removed_at = NULL WHERE ff.file_id = ? AND (ff.removed_at IS NOT NULL OR face.removed_at IS NOT NULL)',
    [fileId],
  )) as { affectedRows: number };
  return changed.affectedRows > 0;
}

async function linkBundle(manager: EntityManager, workspaceId: string, bundleId: string, fileId: string): Promise<void> {
  const links = manager.getRepository(BundleFile);
  if (!(await links.existsBy({ bundleId, fileId }))) await links.insert({ bundleId, fileId, workspaceId });
}

async function storeFace(
  manager: EntityManager,
  { workspaceId, path }: Incoming,
  fileId: string,
  facts: FaceFacts,
  values: DerivedValues,
): Promise<{ faceId: string; note: string | null }> {
  const faces = manager.getRepository(FaceEntity);
  const key = faceKey(facts, fileName(path));
  const existing = await faces.findOneBy({ workspaceId, faceKey: key });
  const faceFileId = randomUUID();
  const link = { id: faceFileId, workspaceId, fileId, faceIndex: facts.index, removedAt: null };
  await keepFacts(manager, link, values);
  if (existing) {
    // Bringing a face in again says that it is wanted after all.
    if (existing.removedAt) await faces.update({ id: existing.id }, { removedAt: null });
    await manager.getRepository(FaceFile).insert({ ...link, faceId: existing.id });
    return { faceId: existing.id, note: await chooseLead(manager, existing, faceFileId) };
  }
  const naming = valueOf(values, NAMING)!;
  const face: FaceRow = {
    id: randomUUID(),
    workspaceId,
    familyId: await familyFor(manager, workspaceId, naming.family),
    faceKey: key,
    ...placeColumns(naming),
    ownStyle: false,
    ownFamily: false,
    kind: null,
    foldedInto: null,
    leadId: faceFileId,
    createdAt: new Date(),
    removedAt: null,
  };
  const twin = await twinOf(manager, face);
  await faces.insert(face);
  await manager.getRepository(FaceFile).insert({ ...link, faceId: face.id });
  return {
    faceId: face.id,
    note:
      twin &&
      `Another version of ${twin.name}: this is ${facts.version ?? 'without a version'}, and ${twin.version ?? 'one without a version'} is here already and goes on leading its family.`,
  };
}

/** A face of the same family and style that is here already. */
async function twinOf(manager: EntityManager, face: FaceRow): Promise<{ name: string; version: string | null } | null> {
  const [row] = (await manager.query(
    `SELECT CONCAT(family.name, ' ', face.style) AS name, JSON_VALUE(d.value, '$.version') AS version FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id ${withFact(FACTS, 'd')}
     WHERE face.family_id = ? AND face.style = ? AND face.weight_class = ? AND face.width_class = ? AND face.slope = ? AND face.removed_at IS NULL AND face.folded_into IS NULL LIMIT 1`,
    [face.familyId, face.style, face.weightClass, face.widthClass, face.slope],
  )) as { name: string; version: string | null }[];
  return row ?? null;
}

/** Where a face stands in its family, as its row keeps it. */
export const placeColumns = (naming: Naming): Pick<FaceRow, 'style' | 'weightClass' | 'widthClass' | 'italic' | 'slope' | 'optical'> => ({
  style: naming.style.slice(0, 255),
  weightClass: naming.weightClass,
  widthClass: naming.widthClass,
  italic: naming.slope !== 'upright',
  slope: naming.slope,
  optical: naming.opticalSize?.slice(0, 60) ?? null,
});

/** The family of a name, founded when it is not there. */
export async function familyFor(manager: EntityManager, workspaceId: string, name: string): Promise<string> {
  const families = manager.getRepository(FamilyEntity);
  const key = familyKey(name);
  const known = await families.findOneBy({ workspaceId, nameKey: key });
  if (known) return known.mergedInto ?? known.id;
  const id = randomUUID();
  await families.insert(newFamily(id, workspaceId, name));
  return id;
}

export const familyKey = (name: string): string => [...nameKey(name)].slice(0, 190).join('').slice(0, 190);

export const newFamily = (id: string, workspaceId: string, name: string): FamilyRow => ({
  id,
  workspaceId,
  name: name.slice(0, 255),
  nameKey: familyKey(name),
  createdAt: new Date(),
  ownName: false,
  favorite: false,
  labels: null,
  note: null,
  archivedAt: null,
  mergedInto: null,
  version: 1,
});

/** Picks the leading file anew and says in a sentence how the face now stands. */
async function chooseLead(manager: EntityManager, face: FaceRow, newcomer: string): Promise<string> {
  const rows = (await manager.query(
    `SELECT ff.id, CAST(JSON_VALUE(d.value, '$.codePoints') AS INT) AS codePoints, f.format FROM face_file ff JOIN font_file f ON f.id = ff.file_id ${withFact(LINE, 'd')} WHERE ff.face_id = ? AND ff.removed_at IS NULL ORDER BY f.created_at`,
    [face.id],
  )) as { id: string; codePoints: number; format: 'otf' | 'ttf' | 'ttc' | 'woff' | 'woff2' }[];
  const lead = rows.map((r) => ({ ...r, codePoints: Number(r.codePoints) })).sort(leadOrder)[0]!;
  if (lead.id !== face.leadId) await manager.getRepository(FaceEntity).update({ id: face.id }, { leadId: lead.id });
  return lead.id === newcomer
    ? `The same face as a file already here; this ${lead.format.toUpperCase()} now leads.`
    : `The same face as a file already here; the ${lead.format.toUpperCase()} leads and this one is kept beside it.`;
}
