import { sayDay } from './index.js';

// The form is that of CLDR's long date for American English, as Intl writes it; what is no ISO day is left alone.
test.each(['2026-03-05', '2028-02-29', '1999-12-31', '2026-10-01'])('%s is told as Intl tells it', (day) => {
  expect(sayDay(day)).toBe(new Intl.DateTimeFormat('en-US', { dateStyle: 'long', timeZone: 'UTC' }).format(new Date(day)));
});

test('other texts come back as they are', () => {
  for (const text of ['', 'soon', '2026-13-01', '2026-3-5', '05.03.2026']) expect(sayDay(text)).toBe(text);
});
