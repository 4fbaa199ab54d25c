import { randomBytes } from 'node:crypto';
import { IsNull, type DataSource } from 'typeorm';
import { HttpProblem } from '../../platform/http/problem.js';
import { Workspace } from '../accounts/index.js';
import { writeCalendar, type CalendarEntry } from './icalendar.js';
import { LicenseEntity } from './rows.js';

const pathOf = (secret: string): string => `/api/public/calendar/${secret}`;

export async function calendarPath(db: DataSource, workspaceId: string): Promise<{ path: string | null }> {
  const { calendarSecret } = await db.getRepository(Workspace).findOneByOrFail({ id: workspaceId });
  return { path: calendarSecret && pathOf(calendarSecret) };
}

/** Makes the address, or a new one; the former no longer answers. */
export async function renewCalendar(db: DataSource, workspaceId: string): Promise<{ path: string | null }> {
  const secret = randomBytes(24).toString('base64url');
  await db.getRepository(Workspace).update({ id: workspaceId }, { calendarSecret: secret });
  return { path: pathOf(secret) };
}

/** @throws HttpProblem 404 for an address that was never made or was renewed */
export async function readCalendar(db: DataSource, secret: string): Promise<string> {
  const workspace = await db.getRepository(Workspace).findOneBy({ calendarSecret: secret });
  if (!workspace)
    throw new HttpProblem(404, 'not-found', 'There is no calendar at this address. Whoever gave it to you can give you the new one.');
  const licenses = await db.getRepository(LicenseEntity).findBy({ workspaceId: workspace.id, removedAt: IsNull() });
  const entries = licenses.flatMap((l): CalendarEntry[] => {
    const about = [l.grantor && `Granted by ${l.grantor}.`, l.billedTo && `Billed to ${l.billedTo}.`].filter(Boolean).join(' ');
    const notice =
      l.noticeOn && l.noticeOn !== l.endsOn
        ? [
            {
              uid: `${l.id}-notice@orderly-glyph`,
              day: l.noticeOn,
              summary: `“${l.name}” ends on ${l.endsOn ?? 'a day not recorded'}`,
              description: about,
              remindDays: 0,
            },
          ]
        : [];
    const end = l.endsOn
      ? [
          {
            uid: `${l.id}-end@orderly-glyph`,
            day: l.endsOn,
            summary: `“${l.name}” ends`,
            description: `${about} Take its faces off the places they are at, or renew it.`.trim(),
            remindDays: l.noticeOn ? 0 : 14,
          },
        ]
      : [];
    return [...notice, ...end];
  });
  return writeCalendar(`Rights of ${workspace.name}`, entries, new Date());
}
