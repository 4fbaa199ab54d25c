/** Days from January 1, 1970 to a day of the Gregorian calendar, YYYY-MM-DD. Source: H. Hinnant, chrono-Compatible Low-Level Date Algorithms. */
export function dayNumber(day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const ofYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + date - 1;
  const yearOfEra = y - era * 400;
  return era * 146_097 + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + ofYear - 719_468;
}
