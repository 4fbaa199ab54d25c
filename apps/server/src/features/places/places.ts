import { profile, PROFILES, rulesOf, withRules, type FontFormat, type Profile, type Recipe, type Verdict } from '@orderly-glyph/core';
import type { Place, PlaceKind } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import type { Compute } from '../../platform/compute/pool.js';
import { notFound } from '../../platform/http/problem.js';
import { isSealed, type Secrets } from '../../platform/secrets.js';
import { render, type LeadRow } from '../faces/index.js';
import { installsWhere } from '../library/index.js';
import { PlaceEntity, type PlaceRow } from './rows.js';

/** What a place takes and who speaks to it, with rules of its own where it has some. */
export function profileOf(place: Pick<PlaceRow, 'profileId' | 'rules' | 'byHand'>): Profile {
  const found = profile(place.profileId);
  if (!found) throw new Error(`There is no profile ${place.profileId}.`);
  const own = withRules(found, place.rules);
  return place.byHand ? { ...own, connector: 'hand' } : own;
}

/** Keys that an earlier release kept readable are sealed, once. */
export async function sealKeys(db: DataSource, secrets: Secrets): Promise<void> {
  const places = db.getRepository(PlaceEntity);
  for (const { id, siteKey } of await places.find({ select: { id: true, siteKey: true } }))
    if (siteKey !== '' && !isSealed(siteKey)) await places.update({ id, siteKey }, { siteKey: secrets.seal(siteKey) });
}

export async function findPlace(db: DataSource, workspaceId: string, placeId: string): Promise<PlaceRow> {
  const place = await db.getRepository(PlaceEntity).findOneBy({ id: placeId, workspaceId });
  if (!place) throw notFound('This place');
  return place;
}

export async function describePlaces(db: DataSource, workspaceId: string, rows: readonly PlaceRow[]): Promise<Place[]> {
  const installs = await installsWhere(
    db,
    workspaceId,
    'place_id',
    rows.map((r) => r.id),
  );
  return rows.map((row) => {
    const p = profileOf(row);
    return {
      id: row.id,
      name: row.name,
      profileId: row.profileId,
      profile: p.name,
      address: row.address,
      use: p.use,
      roles: [...p.roles],
      settings: [...p.settings],
      user: row.login,
      hostKey: row.hostKey,
      page: row.page,
      byHand: Boolean(row.byHand),
      fetches: p.connector === 'joined',
      isList: p.roles.some((r) => r.many) && !row.byHand,
      rules: rulesOf(p) as Place['rules'],
      ownRules: row.rules !== null,
      howTo: [...p.howTo],
      formats: [...p.accepts.formats],
      maxBytes: p.accepts.maxBytes,
      installs: installs.filter((i) => i.placeId === row.id),
      version: row.version,
    };
  });
}

/** Every kind of place, with what a person enters for one. */
export const describeKinds = (): PlaceKind[] =>
  PROFILES.map(({ id, name, article, about, settings }) => ({ id, name, article, about, settings: [...settings] }));

export interface FileOfFace {
  sha256: string;
  format: FontFormat;
  bytes: number;
  faceIndex: number;
}

/** All files of some faces, of each the leading one first. */
export async function filesOfAll(db: DataSource, workspaceId: string, leads: readonly LeadRow[]): Promise<Map<string, FileOfFace[]>> {
  const out = new Map<string, FileOfFace[]>();
  if (leads.length === 0) return out;
  const rows = (await db.query(
    'SELECT ff.face_id AS faceId, f.sha256, f.format, f.bytes, ff.face_index AS faceIndex FROM face_file ff JOIN font_file f ON f.id = ff.file_id WHERE ff.workspace_id = ? AND ff.face_id IN (?) AND ff.removed_at IS NULL',
    [workspaceId, leads.map((l) => l.faceId)],
  )) as (FileOfFace & { faceId: string })[];
  for (const { faceId, ...file } of rows) out.set(faceId, [...(out.get(faceId) ?? []), file]);
  for (const lead of leads) out.get(lead.faceId)?.sort((a, b) => Number(b.sha256 === lead.sha256) - Number(a.sha256 === lead.sha256));
  return out;
}

export const filesOf = async (db: DataSource, workspaceId: string, lead: LeadRow): Promise<FileOfFace[]> =>
  (await filesOfAll(db, workspaceId, [lead])).get(lead.faceId) ?? [];

export interface Sending {
  format: FontFormat;
  sha256: string;
  bytes: number;
  comparison: string;
}

/** The file that would go out: what the recipe makes of the face, else a file at hand that the place takes. */
export async function chooseSending(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  lead: LeadRow,
  files: readonly FileOfFace[],
  place: Profile,
  recipe: Recipe,
): Promise<Sending | null> {
  if (recipe.length > 0) {
    const rendered = await render(db, compute, workspaceId, lead, recipe, true);
    const glyphs = rendered.comparison.glyphsCompared;
    return {
      format: rendered.format,
      sha256: rendered.sha256,
      bytes: rendered.bytes,
      comparison:
        glyphs > 0
          ? `The same face: every table agrees, and all ${glyphs.toLocaleString('en-US')} outlines were drawn from both files and compared.`
          : 'The same face: every table agrees byte for byte.',
    };
  }
  const ready = place.accepts.formats.map((format) => files.find((f) => f.format === format)).find((f) => f !== undefined);
  return ready ? { format: ready.format, sha256: ready.sha256, bytes: ready.bytes, comparison: 'The file as it was received.' } : null;
}

export function statementFor(place: Profile, words: { workspace: string; face: string; place: string }): string {
  return place.statement.replace(/\{(\w+)\}/g, (_, key: string) => words[key as keyof typeof words] ?? '');
}

/** The verdict that decides where several are needed, and what of all of them asks for attention, in sentences. */
export function strictest(verdicts: readonly Verdict[]): { deciding: Verdict; notes: string[] } {
  const rank = { yes: 0, ask: 1, no: 2 } as const;
  const deciding = [...verdicts].sort((a, b) => rank[b.answer] - rank[a.answer])[0]!;
  const notes = verdicts.filter((v) => v.answer === 'yes' && v.attention).flatMap((v) => v.reasons.slice(1));
  return { deciding, notes: [...new Set(notes)] };
}

/** What a statement says beyond the right itself, so that nobody can say later that it was not known. */
export const known = (notes: readonly string[]): string => (notes.length > 0 ? ` I know this: ${notes.join(' ')}` : '');
