import fc from 'fast-check';
import { parseAmount, plainAmount, shownAmount } from './amount';
import { parseDate } from './date';
import { normalise } from './normalise';

describe(parseAmount, () => {
  const point: [string, string | null][] = [
    ['1,234.50', '1234.50'], ['€ 12.00', '12.00'], ['EUR 12.00', '12.00'], ['12.00 EUR', '12.00'], ['(99.10)', '-99.10'],
    ['12.00-', '-12.00'], ['−7.25', '-7.25'], ["1'234.50", '1234.50'], ['0.5', '0.5'], ['1,23', null], ['1.234,50', null],
    ['12 March', null], ['', null], ['1,2345.00', null], ['.5', null],
  ];
  test.each(point)('reads %j with a point as %j', (printed, expected) => {
    const amount = parseAmount(printed, '.');
    expect(amount && plainAmount(amount, expected?.split('.')[1]?.length)).toBe(expected);
  });

  test.each([['1.234,50', '1234.50'], ['1 234,50', '1234.50'], ['12,5', '12.5'], ['1.23', null], ['-0,10 €', '-0.10']])(
    'reads %j with a comma as %j', (printed, expected) => {
      const amount = parseAmount(printed, ',');
      expect(amount && plainAmount(amount, expected?.split('.')[1]?.length)).toBe(expected);
    });

  test('reads back whatever it shows', () => {
    fc.assert(fc.property(fc.integer({ min: -1e9, max: 1e9 }), (cents) => {
      const plain = (cents / 100).toFixed(2);
      expect(parseAmount(shownAmount(plain), '.')?.toFixed(2)).toBe(plain === '-0.00' ? '0.00' : plain);
    }));
  });
});

describe(parseDate, () => {
  test.each([
    ['2026-03-12', 'dmy', '2026-03-12'], ['12/03/2026', 'dmy', '2026-03-12'], ['03/12/2026', 'mdy', '2026-03-12'], ['12.03.26', 'dmy', '2026-03-12'],
    ['12 March 2026', 'dmy', '2026-03-12'], ['March 12, 2026', 'dmy', '2026-03-12'], ['Thursday, 12 March 2026', 'dmy', '2026-03-12'],
    ['12-Mar-26', 'dmy', '2026-03-12'], ['31/02/2026', 'dmy', null], ['29/02/2024', 'dmy', '2024-02-29'], ['13/13/2026', 'dmy', null], ['soon', 'dmy', null],
  ] as const)('reads %j (%s) as %j', (printed, order, expected) => {
    expect(parseDate(printed, order)).toBe(expected);
  });
});

describe(normalise, () => {
  const locale = { decimal: '.', dates: 'dmy' } as const;
  test('keeps the leading zeros of an identifier and drops the marks around it', () => {
    expect(normalise('identifier', ': 000417.', locale)).toEqual({ ok: true, value: '000417' });
  });
  test('says what is wrong with an amount and which mark was expected', () => {
    expect(normalise('money', '12,5o', locale)).toEqual({ ok: false, why: '“12,5o” is not an amount with “.” before the fraction' });
  });
  test('gives money two places and leaves quantities as they are', () => {
    expect([normalise('money', '12', locale), normalise('number', '12', locale)]).toEqual([{ ok: true, value: '12.00' }, { ok: true, value: '12' }]);
  });
  test('cuts what it quotes', () => {
    const refused = normalise('date', 'x'.repeat(500), locale);
    expect(!refused.ok && refused.why.length).toBeLessThan(100);
  });
});
