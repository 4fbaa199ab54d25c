import { sayDay, USE_WORDS, verdict, type Answer, type LicenseRecord, type Use } from '@orderly-glyph/core';
import type { Audit, AuditRow } from '@orderly-glyph/schema';
import type { DataSource } from 'typeorm';
import type { Compute } from '../../platform/compute/pool.js';
import { type Report, writeCsv } from '../../platform/compute/work/document.js';
import { todayOf, Workspace } from '../accounts/index.js';
import { faceLines, licensesOf } from '../library/index.js';
import { licenseRecord } from '../licenses/index.js';
import { connectorOf, PlaceEntity, profileOf } from '../places/index.js';

interface InstallFound {
  faceId: string;
  placeId: string;
  remoteName: string;
  installedAt: Date;
  installedBy: string;
}

/** How pressing a row is: used without a right, soon without one, then the rest. */
const weight = (row: AuditRow): number => {
  const by: Record<Answer, number> = { no: 0, ask: 1, yes: 2 };
  return (row.place === null ? 100 : 0) + by[row.today] * 10 + by[row.onDay];
};

/**
 * Every face and every place it is at, with the answer today and on a chosen day. A face that is nowhere installed has
 * one row for work on one's own computers, since that is where it lies.
 */
export async function makeAudit(db: DataSource, workspaceId: string, asked: string | undefined): Promise<Audit> {
  const now = await todayOf(db, workspaceId);
  const day = asked ?? now;
  const workspace = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  // A face behind another may still be somewhere.
  const faces = await faceLines(db, workspaceId, { folded: true });
  const licenses = await licensesOf(db, workspaceId, null);
  const places = new Map((await db.getRepository(PlaceEntity).findBy({ workspaceId })).map((p) => [p.id, p]));
  const installs = (await db.query(
    `SELECT i.face_id AS faceId, i.place_id AS placeId, i.remote_name AS remoteName, i.installed_at AS installedAt, i.installed_by AS installedBy
     FROM install i JOIN place p ON p.id = i.place_id WHERE i.workspace_id = ? AND i.removed_at IS NULL ORDER BY i.installed_at`,
    [workspaceId],
  )) as InstallFound[];
  const overrides = (await db.query(
    'SELECT s.face_id AS faceId, d.place_id AS placeId, s.person, s.at, s.note FROM statement s JOIN delivery d ON d.id = s.delivery_id WHERE s.workspace_id = ? AND s.overridden = 1 ORDER BY s.at',
    [workspaceId],
  )) as { faceId: string; placeId: string; person: string; at: Date; note: string }[];
  const at = new Map<string, InstallFound[]>();
  for (const i of installs) at.set(i.faceId, [...(at.get(i.faceId) ?? []), i]);
  const named = new Map<string, number>();
  for (const f of faces) named.set(`${f.familyName} ${f.style}`, (named.get(`${f.familyName} ${f.style}`) ?? 0) + 1);
  /** A face that stands twice is told apart by its version and file. */
  const nameOf = (f: (typeof faces)[number]): string => {
    const name = `${f.familyName} ${f.style}`;
    return named.get(name) === 1 ? name : `${name} (${f.line.version ?? 'no version'}, ${f.fileName})`;
  };
  const rows = faces.flatMap((face): AuditRow[] => {
    const own = licenses.get(face.faceId) ?? [];
    const records: LicenseRecord[] = own.map(licenseRecord);
    const row = (use: Use, install: InstallFound | null): AuditRow => {
      const place = install ? places.get(install.placeId)! : null;
      const v = verdict(use, records, face.line.embedding, now);
      const then = day === now ? v : verdict(use, records, face.line.embedding, day);
      const license = own.find((l) => l.id === v.licenseId);
      return {
        faceId: face.faceId,
        family: face.familyName,
        face: nameOf(face),
        use,
        place: place?.name ?? null,
        address: install && place ? (place.byHand ? null : connectorOf(profileOf(place)).where(place, install.remoteName)) : null,
        since: install?.installedAt.toISOString() ?? null,
        by: install?.installedBy ?? null,
        today: v.answer,
        onDay: then.answer,
        problem: install !== null && (v.answer !== 'yes' || then.answer !== 'yes'),
        reason: v.reasons[0] ?? '',
        reasonOnDay: then.reasons[0] ?? '',
        license: license?.name ?? null,
        endsOn: license?.endsOn ?? null,
        duties: v.duties,
        remedy: v.remedy ?? then.remedy,
        overrides: overrides
          .filter((o) => o.faceId === face.faceId && o.placeId === install?.placeId)
          .map((o) => ({ person: o.person, at: o.at.toISOString(), note: o.note })),
      };
    };
    const here = at.get(face.faceId) ?? [];
    return here.length > 0 ? here.map((i) => row(profileOf(places.get(i.placeId)!).use, i)) : [row('design-work', null)];
  });
  rows.sort((a, b) => weight(a) - weight(b) || a.face.localeCompare(b.face, 'en'));
  return {
    workspace: workspace.name,
    madeAt: new Date().toISOString(),
    today: now,
    day,
    problems: rows.filter((r) => r.problem).length,
    rows,
  };
}

const WORD: Record<Answer, string> = { yes: 'Yes', ask: 'Ask first', no: 'No' };
const HEAD = [
  'Face',
  'Use',
  'Place',
  'Address',
  'Since',
  'By',
  'Today',
  'On the day',
  'Reason',
  'Reason on the day',
  'License',
  'Until',
  'In return',
  'What would mend it',
  'Went ahead without a right',
];

const cells = (row: AuditRow): string[] => [
  row.face,
  USE_WORDS[row.use].label,
  row.place ?? '',
  row.address ?? '',
  row.since?.slice(0, 10) ?? '',
  row.by ?? '',
  WORD[row.today],
  WORD[row.onDay],
  row.reason,
  row.reasonOnDay,
  row.license ?? '',
  row.endsOn ?? '',
  row.duties.join(' '),
  row.remedy ?? '',
  row.overrides.map((o) => `${o.person}, ${o.at.slice(0, 10)}: ${o.note}`).join(' / '),
];

export async function auditFile(compute: Compute, audit: Audit, as: 'pdf' | 'csv' | 'json'): Promise<Uint8Array> {
  const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
  if (as === 'json') return bytes(`${JSON.stringify(audit, null, 2)}\n`);
  if (as === 'csv') return bytes(await writeCsv(HEAD, audit.rows.map(cells)));
  return compute.run('writePdf', [auditReport(audit)], true);
}

function auditReport(audit: Audit): Report {
  const another = audit.day !== audit.today;
  const problems = audit.rows.filter((r) => r.problem);
  const table = (rows: readonly AuditRow[]): Report['parts'][number] => ({
    kind: 'table',
    head: ['Face', 'Use and place', 'Today', ...(another ? [audit.day] : []), 'Why'],
    widths: [110, 110, 46, ...(another ? [52] : []), '*'],
    rows: rows.map((r) => [
      r.face,
      [USE_WORDS[r.use].label, r.place ?? 'nowhere installed', r.since ? `since ${r.since.slice(0, 10)}` : ''].filter(Boolean).join(', '),
      WORD[r.today],
      ...(another ? [WORD[r.onDay]] : []),
      [
        r.reason,
        another && r.reasonOnDay !== r.reason ? `On ${sayDay(audit.day)}: ${r.reasonOnDay}` : '',
        r.today !== 'yes' || r.onDay !== 'yes' ? (r.remedy ?? '') : '',
        ...r.overrides.map((o) => `${o.person} went ahead on ${o.at.slice(0, 10)}: “${o.note}”`),
      ]
        .filter(Boolean)
        .join(' '),
    ]),
  });
  const rest = audit.rows.filter((r) => !r.problem);
  return {
    title: 'Audit of rights',
    about: `${audit.workspace}. Made on ${sayDay(audit.today)}${another ? `, looking at ${sayDay(audit.day)}` : ''}. ${audit.rows.length} entries, ${audit.problems} ${audit.problems === 1 ? 'problem' : 'problems'}.`,
    parts: [
      { kind: 'heading', text: 'Used without a settled right' },
      problems.length > 0 ? table(problems) : { kind: 'text', text: 'Nothing is in use anywhere without a right.' },
      { kind: 'heading', text: 'In use, with a right' },
      ...(rest.some((r) => r.place !== null)
        ? [table(rest.filter((r) => r.place !== null))]
        : [{ kind: 'text' as const, text: 'Nothing is installed anywhere else.' }]),
      { kind: 'heading', text: 'Not installed anywhere' },
      ...(rest.some((r) => r.place === null) ? [table(rest.filter((r) => r.place === null))] : [{ kind: 'text' as const, text: 'None.' }]),
    ],
  };
}
