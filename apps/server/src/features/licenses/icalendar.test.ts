import ical from 'node-ical';
import { writeCalendar } from './icalendar.js';

const STAMP = new Date('2026-11-25T09:00:00Z');

test('an independent parser reads the calendar as it was meant', () => {
  const text = writeCalendar(
    'Rights of Seeds, Inc.',
    [
      {
        uid: 'a@x',
        day: '2026-12-31',
        summary: '“Łubin; Web, desktop\\logo” ends',
        description: `Line one\nline two, ${'ż'.repeat(120)}`,
        remindDays: 14,
      },
      { uid: 'b@x', day: '2028-02-28', summary: 'Leap', description: '', remindDays: 0 },
    ],
    STAMP,
  );
  const events = Object.values(ical.sync.parseICS(text)).filter((e) => e !== undefined && e.type === 'VEVENT');
  expect(events).toHaveLength(2);
  const [first, second] = events as { uid: string; summary: string; description: string; start: Date; end: Date; datetype: string }[];
  expect(first!.uid).toBe('a@x');
  expect(first!.summary).toBe('“Łubin; Web, desktop\\logo” ends');
  expect(first!.description).toBe(`Line one\nline two, ${'ż'.repeat(120)}`);
  expect(first!.datetype).toBe('date');
  const day = (d: Date): string => d.toLocaleDateString('sv-SE');
  expect([day(first!.start), day(first!.end)]).toEqual(['2026-12-31', '2027-01-01']);
  expect([day(second!.start), day(second!.end)]).toEqual(['2028-02-28', '2028-02-29']);
});

test('lines end in CRLF and are at most 75 octets long, whole characters each', () => {
  // RFC 5545, section 3.1.
  const text = writeCalendar(
    'ż'.repeat(200),
    [{ uid: 'a', day: '2026-01-01', summary: '漢'.repeat(80), description: '🎈'.repeat(60), remindDays: 0 }],
    STAMP,
  );
  expect(text.replace(/\r\n/g, '')).not.toMatch(/[\r\n]/);
  for (const line of text.split('\r\n')) {
    expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
    expect(line).not.toContain('\ufffd');
  }
  expect(text.replace(/\r\n /g, '')).toContain('漢'.repeat(80));
});
