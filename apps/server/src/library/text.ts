import { inRuns, missingFrom, smallestSet, suspicions, verdict, type Use } from '@orderly-glyph/core';
import { characterNames } from '@orderly-glyph/node';
import type { TextCheck } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { licenseRecord, today } from './describe.js';
import { allLeads, findFaces, licensesOf, type LeadRow } from './library.js';

/** A letter without a glyph of its own comes out of its parts where these are there and the face attaches marks. */
function composer(lead: LeadRow): (character: string) => boolean {
  const attaches = lead.facts.features.includes('mark');
  return (character) => {
    const parts = [...character.normalize('NFD')];
    return attaches && parts.length > 1 && parts.every((p) => inRuns(lead.facts.runs, p.codePointAt(0)!));
  };
}

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
  const faces = sound.map((lead) => ({
    faceId: lead.faceId,
    familyId: lead.familyId,
    family: lead.familyName,
    style: lead.style,
    cleared:
      use === null || verdict(use, (licenses.get(lead.faceId) ?? []).map(licenseRecord), lead.facts.embedding, today()).answer === 'yes',
    missing: missingFrom(text, (c) => inRuns(lead.facts.runs, c), composer(lead)).map(({ codePoint, count }) => ({
      character: String.fromCodePoint(codePoint),
      codePoint: `U+${codePoint.toString(16).toUpperCase().padStart(4, '0')}`,
      name: nameOf(codePoint),
      count,
    })),
  }));
  faces.sort((a, b) => a.missing.length - b.missing.length || a.family.localeCompare(b.family, 'en'));
  const wanted = missingFrom(text, () => false).map((m) => m.codePoint);
  const cleared = faces.filter((f) => f.cleared);
  const runsOf = new Map(sound.map((l) => [l.faceId, l.facts.runs]));
  const together = smallestSet(
    wanted,
    cleared.map((f) => ({ id: f.faceId, has: (c: number) => inRuns(runsOf.get(f.faceId)!, c) })),
  );
  const nobody = wanted.filter((c) => !cleared.some((f) => inRuns(runsOf.get(f.faceId)!, c)) && !/^\p{Zs}$/u.test(String.fromCodePoint(c)));
  return { suspicions: suspicions(text), faces, together, nobody: nobody.map((c) => String.fromCodePoint(c)) };
}
