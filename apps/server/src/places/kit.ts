import { once } from 'node:events';
import type { Writable } from 'node:stream';
import { fileBase, kitTexts, openLicense, type KitFace } from '@orderly-glyph/core';
import type { DataSource } from 'typeorm';
import yazl from 'yazl';
import type { Compute } from '../compute/pool.js';
import { getBlob } from '../db/blobs.js';
import { companionsOf, findFaces, licensesOf } from '../library/library.js';
import { render } from './renditions.js';

const SAMPLE = 'Hamburgefonstiv 0123456789';

/** Writes a handover kit for a website as a ZIP: fonts, style sheet, example page, terms and how-to. */
export async function writeKit(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceIds: readonly string[],
  sample: string | null,
  out: Writable,
): Promise<void> {
  const leads = await findFaces(db, workspaceId, faceIds);
  const licenses = await licensesOf(db, workspaceId, faceIds);
  const companions = await companionsOf(db, workspaceId, faceIds);
  const zip = new yazl.ZipFile();
  const options = { mtime: new Date() };
  const faces: KitFace[] = [];
  const used = new Set<string>();
  for (const lead of leads) {
    let base = fileBase(lead.familyName, lead.style);
    for (let n = 2; used.has(base); n++) base = `${fileBase(lead.familyName, lead.style)}-${n}`;
    used.add(base);
    const sizes = { woff2: 0, woff: 0 };
    for (const format of ['woff2', 'woff'] as const) {
      const rendered = await render(db, compute, workspaceId, lead, format, true);
      zip.addBuffer(Buffer.from(await getBlob(db.manager, workspaceId, rendered.sha256)), `fonts/${base}.${format}`, {
        ...options,
        compress: false,
      });
      sizes[format] = rendered.bytes;
    }
    const weight = lead.facts.axes.find((a) => a.tag === 'wght');
    faces.push({
      family: lead.familyName,
      style: lead.style,
      weightClass: lead.weightClass,
      weightRange: weight ? [weight.min, weight.max] : null,
      italic: Boolean(lead.italic),
      fileBase: base,
      sizes,
      licenseName: licenses.get(lead.faceId)?.[0]?.name ?? null,
    });
  }
  for (const text of kitTexts(faces, sample ?? SAMPLE)) zip.addBuffer(Buffer.from(text.content, 'utf8'), text.path, options);
  await addTerms(
    zip,
    db,
    workspaceId,
    leads.map((l) => ({ id: l.faceId, family: l.familyName })),
    licenses,
    companions,
    options,
  );
  zip.end();
  zip.outputStream.pipe(out);
  await once(zip.outputStream, 'end');
}

async function addTerms(
  zip: yazl.ZipFile,
  db: DataSource,
  workspaceId: string,
  faces: { id: string; family: string }[],
  licenses: Awaited<ReturnType<typeof licensesOf>>,
  companions: Awaited<ReturnType<typeof companionsOf>>,
  options: { mtime: Date },
): Promise<void> {
  const written = new Set<string>();
  for (const family of new Set(faces.map((f) => f.family))) {
    const folder = `license/${fileBase(family, '').replace(/-Regular$/, '')}`;
    const own = faces.filter((f) => f.family === family);
    const record = own.flatMap((f) => licenses.get(f.id) ?? [])[0];
    for (const { row } of own.flatMap((f) => companions.get(f.id) ?? [])) {
      if (row.kind !== 'terms') continue;
      const path = `${folder}/${row.name
        .split('/')
        .pop()!
        .replace(/[^\w. -]/g, '_')}`;
      if (written.has(path)) continue;
      written.add(path);
      zip.addBuffer(Buffer.from(await getBlob(db.manager, workspaceId, row.sha256)), path, options);
    }
    const open = record?.spdxId ? openLicense(record.spdxId) : null;
    const lines = [
      `${family}`,
      record
        ? `License on record: ${record.name}${record.confirmed ? '' : ' (not confirmed yet)'}`
        : 'No license is on record. Ask before you use it.',
      ...(record?.startsOn ? [`From ${record.startsOn}`] : []),
      ...(record?.endsOn ? [`Until ${record.endsOn}; take the files off the site by then.`] : []),
      ...[...new Set([...(open?.duties ?? []), ...(record?.duties ?? [])])].map((d) => `- ${d}`),
      ...(record?.note ? ['', record.note] : []),
    ];
    zip.addBuffer(Buffer.from(`${lines.join('\n')}\n`, 'utf8'), `${folder}/ABOUT-THE-LICENSE.txt`, options);
  }
}
