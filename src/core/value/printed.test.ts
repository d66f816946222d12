import { hasRightDigits } from './check-digits';
import { parseDate } from './date';
import { localeOf } from './locale';
import { lookAlike, mendFigures, mendToShape, shapeOf } from './mend';
import { normalise } from './normalise';

describe(localeOf, () => {
  test.each<[string, string[], string]>([
    ['points before cents', ['1,234.50', '12.00'], '. dmy'], ['commas before cents', ['1.234,50', '12,00'], ', dmy'], ['nothing that tells', ['Herring', '1,234'], '. dmy'],
    ['a day above 12 in the first place', ['25/03/2026', '1.00'], '. dmy'], ['a day above 12 in the second place', ['03/25/2026'], '. mdy'], ['dollars', ['03/04/2026', '$12.00'], '. mdy'],
    ['dates with points are no figures', ['12.03.26', '13.04.26', '5,50'], ', dmy'],
  ])('%s', (_, texts, expected) => {
    const { decimal, dates } = localeOf(texts);
    expect(`${decimal} ${dates}`).toBe(expected);
  });

  test('what the kind says wins', () => expect(localeOf(['1.234,50'], { decimal: '.' })).toEqual({ decimal: '.', dates: 'dmy' }));
});

describe(mendFigures, () => {
  test.each([['1O4.5O', '104.50'], ['12,OO', '12,00'], ['2O26-O3-l2', '2026-03-12'], ['Boat', 'Boat'], ['A1', 'A1'], ['12.00', '12.00']])('%s becomes %s', (printed, mended) => expect(mendFigures(printed)).toBe(mended));
});

describe(mendToShape, () => {
  test.each([['$1696589', 'AA999999', 'SI696589'], ['MH-1O43I2', 'AA-999999', 'MH-104312'], ['MH-10431', 'AA-999999', null], ['MX-1043X2', 'AA-999999', null]])('%s to %s gives %s', (text, shape, mended) => expect(mendToShape(text, shape)).toBe(mended));
});

test('a shape keeps marks and blanks', () => expect([shapeOf('MH-104 b'), lookAlike('S1-O8') === lookAlike('5I-0B')]).toEqual(['AA-999 a', true]));

describe(parseDate, () => {
  test.each([
    ['14. März 2026', '2026-03-14'], ['1er février 2026', '2026-02-01'], ['3 de mayo de 2026', '2026-05-03'], ['12 ott 2026', '2026-10-12'], ['5 mei 2026', '2026-05-05'], ['24 Dez. 2026', '2026-12-24'],
    ['2026-03-12T10:00:00Z', '2026-03-12'], ['12/10/2026 14:22', '2026-10-12'], ['20260312', '2026-03-12'], ['12 . 03 . 2026', '2026-03-12'],
  ])('%s is %s', (printed, iso) => expect(parseDate(printed, 'dmy')).toBe(iso));
});

describe(normalise, () => {
  const plain = { decimal: '.', dates: 'dmy' } as const;
  test.each([['number', '12 kg', '12'], ['number', '20 %', '20'], ['number', '3 boxes', '3'], ['yes-no', '☒', 'yes'], ['yes-no', 'nein', 'no'], ['choice', ' card ', 'card']] as const)('%s %s is %s', (type, printed, value) => expect(normalise(type, printed, plain)).toEqual({ ok: true, value }));
  test('money keeps no unit: a misread column must not pass', () => expect(normalise('money', '12 kg', plain).ok).toBe(false));
  test('yes or no is not guessed', () => expect(normalise('yes-no', 'perhaps', plain)).toEqual({ ok: false, why: '“perhaps” says neither yes nor no' }));
});

test('check digits forgive blanks and small letters, not a changed figure', () => expect([hasRightDigits('container', 'csqu 305438 3'), hasRightDigits('container', 'CSQU3054382')]).toEqual([true, false]));
