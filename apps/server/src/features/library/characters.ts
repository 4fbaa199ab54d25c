import { findFaces, type LeadRow } from '../faces/index.js';
import { blockOf, inRuns } from '@orderly-glyph/core';
import { characterNames } from '@orderly-glyph/node';
import type { Characters, GlyphDetail } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { notFound } from '../../platform/http/problem.js';

function* codePointsOf(runs: readonly number[]): Generator<number> {
  for (let i = 0; i < runs.length; i += 2) for (let c = runs[i]!; c <= runs[i + 1]!; c++) yield c;
}

/** Whether a search fits: a character itself, U+XXXX or its hexadecimal, or words of its name in any order. */
function fitter(q: string, nameOf: (codePoint: number) => string): (codePoint: number) => boolean {
  const query = q.trim();
  if (query === '') return () => true;
  const single = [...query.normalize('NFC')];
  const hex = /^(?:U\+|0x)?([0-9a-f]{2,6})$/i.exec(query)?.[1];
  const words = query.toUpperCase().split(/\s+/);
  return (c) =>
    (single.length === 1 && single[0]!.codePointAt(0) === c) ||
    (hex !== undefined && parseInt(hex, 16) === c) ||
    (query.length > 1 && words.every((w) => nameOf(c).includes(w)));
}

export async function listCharacters(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceId: string,
  q: string,
): Promise<Characters> {
  const [lead] = (await findFaces(db, workspaceId, [faceId])) as [LeadRow];
  const fits = fitter(q, await characterNames());
  const groups = new Map<string, number[]>();
  let total = 0;
  for (const c of codePointsOf(lead.facts.runs)) {
    if (!fits(c)) continue;
    const block = blockOf(c) ?? 'Outside every block';
    const list = groups.get(block);
    if (list) list.push(c);
    else groups.set(block, [c]);
    total++;
  }
  // A search is for characters; the glyphs behind features are listed with the whole.
  const repertoire =
    q.trim() === ''
      ? await compute.run('repertoire', [await getBlob(db.manager, workspaceId, lead.sha256), lead.faceIndex], true)
      : { variants: [], unreached: 0 };
  return { groups: [...groups].map(([name, codePoints]) => ({ name, codePoints })), ...repertoire, total };
}

export async function getGlyph(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceId: string,
  which: { codePoint?: number | undefined; glyph?: number | undefined },
): Promise<GlyphDetail> {
  const [lead] = (await findFaces(db, workspaceId, [faceId])) as [LeadRow];
  if (which.codePoint !== undefined && !inRuns(lead.facts.runs, which.codePoint)) throw notFound('This character');
  const { facts } = lead;
  const wanted = which.codePoint === undefined ? { glyph: which.glyph ?? 0 } : { codePoint: which.codePoint };
  const bytes = await getBlob(db.manager, workspaceId, lead.sha256);
  const drawn = await compute.run('glyph', [bytes, lead.faceIndex, wanted], true);
  const relations = await compute.run('relations', [bytes, lead.faceIndex, drawn.glyph, which.codePoint ?? null], true);
  const nameOf = await characterNames();
  return {
    codePoint: which.codePoint ?? null,
    name: which.codePoint === undefined ? null : nameOf(which.codePoint),
    block: which.codePoint === undefined ? null : blockOf(which.codePoint),
    unitsPerEm: facts.unitsPerEm,
    ascender: facts.ascender,
    descender: facts.descender,
    xHeight: facts.xHeight,
    capHeight: facts.capHeight,
    ...drawn,
    ...relations,
  };
}
