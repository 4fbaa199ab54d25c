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
  type FontFormat,
} from '@orderly-glyph/core';
import { In, type EntityManager } from 'typeorm';
import { keepFacts, withFact, type Kept } from './derived.js';
import { putBlob } from '../../platform/blobs/blobs.js';
import {
  BundleFile,
  type BundleFileRow,
  FaceEntity,
  FaceFile,
  type FaceFileRow,
  type FaceRow,
  FamilyEntity,
  type FamilyRow,
  FileEntity,
  type FileRow,
} from './rows.js';

/** What became of an item, to be written in the same transaction as what it brought. */
export interface Outcome {
  state: 'added' | 'already-here' | 'companion' | 'set-aside' | 'refused' | 'waiting';
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
export async function storeFont(manager: EntityManager, incoming: Incoming, inspection: Inspection): Promise<Outcome> {
  const keeper = new FontKeeper(manager, incoming.workspaceId);
  await keeper.expect([{ incoming, inspection }]);
  const outcome = await keeper.store(incoming, inspection);
  await keeper.write();
  return outcome;
}

/** What the database compares as equal: it pads with spaces. */
const padded = (key: string): string => key.replace(/ +$/, '');

interface Twin {
  name: string;
  version: string | null;
}

const twinKey = (f: Pick<FaceRow, 'familyId' | 'style' | 'weightClass' | 'widthClass' | 'slope'>): string =>
  JSON.stringify([f.familyId, padded(f.style).toLowerCase(), f.weightClass, f.widthClass, f.slope]);

/**
 * Keeps fonts that were read, in the caller's transaction. What is here already is asked for once for a whole group and the
 * rows of a group go out together; only a file that meets a face which is here is settled by itself.
 */
export class FontKeeper {
  private readonly knownFiles = new Map<string, FileRow>();
  private readonly knownFaces = new Map<string, FaceRow>();
  private readonly families = new Map<string, { id: string; name: string }>();
  private readonly twins = new Map<string, Twin>();
  private waiting = this.nothing();

  constructor(
    private readonly manager: EntityManager,
    private readonly workspaceId: string,
  ) {}

  private nothing() {
    return {
      files: [] as FileRow[],
      bundles: [] as BundleFileRow[],
      families: [] as FamilyRow[],
      faces: [] as FaceRow[],
      links: [] as FaceFileRow[],
      facts: [] as Kept[],
    };
  }

  /** Asks for everything that storing this group may meet; to be called before. */
  async expect(group: readonly { incoming: Incoming; inspection: Inspection }[]): Promise<void> {
    const { manager, workspaceId } = this;
    const files = await manager
      .getRepository(FileEntity)
      .findBy({ workspaceId, sha256: In([...new Set(group.map((g) => g.incoming.sha256))]) });
    for (const file of files) this.knownFiles.set(file.sha256, file);
    const keys = new Set<string>();
    const names = new Set<string>();
    for (const { incoming, inspection } of group)
      for (const values of inspection.faces) {
        keys.add(faceKey(valueOf(values, FACTS)!, fileName(incoming.path)));
        names.add(familyKey(valueOf(values, NAMING)!.family));
      }
    for (const face of await manager.getRepository(FaceEntity).findBy({ workspaceId, faceKey: In([...keys]) }))
      this.knownFaces.set(padded(face.faceKey), face);
    const families = await manager.getRepository(FamilyEntity).findBy({ workspaceId, nameKey: In([...names]) });
    for (const family of families) this.families.set(padded(family.nameKey), { id: family.mergedInto ?? family.id, name: family.name });
    if (families.length === 0) return;
    const rows = (await manager.query(
      `SELECT family.name AS familyName, face.family_id AS familyId, face.style, face.weight_class AS weightClass, face.width_class AS widthClass, face.slope, JSON_VALUE(d.value, '$.version') AS version
       FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id ${withFact(FACTS, 'd')}
       WHERE face.family_id IN (?) AND face.removed_at IS NULL AND face.folded_into IS NULL`,
      [[...new Set([...this.families.values()].map((f) => f.id))]],
    )) as (FaceRow & { familyName: string; version: string | null })[];
    for (const row of rows) this.twins.set(twinKey(row), { name: `${row.familyName} ${row.style}`, version: row.version });
  }

  /** Stores one font of the group; its rows are written by `write` at the latest. */
  async store(incoming: Incoming, { format, faces }: Inspection): Promise<Outcome> {
    const { manager, workspaceId } = this;
    const { bundleId, sha256 } = incoming;
    const known = this.knownFiles.get(sha256);
    if (known) {
      await this.write();
      return storeKnownFont(manager, incoming, known);
    }
    const bytes = await incoming.bytes();
    await putBlob(manager, workspaceId, sha256, bytes);
    const name = fileName(incoming.path);
    const file: FileRow = { id: randomUUID(), workspaceId, sha256, name, format, bytes: bytes.length, createdAt: new Date() };
    this.waiting.files.push(file);
    this.knownFiles.set(sha256, file);
    if (bundleId) this.waiting.bundles.push({ bundleId, fileId: file.id, workspaceId });
    const notes: string[] = [];
    let first: string | undefined;
    for (const values of faces) {
      const facts = valueOf(values, FACTS)!;
      const { faceId, note } = await this.storeFace(name, file.id, facts, values);
      first ??= faceId;
      if (note) notes.push(note);
      const worst = facts.findings.find((f) => f.severity === 'blocks');
      if (worst) notes.push(worst.message);
    }
    if (faces.length > 1) notes.unshift(`A collection of ${faces.length} faces.`);
    return { state: 'added', reason: notes.join(' ').slice(0, 1000), fileId: file.id, ...(first ? { faceId: first } : {}) };
  }

  private async storeFace(
    name: string,
    fileId: string,
    facts: FaceFacts,
    values: DerivedValues,
  ): Promise<{ faceId: string; note: string | null }> {
    const { manager, workspaceId, waiting } = this;
    const key = faceKey(facts, name);
    const existing = this.knownFaces.get(padded(key));
    const link = { id: randomUUID(), workspaceId, fileId, faceIndex: facts.index, removedAt: null };
    waiting.facts.push({ workspaceId, fileId, faceIndex: facts.index, values });
    if (existing) {
      waiting.links.push({ ...link, faceId: existing.id });
      await this.write();
      // Bringing a face in again says that it is wanted after all.
      if (existing.removedAt) await manager.getRepository(FaceEntity).update({ id: existing.id }, { removedAt: null });
      const { leadId, note } = await chooseLead(manager, existing, link.id);
      Object.assign(existing, { removedAt: null, leadId });
      return { faceId: existing.id, note };
    }
    const naming = valueOf(values, NAMING)!;
    const family = this.family(naming.family);
    const face: FaceRow = {
      id: randomUUID(),
      workspaceId,
      familyId: family.id,
      faceKey: key,
      ...styleColumns(naming),
      ownStyle: false,
      ownFamily: false,
      kind: null,
      foldedInto: null,
      leadId: link.id,
      createdAt: new Date(),
      removedAt: null,
    };
    waiting.faces.push(face);
    waiting.links.push({ ...link, faceId: face.id });
    this.knownFaces.set(padded(key), face);
    const twin = this.twins.get(twinKey(face));
    if (!twin) this.twins.set(twinKey(face), { name: `${family.name} ${face.style}`, version: facts.version });
    return {
      faceId: face.id,
      note: twin
        ? `Another version of ${twin.name}: this is ${facts.version ?? 'without a version'}, and ${twin.version ?? 'one without a version'} is here already and goes on leading its family.`
        : null,
    };
  }

  /** The family of a name, founded when it is not there. */
  private family(name: string): { id: string; name: string } {
    const key = padded(familyKey(name));
    let family = this.families.get(key);
    if (!family) {
      const row = newFamily(randomUUID(), this.workspaceId, name);
      this.waiting.families.push(row);
      this.families.set(key, (family = { id: row.id, name: row.name }));
    }
    return family;
  }

  /** Writes the rows that still wait. */
  async write(): Promise<void> {
    const { manager, waiting } = this;
    this.waiting = this.nothing();
    if (waiting.files.length > 0) await manager.getRepository(FileEntity).insert(waiting.files);
    if (waiting.bundles.length > 0) await manager.getRepository(BundleFile).insert(waiting.bundles);
    if (waiting.families.length > 0) await manager.getRepository(FamilyEntity).insert(waiting.families);
    if (waiting.faces.length > 0) await manager.getRepository(FaceEntity).insert(waiting.faces);
    if (waiting.links.length > 0) await manager.getRepository(FaceFile).insert(waiting.links);
    await keepFacts(manager, waiting.facts);
  }
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

/** Where a face stands in its family, as its row keeps it. */
export const styleColumns = (naming: Naming): Pick<FaceRow, 'style' | 'weightClass' | 'widthClass' | 'italic' | 'slope' | 'optical'> => ({
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
async function chooseLead(manager: EntityManager, face: FaceRow, newcomer: string): Promise<{ leadId: string; note: string }> {
  const rows = (await manager.query(
    `SELECT ff.id, CAST(JSON_VALUE(d.value, '$.codePoints') AS INT) AS codePoints, f.format FROM face_file ff JOIN font_file f ON f.id = ff.file_id ${withFact(LINE, 'd')} WHERE ff.face_id = ? AND ff.removed_at IS NULL ORDER BY f.created_at`,
    [face.id],
  )) as { id: string; codePoints: number; format: FontFormat }[];
  const lead = rows.map((r) => ({ ...r, codePoints: Number(r.codePoints) })).sort(leadOrder)[0]!;
  if (lead.id !== face.leadId) await manager.getRepository(FaceEntity).update({ id: face.id }, { leadId: lead.id });
  const note =
    lead.id === newcomer
      ? `The same face as a file already here; this ${lead.format.toUpperCase()} now leads.`
      : `The same face as a file already here; the ${lead.format.toUpperCase()} leads and this one is kept beside it.`;
  return { leadId: lead.id, note };
}
