const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const;

/** An ISO 8601 day in words, the one form in which days are told everywhere: "March 5, 2026". Other texts come back as they are. */
export function sayDay(day: string): string {
  const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(day);
  const month = match && MONTHS[Number(match[2]) - 1];
  return match && month ? `${month} ${Number(match[3])}, ${match[1]}` : day;
}
