import {
  FORMAT_INFO,
  preflight,
  profile,
  verdict,
  type FontFormat,
  type Profile,
  type TargetFormat,
  type Verdict,
} from '@orderly-glyph/core';
import type { Place, PreflightFace } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import type { Compute } from '../compute/pool.js';
import { PlaceEntity, Workspace, type PlaceRow } from '../db/entities.js';
import { notFound } from '../http/problem.js';
import { todayOf } from '../library/day.js';
import { licenseRecord } from '../library/describe.js';
import { findFaces, installsWhere, licensesOf, type LeadRow } from '../library/library.js';
import { render } from './renditions.js';

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
      formats: [...p.formats],
      maxBytes: p.maxBytes,
      installs: installs.filter((i) => i.placeId === row.id),
      version: row.version,
    };
  });
}

export interface FileOfFace {
  sha256: string;
  format: FontFormat;
  bytes: number;
  faceIndex: number;
}

/** All files of a face, the leading one first. */
export async function filesOf(db: DataSource, workspaceId: string, lead: LeadRow): Promise<FileOfFace[]> {
  const rows = (await db.query(
    'SELECT f.sha256, f.format, f.bytes, ff.face_index AS faceIndex FROM face_file ff JOIN font_file f ON f.id = ff.file_id WHERE ff.workspace_id = ? AND ff.face_id = ? AND ff.removed_at IS NULL',
    [workspaceId, lead.faceId],
  )) as FileOfFace[];
  return rows.sort((a, b) => Number(b.sha256 === lead.sha256) - Number(a.sha256 === lead.sha256));
}

export interface Sending {
  format: TargetFormat;
  sha256: string;
  bytes: number;
  proof: string;
}

/** The file that would go out: the face as it is where the place takes that, else its conversion. */
export async function chooseSending(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  lead: LeadRow,
  files: readonly FileOfFace[],
  place: Profile,
  convertTo: TargetFormat | null,
): Promise<Sending | null> {
  if (convertTo) {
    const rendered = await render(db, compute, workspaceId, lead, convertTo, true);
    const glyphs = rendered.proof.glyphsCompared;
    return {
      format: convertTo,
      sha256: rendered.sha256,
      bytes: rendered.bytes,
      proof:
        glyphs > 0
          ? `The same face: every table agrees, and all ${glyphs.toLocaleString('en-US')} outlines were drawn from both files and compared.`
          : 'The same face: every table agrees byte for byte.',
    };
  }
  const ready = place.formats.map((format) => files.find((f) => f.format === format)).find((f) => f !== undefined);
  return ready
    ? { format: ready.format as TargetFormat, sha256: ready.sha256, bytes: ready.bytes, proof: 'The file as it was received.' }
    : null;
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

/** Foresees what a place will say to each face, and prepares what would be sent. */
export async function checkFaces(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  place: PlaceRow,
  faceIds: readonly string[],
  convertTo: TargetFormat | null,
): Promise<PreflightFace[]> {
  const p = profileOf(place);
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  const today = await todayOf(db, workspaceId);
  const leads = await findFaces(db, workspaceId, faceIds);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const out: PreflightFace[] = [];
  for (const lead of leads) {
    const own = licenses.get(lead.faceId) ?? [];
    const face = `${lead.familyName} ${lead.style}`;
    const records = own.map(licenseRecord);
    // Another container is a change of the file that a license may forbid.
    const verdicts = [
      verdict(p.use, records, lead.facts.embedding, today, { place: p }),
      ...(convertTo ? [verdict('changing', records, lead.facts.embedding, today, { change: 'container' })] : []),
    ];
    const { deciding: answer, notes } = strictest(verdicts);
    const files = await filesOf(db, workspaceId, lead);
    const blocked = lead.facts.findings.some((f) => f.severity === 'blocks');
    const sending = blocked ? null : await chooseSending(db, compute, workspaceId, lead, files, p, convertTo);
    const findings = preflight(p, {
      faceName: face,
      placeName: place.name,
      embedding: lead.facts.embedding,
      faults: lead.facts.findings,
      verdicts,
      notes,
      files: files.map((f) => ({ format: f.format, bytes: f.bytes })),
      converted: convertTo && sending ? { format: sending.format, bytes: sending.bytes } : null,
      convertTo,
    });
    out.push({
      faceId: lead.faceId,
      face,
      findings,
      clear: !findings.some((f) => f.severity === 'stops'),
      overrideStatement: `I know that nothing on record gives ${workspace.name} the right to put “${face}” on ${place.name}. I put it there all the same and answer for that.`,
      overridable: answer.answer === 'no' && findings.every((f) => f.severity !== 'stops' || f.code.startsWith('no-right')),
      verdict: answer,
      statement: `${statementFor(p, { workspace: workspace.name, face, place: place.name })}${
        convertTo ? ` The file is converted to ${convertTo.toUpperCase()} for that, and ${workspace.name} may change it so.` : ''
      }${known(notes)}`,
      licenseName: own.find((l) => l.id === answer.licenseId)?.name ?? null,
      sending: sending ? { format: sending.format, bytes: sending.bytes, fromBytes: lead.bytes, proof: sending.proof } : null,
    });
  }
  return out;
}

export const mediaType = (format: FontFormat): string => FORMAT_INFO[format].mediaType;
