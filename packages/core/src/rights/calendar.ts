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

/** Commas, semicolons, backslashes and line ends in text. Source: RFC 5545, section 3.3.11. */
const escape = (text: string): string =>
  text
    .replace(/[\\;,]/g, (c) => `\\${c}`)
    .replace(/\r\n|[\r\n\u2028\u2029\u0085]/g, '\\n')
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g, '');

const octets = (c: string): number => {
  const p = c.codePointAt(0)!;
  return p < 0x80 ? 1 : p < 0x800 ? 2 : p < 0x10000 ? 3 : 4;
};

/** Folds a content line so that none is longer than 75 octets, never within a character. Source: RFC 5545, section 3.1. */
function fold(line: string): string {
  let out = '';
  let used = 0;
  for (const c of line) {
    if (used + octets(c) > 75) {
      out += '\r\n ';
      used = 1;
    }
    out += c;
    used += octets(c);
  }
  return out;
}

const dayAfter = (day: string): string => {
  const [y, m, d] = day.split('-').map(Number) as [number, number, number];
  // Gregorian month lengths; the core has no clock and no calendar of its own.
  const leap = (y % 4 === 0 && y % 100 !== 0) || y % 400 === 0;
  const length = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][m - 1]!;
  const two = (n: number): string => String(n).padStart(2, '0');
  if (d < length) return `${y}-${two(m)}-${two(d + 1)}`;
  return m < 12 ? `${y}-${two(m + 1)}-01` : `${y + 1}-01-01`;
};

/**
 * Writes a calendar that programs subscribe to.
 * @param stamp when it was made, as ISO time in UTC
 * Source: RFC 5545 (iCalendar), with the name as most programs read it (X-WR-CALNAME, common practice).
 */
export function writeCalendar(name: string, entries: readonly CalendarEntry[], stamp: string): string {
  const compact = (day: string): string => day.replace(/-/g, '');
  const at = `${stamp.slice(0, 19).replace(/[-:]/g, '')}Z`;
  const lines = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Orderly Glyph//Rights//EN',
    'CALSCALE:GREGORIAN',
    'METHOD:PUBLISH',
    `X-WR-CALNAME:${escape(name)}`,
  ];
  for (const e of entries) {
    lines.push(
      'BEGIN:VEVENT',
      `UID:${e.uid}`,
      `DTSTAMP:${at}`,
      `DTSTART;VALUE=DATE:${compact(e.day)}`,
      `DTEND;VALUE=DATE:${compact(dayAfter(e.day))}`,
      `SUMMARY:${escape(e.summary)}`,
      `DESCRIPTION:${escape(e.description)}`,
      'TRANSP:TRANSPARENT',
    );
    if (e.remindDays > 0)
      lines.push('BEGIN:VALARM', 'ACTION:DISPLAY', `DESCRIPTION:${escape(e.summary)}`, `TRIGGER:-P${e.remindDays}D`, 'END:VALARM');
    lines.push('END:VEVENT');
  }
  lines.push('END:VCALENDAR');
  return `${lines.map(fold).join('\r\n')}\r\n`;
}
