import { findFaces, type LeadRow } from '../faces/index.js';
import { missingFrom, smallestSet, suspicions, verdict, writesOf, type Use, type Writes } from '@orderly-glyph/core';
import { characterNames } from '@orderly-glyph/node';
import type { TextCheck } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { todayOf } from '../accounts/index.js';
import { licenseRecord } from '../licenses/index.js';
import { allLeads, licensesOf } from './library.js';

/** What a face can set; one whose shaping was never tried sets nothing. */
const writesOfLead = (lead: LeadRow): Writes => writesOf(lead.coverage?.writes?.runs ?? [], lead.coverage?.writes?.loose ?? []);

/** Checks a text against some faces, or against the face that stands for each family. */
export async function checkText(
  db: DataSource,
  workspaceId: string,
  text: string,
  faceIds: readonly string[],
  use: Use | null,
): Promise<TextCheck> {
  const leads = faceIds.length > 0 ? await findFaces(db, workspaceId, faceIds) : await allLeads(db, workspaceId);
  const licenses = await licensesOf(
    db,
    workspaceId,
    leads.map((l) => l.faceId),
  );
  const nameOf = await characterNames();
  const sound = leads.filter((l) => !l.facts.findings.some((f) => f.severity === 'blocks'));
  const today = await todayOf(db, workspaceId);
  const writes = new Map(sound.map((l) => [l.faceId, writesOfLead(l)]));
  const faces = sound.map((lead) => ({
    faceId: lead.faceId,
    familyId: lead.familyId,
    family: lead.familyName,
    style: lead.style,
    cleared:
      use === null || verdict(use, (licenses.get(lead.faceId) ?? []).map(licenseRecord), lead.facts.embedding, today).answer === 'yes',
    missing: missingFrom(text, writes.get(lead.faceId)!).map(({ codePoint, count }) => ({
      character: String.fromCodePoint(codePoint),
      codePoint: `U+${codePoint.toString(16).toUpperCase().padStart(4, '0')}`,
      name: nameOf(codePoint),
      count,
    })),
  }));
  faces.sort((a, b) => a.missing.length - b.missing.length || a.family.localeCompare(b.family, 'en'));
  const wanted = missingFrom(text, { has: () => false, sets: () => false }).map((m) => m.codePoint);
  const cleared = faces.filter((f) => f.cleared);
  const together = smallestSet(
    wanted,
    cleared.map((f) => ({ id: f.faceId, has: (c: number) => writes.get(f.faceId)!.has(c) })),
  );
  const nobody = wanted.filter((c) => !cleared.some((f) => writes.get(f.faceId)!.has(c)) && !/^\p{Zs}$/u.test(String.fromCodePoint(c)));
  return { suspicions: suspicions(text), faces, together, nobody: nobody.map((c) => String.fromCodePoint(c)) };
}
