import { findFaces } from '../faces/index.js';
import type { DeskItem } from '@orderly-glyph/schema';
import { ATTENTION, LIMIT_KEYS, LIMITS, sayDay, USE_WORDS } from '@orderly-glyph/core';
import { IsNull, type DataSource } from 'typeorm';
import { dayIn, todayOf } from '../accounts/index.js';
import { describeIntakes, IntakeEntity } from '../intake/index.js';
import { LicenseEntity, suggestionsFor } from '../licenses/index.js';
import { companionsOf } from './library.js';
import type { Snapshots } from './snapshot.js';

const list = (names: readonly string[]): string =>
  names.length <= 3 ? names.join(', ') : `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`;

/** What only an editor can act on; the rest can be looked into by anyone. */
const NEEDS_EDITING: ReadonlySet<DeskItem['kind']> = new Set([
  'bundle-waiting',
  'unconfirmed',
  'suggested-license',
  'unknown-license',
  'ready',
  'begin',
]);

/** What needs attention, most pressing first, each with its next step. */
export async function describeDesk(db: DataSource, snapshots: Snapshots, workspaceId: string, canEdit: boolean): Promise<DeskItem[]> {
  const out: DeskItem[] = [];
  const { families } = (await snapshots.get(workspaceId)).library;
  const intakes = await describeIntakes(
    db,
    workspaceId,
    await db.getRepository(IntakeEntity).find({ where: { workspaceId }, order: { createdAt: 'DESC' }, take: 20 }),
  );

  // Rights come first: what is somewhere without one, then what ends, then what is used up.
  const trespass = families.filter((f) => f.withoutRight);
  for (const f of trespass.slice(0, 3))
    out.push({
      kind: 'no-right',
      message: `${f.name} is on ${list(f.places)} without a settled right`,
      detail:
        f.licenseName === null
          ? 'Nothing is on record about what it may be used for. Record its license, or take it off.'
          : `“${f.licenseName}” does not say yes to this use today. Extend it, ask, or take the face off.`,
      action: 'See why',
      to: `/licenses/uses?show=no-right&face=${f.leadFaceId}&use=website`,
    });
  if (trespass.length > 3)
    out.push({
      kind: 'no-right',
      message: `${trespass.length - 3} more families are somewhere without a settled right`,
      detail: 'The audit lists each with its place and what would mend it.',
      action: 'Open the audit',
      to: '/licenses/audit',
    });

  const today = await todayOf(db, workspaceId);
  const soon = dayIn('UTC', new Date(Date.parse(today) + 30 * 86_400_000));
  const ending = (await db.query(
    'SELECT id, name, ends_on AS endsOn FROM license WHERE workspace_id = ? AND removed_at IS NULL AND ends_on IS NOT NULL AND (ends_on <= ? OR notice_on <= ?) ORDER BY ends_on',
    [workspaceId, soon, today],
  )) as { id: string; name: string; endsOn: string }[];
  // One that ended and whose faces are still in use was said above.
  const said = new Set(trespass.map((f) => f.licenseName));
  for (const license of ending.filter((l) => l.endsOn >= today || !said.has(l.name)))
    out.push({
      kind: 'ending',
      message:
        license.endsOn < today
          ? `“${license.name}” ended on ${sayDay(license.endsOn)}`
          : `“${license.name}” ends on ${sayDay(license.endsOn)}`,
      detail: 'See which faces it covers and where they are installed before then.',
      action: 'Open the license',
      to: `/licenses/${license.id}`,
    });

  const limited = (await db.getRepository(LicenseEntity).findBy({ workspaceId, removedAt: IsNull() })).flatMap((license) => {
    const counted = LIMIT_KEYS.flatMap((key) => {
      const limit = license.limits?.[key];
      const used = license.counters?.[key];
      return limit !== undefined && used !== undefined && used >= limit * ATTENTION
        ? [{ ...LIMITS[key], limit, used, share: used / limit }]
        : [];
    });
    return counted.length > 0 ? [{ license, counted: counted.sort((a, b) => b.share - a.share) }] : [];
  });
  for (const { license, counted } of limited.sort((a, b) => b.counted[0]!.share - a.counted[0]!.share)) {
    const { share } = counted[0]!;
    const over = counted.filter((c) => c.used > c.limit);
    const amount = ({ used, limit, unit, use }: (typeof counted)[number]): string =>
      `${USE_WORDS[use].label}: ${used.toLocaleString('en-US')} of ${limit.toLocaleString('en-US')} ${unit}.`;
    out.push({
      kind: 'limit',
      message: `“${license.name}” is ${share > 1 ? 'used beyond its limit' : share === 1 ? 'used up to its limit' : 'nearly used up'}`,
      detail: `${counted.map(amount).join(' ')}${over.length > 0 ? ' Until it is extended, the answer there is “No”.' : ''}`,
      action: 'Open the license',
      to: `/licenses/${license.id}`,
    });
  }

  const answered = (await db.query(
    'SELECT id, title, news FROM inquiry WHERE workspace_id = ? AND removed_at IS NULL AND is_open AND news IS NOT NULL ORDER BY changed_at DESC LIMIT 5',
    [workspaceId],
  )) as { id: string; title: string; news: string }[];
  for (const { id, title, news } of answered) {
    const { family } = JSON.parse(news) as { family: string };
    out.push({
      kind: 'inquiry',
      message: `${family} may be the face of “${title}”`,
      detail: 'It came in after the picture was looked for, and fits better than anything before.',
      action: 'Look again',
      to: `/foundry/pictures/${id}`,
    });
  }

  for (const intake of intakes.filter((i) => i.state === 'waiting' && i.uploads.length > 0))
    out.push({
      kind: 'bundle-waiting',
      message: `A bundle is waiting: ${intake.uploads[0]!.name}${intake.uploads.length > 1 ? ` and ${intake.uploads.length - 1} more` : ''}`,
      detail: 'It was sent and has not been sorted yet.',
      action: 'Look at it',
      to: `/intake/${intake.id}`,
    });
  for (const intake of intakes.filter((i) => i.state === 'running' || i.state === 'queued'))
    out.push({
      kind: 'intake-running',
      message: `“${intake.label}” is being sorted`,
      detail: 'You can leave it; it goes on by itself.',
      action: 'Watch it',
      to: `/intake/${intake.id}`,
    });

  const unsound = families.filter((f) => f.faces.some((face) => face.blocked));
  if (unsound.length > 0)
    out.push({
      kind: 'not-sound',
      message: `${list(unsound.map((f) => f.name))} ${unsound.length === 1 ? 'has a face' : 'have faces'} that programs will refuse`,
      detail: unsound[0]!.faces.find((f) => f.blocked)!.blocked!,
      action: 'See what is wrong',
      to: `/library?face=${unsound[0]!.faces.find((f) => f.blocked)!.id}`,
    });

  // A license that nobody has confirmed says yes to nothing, though its faces have one on record.
  const unconfirmed = await db
    .getRepository(LicenseEntity)
    .find({ where: { workspaceId, removedAt: IsNull(), confirmed: false }, order: { name: 'ASC' } });
  if (unconfirmed.length > 0)
    out.push({
      kind: 'unconfirmed',
      message: `${unconfirmed.length === 1 ? 'A license waits' : `${unconfirmed.length} licenses wait`} to be confirmed: ${list(unconfirmed.map((l) => `“${l.name}”`))}`,
      detail: 'Until somebody has looked at it, every use of its fonts says “Ask first”.',
      action: 'Look and confirm',
      to: `/licenses/${unconfirmed[0]!.id}`,
    });

  const unlicensed = families.filter((f) => f.licenseName === null);
  if (unlicensed.length > 0) {
    const ids = unlicensed.map((f) => f.leadFaceId);
    const companions = await companionsOf(db, workspaceId, ids);
    const leads = await findFaces(db, workspaceId, ids);
    const suggested = leads.filter((lead) =>
      suggestionsFor(
        (companions.get(lead.faceId) ?? []).filter((c) => c.belongs).map((c) => c.row),
        lead.facts,
      ).some((s) => Object.keys(s.answers).length > 0),
    );
    const told = leads.filter((lead) => !suggested.includes(lead) && (companions.get(lead.faceId) ?? []).some((c) => c.belongs !== null));
    const unknown = leads.filter((lead) => !suggested.includes(lead) && !told.includes(lead));
    if (suggested.length > 0)
      out.push({
        kind: 'suggested-license',
        message: `A license was recognized for ${list(suggested.map((l) => l.familyName))}`,
        detail: 'Nobody has confirmed it yet, so every use still says “Ask first”.',
        action: 'Look and confirm',
        to: `/licenses/new?family=${suggested[0]!.familyId}`,
      });
    if (told.length > 0)
      out.push({
        kind: 'unknown-license',
        message: `Terms came with ${list(told.map((l) => l.familyName))} and nobody has read them`,
        detail: 'Their sentences are shown beside the uses they bear on; answer each use and confirm.',
        action: 'Read the terms',
        to: `/licenses/new?family=${told[0]!.familyId}`,
      });
    if (unknown.length > 0)
      out.push({
        kind: 'unknown-license',
        message: `Nothing is known of the terms of ${list(unknown.map((l) => l.familyName))}`,
        detail: 'Find the terms they came with and record what they allow.',
        action: 'Record the license',
        to: `/licenses/new?family=${unknown[0]!.familyId}`,
      });
  }

  for (const intake of intakes.filter((i) => i.state === 'done' && i.counts.refused! > 0).slice(0, 2))
    out.push({
      kind: 'refused',
      message: `${intake.counts.refused} ${intake.counts.refused === 1 ? 'file' : 'files'} of “${intake.label}” could not be taken`,
      detail: 'Each has its reason beside it.',
      action: 'Read the report',
      to: `/intake/${intake.id}`,
    });

  const ready = families.find((f) => f.verdicts.website === 'yes' && f.places.length === 0 && !f.faces.some((x) => x.blocked));
  if (ready)
    out.push({
      kind: 'ready',
      message: `${ready.name} may go on the website and is not there yet`,
      detail: 'Check it for the website and put it there in one go.',
      action: 'Check it',
      to: `/places/check?faces=${ready.leadFaceId}`,
    });
  if (families.length === 0)
    out.push({
      kind: 'begin',
      message: 'There is no typeface here yet',
      detail: 'Bring in a ZIP just as you downloaded it, a folder, or single files.',
      action: 'Bring in files',
      to: '/intake',
    });
  return canEdit ? out : out.filter((item) => !NEEDS_EDITING.has(item.kind));
}
