import {
  changesOf,
  containerRecipe,
  hardStop,
  isClear,
  isOverridable,
  preflight,
  profile,
  PROFILES,
  sayRecipe,
  verdict,
  type FontFormat,
  type PlaceFinding,
  type Profile,
  type Recipe,
  type TargetFormat,
  type Verdict,
} from '@orderly-glyph/core';
import type { Place, PlaceKind, PreflightFace } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import type { Compute } from '../../platform/compute/pool.js';
import { notFound } from '../../platform/http/problem.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { findFaces, render, type LeadRow } from '../faces/index.js';
import { installsWhere, licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { PlaceEntity, type PlaceRow } from './rows.js';

export function profileOf(place: PlaceRow): Profile {
  const found = profile(place.profileId);
  if (!found) throw new Error(`There is no profile ${place.profileId}.`);
  return found;
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

/** The conversion that stands for a choice of format. */
export const recipeOf = (convertTo: TargetFormat | null): Recipe => (convertTo ? containerRecipe(convertTo) : []);

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

/** A face as checked, with what nobody may override. */
export type CheckedFace = PreflightFace & { stop: string | null };

/** Foresees what a place will say to each face, and prepares what would be sent. */
export async function checkFaces(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  place: PlaceRow,
  faceIds: readonly string[],
  recipe: Recipe,
): Promise<CheckedFace[]> {
  const p = profileOf(place);
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const today = await todayOf(db, workspaceId);
  const leads = await findFaces(db, workspaceId, faceIds);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const filesByFace = await filesOfAll(db, workspaceId, leads);
  const changes = changesOf(recipe);
  const out: CheckedFace[] = [];
  for (const lead of leads) {
    const own = licenses.get(lead.faceId) ?? [];
    const face = `${lead.familyName} ${lead.style}`;
    const records = own.map(licenseRecord);
    // What is done to the file is a change of it that a license may forbid.
    const verdicts = [
      verdict(p.use, records, lead.facts.embedding, today, { place: p }),
      ...changes.map((change) => verdict('changing', records, lead.facts.embedding, today, { change })),
    ];
    const { deciding: answer, notes } = strictest(verdicts);
    const files = filesByFace.get(lead.faceId) ?? [];
    const blocked = lead.facts.findings.some((f) => f.severity === 'blocks');
    const sending = blocked ? null : await chooseSending(db, compute, workspaceId, lead, files, p, recipe);
    const findings = preflight({
      profile: p,
      faceName: face,
      placeName: place.name,
      state: {
        format: lead.format,
        outlines: lead.facts.outlines,
        variable: lead.facts.axes.length > 0,
        color: lead.facts.color.length > 0,
      },
      embedding: lead.facts.embedding,
      faults: lead.facts.findings,
      verdicts,
      notes,
      files: files.map((f) => ({ format: f.format, bytes: f.bytes })),
      recipe,
      made: recipe.length > 0 && sending ? { format: sending.format, bytes: sending.bytes } : null,
    });
    out.push({
      faceId: lead.faceId,
      face,
      findings: findings.map(described),
      clear: isClear(findings),
      overrideStatement: `I know that nothing on record gives ${workspace.name} the right to put “${face}” on ${place.name}. I put it there all the same and answer for that.`,
      overridable: answer.answer === 'no' && isOverridable(findings),
      stop: hardStop(findings),
      verdict: answer,
      statement: `${statementFor(p, { workspace: workspace.name, face, place: place.name })}${
        recipe.length > 0 ? ` The file is ${sayRecipe(recipe)} for that, and ${workspace.name} may change it so.` : ''
      }${known(notes)}`,
      licenseName: own.find((l) => l.id === answer.licenseId)?.name ?? null,
      sending: sending ? { format: sending.format, bytes: sending.bytes, fromBytes: lead.bytes, comparison: sending.comparison } : null,
    });
  }
  return out;
}

/** A finding as the answer has it: remedies that convert name the format they lead to. */
const described = ({ code, severity, message, remedies, overridable }: PlaceFinding): PreflightFace['findings'][number] => ({
  code,
  severity,
  message,
  overridable,
  remedies: remedies.map(({ id, label, steps, goTo }) => ({
    id,
    label,
    goTo,
    convertTo: (steps[steps.length - 1]?.options.to as TargetFormat | undefined) ?? null,
  })),
});
