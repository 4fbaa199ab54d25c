import ical, { ICalAlarmType, ICalCalendarMethod, ICalEventTransparency } from 'ical-generator';

/** One all-day entry; days are ISO (YYYY-MM-DD). */
export interface CalendarEntry {
  /** Stays the same as long as it is the same entry. */
  uid: string;
  day: string;
  summary: string;
  description: string;
  /** Days before at which a calendar program should remind; 0 for none. */
  remindDays: number;
}

/** Characters that RFC 5545 has no place for: controls other than line ends and tabs. */
const clean = (text: string): string => text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g, '').replace(/\r\n?/g, '\n');
const DAY = 86_400;

/**
 * Writes a calendar (RFC 5545) that programs subscribe to.
 * @param stamp when it was made
 */
export function writeCalendar(name: string, entries: readonly CalendarEntry[], stamp: Date): string {
  const calendar = ical({
    name: clean(name),
    prodId: { company: 'Orderly Glyph', product: 'Rights', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
  });
  for (const e of entries) {
    const start = new Date(`${e.day}T00:00:00Z`);
    const event = calendar.createEvent({
      id: e.uid,
      stamp,
      start,
      end: new Date(start.getTime() + DAY * 1000),
      allDay: true,
      summary: clean(e.summary),
      description: clean(e.description),
      transparency: ICalEventTransparency.TRANSPARENT,
    });
    if (e.remindDays > 0)
      event.createAlarm({ type: ICalAlarmType.display, triggerBefore: e.remindDays * DAY, description: clean(e.summary) });
  }
  return calendar.toString();
}
