import { findFaces, type LeadRow } from '../faces/index.js';
import { createHash } from 'node:crypto';
import { createRequire } from 'node:module';
import type { Writable } from 'node:stream';
import {
  KIND_WORDS,
  LIMITS,
  limitsOf,
  openLicense,
  sayDay,
  USE_WORDS,
  verdict,
  type Answer,
  type Use,
  type Verdict,
} from '@orderly-glyph/core';
import { In, type DataSource } from 'typeorm';
import yazl from 'yazl';
import { getBlob } from '../../platform/blobs/blobs.js';
import type { Compute } from '../../platform/compute/pool.js';
import { type Report, type ReportPart, writeCsv } from '../../platform/compute/work/document.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { licensesOf } from '../library/index.js';
import { CompanionEntity, type CompanionRow, LicenseEvidence, licenseRecord, type LicenseRow } from '../licenses/index.js';
import { Statement, type StatementRow } from '../places/index.js';

const WORD: Record<Answer, string> = { yes: 'Yes', ask: 'Ask first', no: 'No' };

interface Evidence {
  workspace: string;
  use: Use;
  day: string;
  faces: { lead: LeadRow; verdict: Verdict; files: { name: string; format: string; bytes: number; sha256: string }[] }[];
  licenses: { row: LicenseRow; evidence: CompanionRow[] }[];
  statements: (StatementRow & { place: string })[];
}

async function gather(db: DataSource, workspaceId: string, faceIds: readonly string[], use: Use): Promise<Evidence> {
  const day = await todayOf(db, workspaceId);
  const ids = [...new Set(faceIds)];
  const leads = await findFaces(db, workspaceId, ids);
  const licenses = await licensesOf(db, workspaceId, ids);
  const files = (await db.query(
    'SELECT ff.face_id AS faceId, f.name, f.format, f.bytes, f.sha256 FROM face_file ff JOIN font_file f ON f.id = ff.file_id WHERE ff.workspace_id = ? AND ff.face_id IN (?) AND ff.removed_at IS NULL ORDER BY f.name',
    [workspaceId, ids],
  )) as { faceId: string; name: string; format: string; bytes: number; sha256: string }[];
  const rows = [...new Map([...licenses.values()].flat().map((l) => [l.id, l])).values()];
  const links =
    rows.length > 0 ? await db.getRepository(LicenseEvidence).findBy({ workspaceId, licenseId: In(rows.map((r) => r.id)) }) : [];
  const companions =
    links.length > 0
      ? await db.getRepository(CompanionEntity).findBy({ workspaceId, id: In([...new Set(links.map((l) => l.companionId))]) })
      : [];
  const byId = new Map(companions.map((c) => [c.id, c]));
  const statements = await db.getRepository(Statement).find({ where: { workspaceId, faceId: In(ids) }, order: { at: 'ASC' } });
  const places = (await db.query('SELECT d.id, p.name FROM delivery d JOIN place p ON p.id = d.place_id WHERE d.workspace_id = ?', [
    workspaceId,
  ])) as { id: string; name: string }[];
  const placeOf = new Map(places.map((p) => [p.id, p.name]));
  return {
    workspace: (await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId })).name,
    use,
    day,
    faces: leads.map((lead) => ({
      lead,
      verdict: verdict(use, (licenses.get(lead.faceId) ?? []).map(licenseRecord), lead.facts.embedding, day),
      files: files.filter((f) => f.faceId === lead.faceId),
    })),
    licenses: rows.map((row) => ({
      row,
      evidence: links.filter((l) => l.licenseId === row.id).flatMap((l) => byId.get(l.companionId) ?? []),
    })),
    statements: statements.map((s) => ({ ...s, place: s.deliveryId === null ? 'a handover kit' : (placeOf.get(s.deliveryId) ?? '') })),
  };
}

function licenseParts({ row, evidence }: Evidence['licenses'][number], use: Use): ReportPart[] {
  const open = row.spdxId ? openLicense(row.spdxId) : null;
  const quote = row.quotes?.[use] ?? open?.uses[use].quote ?? null;
  const facts = [
    KIND_WORDS[row.kind],
    row.spdxId && `SPDX ${row.spdxId}`,
    row.grantor && `granted by ${row.grantor}`,
    row.startsOn && `from ${sayDay(row.startsOn)}`,
    row.endsOn && `until ${sayDay(row.endsOn)}`,
    row.boughtOn && `bought on ${sayDay(row.boughtOn)}`,
    row.orderNumber && `order ${row.orderNumber}`,
    row.price !== null && row.currency && `${row.price.toFixed(2)} ${row.currency}`,
    row.billedTo && `billed to ${row.billedTo}`,
    row.source,
    ...limitsOf(use).flatMap((key) =>
      row.limits?.[key] === undefined ? [] : [`up to ${row.limits[key].toLocaleString('en-US')} ${LIMITS[key].unit}`],
    ),
    row.confirmed && row.confirmedBy
      ? `confirmed by ${row.confirmedBy} on ${row.confirmedAt?.toISOString().slice(0, 10) ?? ''}`
      : 'not confirmed',
    `version ${row.version} of the record`,
  ];
  const duties = [...new Set([...(open?.duties ?? []), ...(row.duties ?? [])])];
  return [
    { kind: 'heading', text: row.name },
    { kind: 'text', text: `${facts.filter(Boolean).join('; ')}.` },
    { kind: 'text', text: `${USE_WORDS[use].label}: ${row.uses[use] ? WORD[row.uses[use]] : 'not settled'}.` },
    ...(quote ? [{ kind: 'text' as const, text: `“${quote}”`, quote: true }] : []),
    ...(duties.length > 0 ? [{ kind: 'text' as const, text: `In return: ${duties.join(' ')}` }] : []),
    ...(evidence.length > 0
      ? [
          {
            kind: 'table' as const,
            head: ['Evidence', 'Bytes', 'SHA-256'],
            widths: ['*' as const, 50, 270],
            rows: evidence.map((e) => [e.name.split('/').pop()!, String(e.bytes), e.sha256]),
          },
        ]
      : [{ kind: 'text' as const, text: 'No evidence file is kept with this record.' }]),
  ];
}

function proofReport(e: Evidence): Report {
  const licenseOf = (id: string | null): string => e.licenses.find((l) => l.row.id === id)?.row.name ?? 'none on record';
  return {
    title: `Proof of rights: ${USE_WORDS[e.use].label.toLowerCase()}`,
    about: `${e.workspace}, on ${sayDay(e.day)}. ${e.faces.length} ${e.faces.length === 1 ? 'face' : 'faces'}, ${e.licenses.length} ${e.licenses.length === 1 ? 'license' : 'licenses'}. This is what the workspace has on record; it is no legal advice.`,
    parts: [
      { kind: 'heading', text: 'Faces' },
      {
        kind: 'table',
        head: ['Face', 'Answer', 'License', 'Why'],
        widths: [130, 50, 130, '*'],
        rows: e.faces.map((f) => [
          `${f.lead.familyName} ${f.lead.style}`,
          WORD[f.verdict.answer],
          licenseOf(f.verdict.licenseId),
          f.verdict.reasons[0] ?? '',
        ]),
      },
      ...e.licenses.flatMap((l) => licenseParts(l, e.use)),
      { kind: 'heading', text: 'Statements' },
      ...(e.statements.length === 0
        ? [{ kind: 'text' as const, text: 'No statement was made for these faces.' }]
        : e.statements.flatMap((s): ReportPart[] => [
            { kind: 'text', text: `“${s.words}”`, quote: true },
            {
              kind: 'text',
              small: true,
              text: `${s.person}, ${s.at.toISOString()}, ${s.place}. The answer was ${WORD[s.answer]}${s.licenseName ? `, under “${s.licenseName}”, version ${s.licenseVersion ?? '?'}` : ''}.${s.overridden ? ' An owner went ahead although the answer was No.' : ''}${s.note ? ` Reason: ${s.note}` : ''}`,
            },
          ])),
      { kind: 'heading', text: 'Files' },
      {
        kind: 'table',
        head: ['Face', 'File', 'SHA-256'],
        widths: [110, '*', 270],
        rows: e.faces.flatMap((f) => f.files.map((x) => [`${f.lead.familyName} ${f.lead.style}`, x.name.split('/').pop()!, x.sha256])),
      },
    ],
  };
}

/** @throws HttpProblem 404 when a face is not in the workspace */
export async function rightsPdf(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceIds: readonly string[],
  use: Use,
): Promise<Uint8Array> {
  return compute.run('writePdf', [proofReport(await gather(db, workspaceId, faceIds, use))], true);
}

const safe = (name: string): string =>
  [...name.replace(/[^\p{L}\p{N} ._()-]+/gu, '-').replace(/^[. ]+|[. ]+$/g, '')].slice(0, 80).join('') || 'unnamed';

/**
 * The same as a ZIP: the PDF, the texts and receipts of each license, the statements, the faces with their hashes, and a
 * SHA256SUMS that `sha256sum -c` reads.
 * @throws HttpProblem 404 when a face is not in the workspace
 */
export async function rightsZip(
  db: DataSource,
  compute: Compute,
  workspaceId: string,
  faceIds: readonly string[],
  use: Use,
  out: Writable,
): Promise<void> {
  const e = await gather(db, workspaceId, faceIds, use);
  const files = new Map<string, Uint8Array>();
  const put = (path: string, bytes: Uint8Array): void => {
    // Two files of one name both stay.
    const dot = path.lastIndexOf('.');
    let free = path;
    for (let n = 2; files.has(free); n++)
      free = dot > path.lastIndexOf('/') ? `${path.slice(0, dot)} ${n}${path.slice(dot)}` : `${path} ${n}`;
    files.set(free, bytes);
  };
  const text = (value: string): Uint8Array => new TextEncoder().encode(value);
  put('proof-of-rights.pdf', await compute.run('writePdf', [proofReport(e)], true));
  put(
    'faces.csv',
    text(
      await writeCsv(
        ['Family', 'Style', 'Version', 'File', 'Bytes', 'SHA-256', 'Answer', 'License', 'Why'],
        e.faces.flatMap((f) =>
          f.files.map((x) => [
            f.lead.familyName,
            f.lead.style,
            f.lead.facts.version ?? '',
            x.name.split('/').pop()!,
            String(x.bytes),
            x.sha256,
            WORD[f.verdict.answer],
            e.licenses.find((l) => l.row.id === f.verdict.licenseId)?.row.name ?? '',
            f.verdict.reasons[0] ?? '',
          ]),
        ),
      ),
    ),
  );
  if (e.statements.length > 0)
    put(
      'statements.json',
      text(
        `${JSON.stringify(
          e.statements.map(({ words, person, at, place, answer, reasons, note, overridden, licenseName, licenseVersion, faceId }) => ({
            face: e.faces.find((f) => f.lead.faceId === faceId)!.lead.familyName,
            words,
            person,
            at: at.toISOString(),
            place,
            answer,
            reasons,
            note,
            overridden: Boolean(overridden),
            license: licenseName,
            licenseVersion,
          })),
          null,
          2,
        )}\n`,
      ),
    );
  const known = createRequire(import.meta.url)('spdx-license-list/full') as Record<string, { licenseText?: string }>;
  for (const { row, evidence } of e.licenses) {
    const folder = `licenses/${safe(row.name)}`;
    for (const c of evidence) put(`${folder}/${safe(c.name.split('/').pop()!)}`, await getBlob(db.manager, workspaceId, c.sha256));
    const standard = row.spdxId ? known[row.spdxId.replace(/ WITH .*/, '')]?.licenseText : undefined;
    // A known license whose text did not come along is shown as the SPDX License List has it.
    if (standard && !evidence.some((c) => c.recognition)) put(`${folder}/${row.spdxId} (SPDX License List).txt`, text(standard));
  }
  put('SHA256SUMS', text([...files].map(([path, bytes]) => `${createHash('sha256').update(bytes).digest('hex')}  ${path}\n`).join('')));
  const zip = new yazl.ZipFile();
  zip.outputStream.pipe(out);
  for (const [path, bytes] of files) zip.addBuffer(Buffer.from(bytes), path, { compress: !path.endsWith('.pdf') });
  zip.end();
  await new Promise<void>((resolve, reject) => {
    out.once('finish', resolve);
    out.once('close', resolve);
    zip.outputStream.once('error', reject);
  });
}
