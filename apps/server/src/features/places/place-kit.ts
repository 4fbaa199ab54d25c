import { once } from 'node:events';
import type { Writable } from 'node:stream';
import { fileBase, FORMAT_INFO, plainLine } from '@orderly-glyph/core';
import { characterNames } from '@orderly-glyph/node';
import yazl from 'yazl';
import { getBlob } from '../../platform/blobs/blobs.js';
import { conflict } from '../../platform/http/problem.js';
import { findFaces } from '../faces/index.js';
import { licensesOf, ReadyTextEntity } from '../library/index.js';
import { SHEET_NAME, sheetOf, type SheetFace } from './connectors/index.js';
import { foresee, type Foresight } from './foresee.js';
import { addTerms } from './kit.js';
import { chooseSending, filesOf, profileOf } from './places.js';
import type { PlaceRow } from './rows.js';

/** More special characters than these nobody looks through. */
const MOST_SPECIAL = 400;

/**
 * Writes what a person takes along to a place that nothing speaks to: files in the form that the place takes, a style sheet for
 * pages, a how-to of its kind, the terms, and the characters that a program without a table of them takes by paste.
 * @throws HttpProblem 409 when a face does not go there
 */
export async function writePlaceKit(
  deps: Foresight,
  workspaceId: string,
  place: PlaceRow,
  faceIds: readonly string[],
  open: () => Writable,
): Promise<void> {
  const { db, compute } = deps;
  const profile = profileOf(place);
  const { cells } = await foresee(deps, workspaceId, [place], faceIds, {
    remedies: () => [],
    role: () => null,
    mendAll: true,
    prepare: true,
  });
  const stuck = cells.find((c) => c.stop !== null);
  if (stuck) throw conflict(`${stuck.face} cannot go to ${place.name}: ${stuck.stop!}`);
  const leads = await findFaces(db, workspaceId, faceIds);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const texts = await db.getRepository(ReadyTextEntity).find({ where: { workspaceId }, order: { position: 'ASC' } });
  const nameOf = await characterNames();
  const zip = new yazl.ZipFile();
  const options = { mtime: new Date() };
  const rules: SheetFace[] = [];
  const used = new Set<string>();
  for (const [i, lead] of leads.entries()) {
    const sending = (await chooseSending(db, compute, workspaceId, lead, await filesOf(db, workspaceId, lead), profile, cells[i]!.recipe))!;
    let base = fileBase(lead.familyName, lead.style);
    for (let n = 2; used.has(base); n++) base = `${fileBase(lead.familyName, lead.style)}-${n}`;
    used.add(base);
    const name = `${base}.${FORMAT_INFO[sending.format].extension}`;
    zip.addBuffer(Buffer.from(await getBlob(db.manager, workspaceId, sending.sha256)), `fonts/${name}`, options);
    const wght = lead.facts.axes.find((a) => a.tag === 'wght');
    rules.push({
      family: lead.familyName,
      italic: Boolean(lead.italic),
      weight: wght ? `${wght.min} ${wght.max}` : String(lead.weightClass),
      format: sending.format,
      name,
      role: null,
    });
  }
  const page = profile.use === 'website' || profile.use === 'online-store';
  if (page) zip.addBuffer(Buffer.from(sheetOf(rules)), SHEET_NAME, options);
  const steps = profile.howTo.map((line, i) => `${i + 1}. ${line}`);
  zip.addBuffer(
    Buffer.from(`${plainLine(place.name)}\n\n${steps.join('\n')}\n\n${cells.map((c) => plainLine(c.statement)).join('\n')}\n`),
    'HOW-TO.txt',
    options,
  );
  // What keyboards lack and the texts of the workspace use.
  const points = [...new Set([...texts.map((t) => t.text).join('')].map((c) => c.codePointAt(0)!))]
    .filter((c) => c > 0x7e && leads.some((l) => has(l.facts.runs, c)))
    .sort((a, b) => a - b)
    .slice(0, MOST_SPECIAL);
  const list = points.map((c) => `${String.fromCodePoint(c)}\tU+${c.toString(16).toUpperCase().padStart(4, '0')}\t${nameOf(c)}`);
  zip.addBuffer(
    Buffer.from(`Characters to copy from here where a program has no table of them\n\n${list.join('\n')}\n`),
    'special-characters.txt',
    options,
  );
  await addTerms(
    zip,
    db,
    workspaceId,
    leads.map((lead, i) => ({
      lead,
      license: (licenses.get(lead.faceId) ?? []).find((l) => l.id === cells[i]!.verdict.licenseId) ?? null,
    })),
    options,
  );
  const out = open();
  zip.end();
  zip.outputStream.pipe(out);
  await once(zip.outputStream, 'end');
}

function has(runs: readonly number[], c: number): boolean {
  for (let i = 0; i < runs.length; i += 2) if (c >= runs[i]! && c <= runs[i + 1]!) return true;
  return false;
}
