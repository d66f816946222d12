import { stdnum } from 'stdnum';
import { seededChance } from '@/settings/random';
import { isValidIBAN } from 'ibantools';
import { hasRightDigits } from '@/core/value/check-digits';
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

describe('check digits', () => {
  test.each([
    // ISO 13616-1 and the examples of its registry.
    ['iban', 'GB82 WEST 1234 5698 7654 32', true], ['iban', 'DE89 3704 0044 0532 0130 00', true], ['iban', 'GB82 WEST 1234 5698 7654 33', false],
    // ISO 11649, annex example.
    ['creditor-reference', 'RF18 5390 0754 7034', true], ['creditor-reference', 'RF19 5390 0754 7034', false],
    // ISO 6346, worked example CSQU3054383.
    ['container', 'CSQU 305438 3', true], ['container', 'CSQU 305438 4', false],
    // GS1 General Specifications, GTIN-13 example 629104150021 with check digit 3; GTIN-8 from memory.
    ['gtin', '6291041500213', true], ['gtin', '6291041500214', false], ['gtin', '96385074', true],
    // ISO/IEC 7812-1, the usual example of the Luhn formula.
    ['luhn', '79927398713', true], ['luhn', '79927398710', false],
  ] as const)('%s %s: %s', (scheme, text, right) => expect(hasRightDigits(scheme, text)).toBe(right));

  test('agree with ibantools over random changes of a right one', () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 4, max: 21 }), (digit, at) => {
      const text = 'DE89370400440532013000';
      const changed = text.slice(0, at) + String(digit) + text.slice(at + 1);
      expect(hasRightDigits('iban', changed)).toBe(isValidIBAN(changed));
    }));
  });
});

describe('VAT numbers', () => {
  // Oracle: stdnum, a general-purpose library; the check digits of random numbers must be judged as it judges them.
  const NAMES: Readonly<Record<string, string>> = { AT: 'uid', DK: 'cvr', EE: 'kmkr', FI: 'alv', FR: 'tva', HU: 'anum', IT: 'iva', LU: 'tva', NL: 'btw', PL: 'nip', PT: 'nif' };
  const oracle = (country: string) => stdnum[country === 'EL' ? 'GR' : country]?.[NAMES[country] ?? 'vat'];
  const judge = (country: string, rest: string): boolean => oracle(country)?.validate(`${country === 'FR' || country === 'HU' ? '' : country}${rest}`).isValid ?? false;
  test.each(['AT', 'BE', 'DE', 'DK', 'EE', 'EL', 'FI', 'FR', 'HU', 'IT', 'LU', 'NL', 'PL', 'PT', 'SE'])('of %s', (country) => {
    expect(oracle(country)).toBeDefined();
    const length = { AT: 8, BE: 9, FR: 11, IT: 11, PL: 10, DE: 9, EE: 9, EL: 9, NL: 9, PT: 9, SE: 10 }[country] ?? 8;
    const chance = seededChance(country.charCodeAt(0) * 100 + country.charCodeAt(1));
    const found = { ours: 0, both: 0 };
    for (let round = 0; round < 4000; round += 1) {
      const digits = Array.from({ length }, (_, place) => (place === 0 ? 1 + Math.floor(chance() * 9) : Math.floor(chance() * 10))).join('');
      const rest = country === 'AT' ? `U${digits}` : country === 'BE' ? `0${digits}` : country === 'SE' ? `${digits}01` : country === 'NL' ? `${digits}B01` : digits;
      // The library also refuses numbers that were never given out; what it takes, we must take too.
      if (hasRightDigits('vat', `${country}${rest}`)) found.ours += 1;
      if (judge(country, rest)) {
        found.both += 1;
        expect([`${country}${rest}`, hasRightDigits('vat', `${country}${rest}`)]).toEqual([`${country}${rest}`, true]);
      }
    }
    expect(found.both).toBeGreaterThan(0);
    expect(found.ours).toBeLessThan(found.both * 12);
  });
  test('a number of another country is looked at for its form alone', () => {
    expect([hasRightDigits('vat', 'XI 123 456 789'), hasRightDigits('vat', 'nonsense!')]).toEqual([true, false]);
  });
});
