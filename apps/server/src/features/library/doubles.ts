import {
  findDoubles,
  LINE,
  nameKey,
  newerFirst,
  PRINTS,
  type DoubleGroup,
  type FontFormat,
  type Prints,
  type Trait,
} from '@orderly-glyph/core';
import type { Doubles, KeepRule } from '@orderly-glyph/schema';
import type { EntityManager } from 'typeorm';
import { withFact } from '../faces/index.js';
import { type Hold, holdsOf } from './holds.js';

interface Candidate {
  faceId: string;
  familyId: string;
  family: string;
  style: string;
  weightClass: number;
  widthClass: number;
  slope: string;
  optical: string | null;
  foldedInto: string | null;
  addedAt: Date;
  leadId: string;
  version: string | null;
  axes: string | null;
  codePoints: number;
  prints: Prints | null;
  bytes: number;
  files: number;
}

async function candidates(manager: EntityManager, workspaceId: string): Promise<Candidate[]> {
  const rows = (await manager.query(
    `SELECT face.id AS faceId, face.family_id AS familyId, family.name AS family, face.style, face.weight_class AS weightClass, face.width_class AS widthClass,
       face.slope, face.optical, face.folded_into AS foldedInto, face.created_at AS addedAt, face.lead_id AS leadId, JSON_VALUE(dl.value, '$.version') AS version,
       CAST(JSON_QUERY(dl.value, '$.axes') AS CHAR) AS axes, CAST(JSON_VALUE(dl.value, '$.codePoints') AS INT) AS codePoints, dp.value AS prints,
       (SELECT SUM(f.bytes) FROM face_file x JOIN font_file f ON f.id = x.file_id WHERE x.face_id = face.id AND x.removed_at IS NULL) AS bytes,
       (SELECT COUNT(*) FROM face_file x WHERE x.face_id = face.id AND x.removed_at IS NULL) AS files
     FROM face JOIN family ON family.id = face.family_id JOIN face_file ff ON ff.id = face.lead_id ${withFact(LINE, 'dl')} ${withFact(PRINTS, 'dp')}
     WHERE face.workspace_id = ? AND face.removed_at IS NULL`,
    [workspaceId],
  )) as (Omit<Candidate, 'prints'> & { prints: string | null })[];
  return rows.map((r) => ({
    ...r,
    prints: r.prints === null ? null : (JSON.parse(r.prints) as Prints | null),
    codePoints: Number(r.codePoints ?? 0),
    bytes: Number(r.bytes ?? 0),
    files: Number(r.files),
  }));
}

/** Doubles among the faces that stand on their own. */
function groupsOf(rows: readonly Candidate[]): DoubleGroup[] {
  return findDoubles(
    rows
      .filter((r) => r.foldedInto === null)
      .map((r) => ({
        id: r.faceId,
        cell: [r.familyId, nameKey(r.style), r.weightClass, r.widthClass, r.slope].join('|'),
        version: r.version,
        prints: r.prints,
        axes: r.axes ?? '[]',
        codePoints: r.codePoints,
      })),
  );
}

export async function listDoubles(manager: EntityManager, workspaceId: string): Promise<Doubles> {
  const rows = await candidates(manager, workspaceId);
  const holds = await holdsOf(manager, workspaceId, null);
  const byId = new Map(rows.map((r) => [r.faceId, r]));
  const describe = (id: string): Doubles['folded'][number] => {
    const r = byId.get(id)!;
    return {
      faceId: id,
      family: r.family,
      style: r.style,
      version: r.version,
      codePoints: r.codePoints,
      bytes: r.bytes,
      files: r.files,
      addedAt: r.addedAt.toISOString(),
      licensed: holds.get(id)?.licensed ?? false,
      installed: holds.get(id)?.installed ?? false,
      foldedInto: r.foldedInto,
    };
  };
  const spare = (await manager.query(
    `SELECT f.id AS fileId, f.name, f.format, f.bytes, CONCAT(family.name, ' ', face.style) AS face, face.id AS faceId
     FROM face_file ff JOIN face ON face.id = ff.face_id JOIN family ON family.id = face.family_id JOIN font_file f ON f.id = ff.file_id
     WHERE ff.workspace_id = ? AND ff.removed_at IS NULL AND face.removed_at IS NULL AND face.lead_id <> ff.id
       AND NOT EXISTS (SELECT 1 FROM face other JOIN face_file led ON led.id = other.lead_id WHERE led.file_id = f.id AND other.removed_at IS NULL)
     ORDER BY family.name, face.style, f.name`,
    [workspaceId],
  )) as Doubles['spare'];
  const seen = new Set<string>();
  return {
    groups: groupsOf(rows).map((g) => ({ kind: g.kind, faces: g.ids.map(describe), differs: g.differs.map((t) => TRAIT_WORDS[t]) })),
    folded: rows.filter((r) => r.foldedInto !== null).map((r) => describe(r.faceId)),
    // A collection is one file of many faces.
    spare: spare.filter((s) => !seen.has(s.fileId) && seen.add(s.fileId)),
  };
}

const TRAIT_WORDS: Readonly<Record<Trait, string>> = {
  color: 'colors',
  features: 'features',
  hinting: 'hints',
  metrics: 'metrics',
  names: 'names',
};

/** What a rule would do. */
export interface Resolution {
  /** Face and the face it goes behind. */
  folds: Map<string, string>;
  /** Face and the face file that leads it from now on. */
  leads: Map<string, string>;
  left: string[];
}

/** Applies the rule a person picked to all doubles there are. */
export async function planResolution(manager: EntityManager, workspaceId: string, rule: KeepRule): Promise<Resolution> {
  const rows = await candidates(manager, workspaceId);
  const byId = new Map(rows.map((r) => [r.faceId, r]));
  const holds = await holdsOf(manager, workspaceId, null);
  const folds = new Map<string, string>();
  const left: string[] = [];
  for (const group of groupsOf(rows)) {
    const kept = group.kind === 'versions' ? keepOfVersions(group.ids, byId, rule) : keepOfNames(group.ids, byId, holds, rule);
    if (kept === null) continue;
    if (group.differs.length > 0) {
      const { family, style } = byId.get(kept)!;
      const also = group.ids.length > 2 ? `${group.ids.length - 1} others` : `${byId.get(group.ids.find((id) => id !== kept)!)!.family}`;
      left.push(`${family} ${style} and ${also} stay in the list: their ${group.differs.map((t) => TRAIT_WORDS[t]).join(', ')} differ.`);
      continue;
    }
    for (const id of group.ids) {
      if (id === kept) continue;
      const reason = holdReason(holds.get(id), holds.get(kept));
      const row = byId.get(id)!;
      if (reason) left.push(`${row.family} ${row.style}${row.version ? `, ${row.version},` : ''} stays in the list: ${reason}.`);
      else folds.set(id, kept);
    }
  }
  return { folds, leads: await leadsBy(manager, workspaceId, rule.formats), left };
}

function keepOfVersions(ids: readonly string[], byId: ReadonlyMap<string, Candidate>, rule: KeepRule): string | null {
  if (rule.versions === 'all') return null;
  return [...ids].sort(
    (a, b) => newerFirst(byId.get(a)!.version, byId.get(b)!.version) || byId.get(b)!.codePoints - byId.get(a)!.codePoints,
  )[0]!;
}

function keepOfNames(
  ids: readonly string[],
  byId: ReadonlyMap<string, Candidate>,
  holds: ReadonlyMap<string, Hold>,
  rule: KeepRule,
): string | null {
  if (rule.names === 'all') return null;
  const licensed = (id: string): number => (rule.names === 'licensed' && holds.get(id)?.licensed ? 0 : 1);
  return [...ids].sort(
    (a, b) => licensed(a) - licensed(b) || byId.get(a)!.addedAt.getTime() - byId.get(b)!.addedAt.getTime() || (a < b ? -1 : 1),
  )[0]!;
}

/** A face with rights or installs of its own does not go out of sight behind one that has none. */
function holdReason(own: Hold | undefined, keeper: Hold | undefined): string | null {
  if (own?.installed) return own.reason;
  if (own?.licensed && !keeper?.licensed) return own.reason;
  return null;
}

/** Faces whose leading file the order of containers would change. A file with far fewer characters never leads. */
async function leadsBy(manager: EntityManager, workspaceId: string, formats: readonly FontFormat[]): Promise<Map<string, string>> {
  const rows = (await manager.query(
    `SELECT ff.id, ff.face_id AS faceId, CAST(JSON_VALUE(dl.value, '$.codePoints') AS INT) AS codePoints, f.format, face.lead_id AS leadId, f.created_at AS addedAt
     FROM face_file ff JOIN font_file f ON f.id = ff.file_id JOIN face ON face.id = ff.face_id ${withFact(LINE, 'dl')}
     WHERE ff.workspace_id = ? AND ff.removed_at IS NULL AND face.removed_at IS NULL ORDER BY f.created_at, ff.id`,
    [workspaceId],
  )) as { id: string; faceId: string; codePoints: number; format: FontFormat; leadId: string }[];
  const byFace = new Map<string, typeof rows>();
  for (const found of rows) {
    // Whole numbers out of JSON come as text.
    const row = { ...found, codePoints: Number(found.codePoints) };
    byFace.set(row.faceId, [...(byFace.get(row.faceId) ?? []), row]);
  }
  const rank = (f: FontFormat): number => (formats.includes(f) ? formats.indexOf(f) : formats.length);
  const out = new Map<string, string>();
  for (const [faceId, files] of byFace) {
    if (files.length < 2) continue;
    const fullest = Math.max(...files.map((f) => f.codePoints));
    const best = files.filter((f) => f.codePoints >= fullest * 0.98).sort((a, b) => rank(a.format) - rank(b.format))[0]!;
    if (best.id !== best.leadId) out.set(faceId, best.id);
  }
  return out;
}
