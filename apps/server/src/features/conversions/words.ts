import { fileBase, verdict, type Verdict } from '@orderly-glyph/core';
import { wordsWish, type DrawnWords, type WordsWish } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { conflict, invalid } from '../../platform/http/problem.js';
import { todayOf } from '../accounts/index.js';
import { findFaces, type LeadRow } from '../faces/index.js';
import { licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';

/** Words out of an address. @throws HttpProblem when they are none */
export function readWords(text: string): WordsWish {
  try {
    return wordsWish.parse(JSON.parse(text));
  } catch {
    throw invalid('What is wanted of the words cannot be read from this address.', 'wish');
  }
}

async function judged(
  db: DataSource,
  workspaceId: string,
  faceId: string,
  { purpose }: WordsWish,
): Promise<{ lead: LeadRow; verdict: Verdict; today: string }> {
  const [lead] = await findFaces(db, workspaceId, [faceId]);
  const records = ((await licensesOf(db, workspaceId, [faceId])).get(faceId) ?? []).map(licenseRecord);
  const today = await todayOf(db, workspaceId);
  return { lead: lead!, verdict: verdict(purpose, records, lead!.facts.embedding, today), today };
}

/** Where the shapes come from, and who said that they may be taken where the license does not; told within them. */
const aboutOf = (lead: LeadRow, today: string, settledBy: string | null): string =>
  `Outlines of words set in ${lead.familyName} ${lead.style}${lead.facts.version ? `, ${lead.facts.version}` : ''}, drawn on ${today}. Source file SHA-256 ${lead.sha256}.${settledBy === null ? '' : ` ${settledBy} stated that its maker allows it.`}`;

type As = 'svg' | 'pdf' | 'png';
async function draw(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  { lead, today, settledBy }: { lead: LeadRow; today: string; settledBy: string | null },
  wish: WordsWish,
  as: As,
  columns: number,
): Promise<{ bytes: Uint8Array; width: number; height: number; notes: string[] }> {
  const bytes = await getBlob(db.manager, workspaceId, lead.sha256);
  const { color, purpose: _p, settled: _s, ...words } = wish;
  return compute.run('drawWords', [bytes, lead.faceIndex, words, color, aboutOf(lead, today, settledBy), as, columns], true);
}

/**
 * Words as they would be drawn, with the answer of the license; looking is always allowed.
 * @throws ComputeError when the face cannot set them
 */
export async function drawWords(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceId: string,
  wish: WordsWish,
): Promise<DrawnWords> {
  const about = await judged(db, workspaceId, faceId, wish);
  const { bytes, width, height, notes } = await draw(db, compute, workspaceId, { ...about, settledBy: null }, wish, 'svg', 0);
  return { svg: new TextDecoder().decode(bytes), width, height, unit: wish.unit, notes, verdict: about.verdict };
}

/**
 * Words to be taken away.
 * @throws HttpProblem when the license does not allow what they are for; ComputeError when the face cannot set them
 */
export async function takeWords(
  db: DataSource,
  compute: Compute,
  { workspaceId, name }: { workspaceId: string; name: string },
  faceId: string,
  wish: WordsWish,
  as: As,
  columns: number,
): Promise<{ fileName: string; bytes: Uint8Array }> {
  const about = await judged(db, workspaceId, faceId, wish);
  const { answer, reasons, remedy } = about.verdict;
  if (answer === 'no' || (answer === 'ask' && !wish.settled))
    throw conflict(`These words are not given out. ${reasons[0] ?? ''} ${remedy ?? ''}`.trim());
  const { bytes } = await draw(db, compute, workspaceId, { ...about, settledBy: answer === 'yes' ? null : name }, wish, as, columns);
  const said = wish.text.trim().split(/\s+/).slice(0, 4).join(' ');
  return { fileName: `${fileBase(said, about.lead.familyName)}.${as}`, bytes };
}
