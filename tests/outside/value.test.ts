/** Amounts and dates against published patterns and a general implementation (ICU, through Intl). */
import fc from 'fast-check';
import { parseAmount } from '@/core/value/amount';
import { parseDate } from '@/core/value/date';

// Unicode CLDR number patterns as ICU formats them; locales chosen for their marks: point, comma, comma with points, with narrow blanks, with apostrophes.
const LOCALES = [['en', '.'], ['de', ','], ['fr', ','], ['de-CH', '.'], ['es', ','], ['pl', ','], ['sv', ',']] as const;

describe('amounts as CLDR writes them', () => {
  test.each(LOCALES)('every amount formatted for %s is read back', (locale, mark) => {
    const format = new Intl.NumberFormat(locale, { minimumFractionDigits: 2, maximumFractionDigits: 2 });
    fc.assert(fc.property(fc.integer({ min: -1e10, max: 1e10 }), (cents) => {
      expect(parseAmount(format.format(cents / 100), mark)?.toNumber()).toBe(cents === 0 ? 0 : cents / 100);
    }));
  });

  test.each(LOCALES)('amounts with the euro sign formatted for %s are read back', (locale, mark) => {
    const format = new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR' });
    for (const cents of [0, 1, 99, 123_456, 100_000_000]) expect(parseAmount(format.format(cents / 100), mark)?.toNumber()).toBe(cents / 100);
  });
});

describe('dates as CLDR writes them', () => {
  test.each([['en-GB', 'dmy'], ['en-US', 'mdy'], ['de', 'dmy'], ['sv', 'ymd'], ['pl', 'dmy']] as const)('figures formatted for %s are read back', (locale, order) => {
    const format = new Intl.DateTimeFormat(locale, { year: 'numeric', month: '2-digit', day: '2-digit', timeZone: 'UTC' });
    fc.assert(fc.property(fc.integer({ min: 0, max: 20_000 }), (days) => {
      const date = new Date(days * 86_400_000);
      expect(parseDate(format.format(date), order)).toBe(date.toISOString().slice(0, 10));
    }));
  });

  test('months by name formatted for en-GB and en-US are read back', () => {
    for (const locale of ['en-GB', 'en-US']) {
      const format = new Intl.DateTimeFormat(locale, { dateStyle: 'long', timeZone: 'UTC' });
      for (let day = 0; day < 366; day += 1) {
        const date = new Date(Date.UTC(2024, 0, 1 + day));
        expect(parseDate(format.format(date), 'dmy')).toBe(date.toISOString().slice(0, 10));
      }
    }
  });

  // ISO 8601-1:2019, 5.2.2.1: the calendar date in extended format; leap years by the Gregorian rule (4.2.1 of the standard).
  test.each([['1985-04-12', '1985-04-12'], ['2000-02-29', '2000-02-29'], ['1900-02-29', null], ['2026-02-30', null]])('%s is %s', (printed, expected) => {
    expect(parseDate(printed, 'dmy')).toBe(expected);
  });
});
