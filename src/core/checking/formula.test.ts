import { typedReading } from '@/core/reading/edit';
import type { Readings } from '@/core/reading/reading';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { formulaFrom, holds } from './formula';

const money = (text: string) => typedReading({ key: 'x', label: 'X', type: 'money' }, text, PLAIN_LOCALE, null);
const readings: Readings = {
  fields: { gross: money('17395'), tare: money('9760'), net: money('7635'), tenth: money('0.10'), fifth: money('0.20'), sum: money('0.30'), empty: money(''), kind: typedReading({ key: 'kind', label: 'Kind', type: 'text' }, 'ice', PLAIN_LOCALE, null) },
  tables: { lines: [{ amount: money('1.10') }, { amount: money('2.20') }] },
};

function ask(text: string): boolean | null | string {
  const formula = formulaFrom(text);
  return formula.ok ? holds(formula.node, readings) : formula.why;
}

describe(formulaFrom, () => {
  test.each<[string, boolean | null]>([
    ['gross - tare = net', true], ['gross - tare > net', false], ['tenth + fifth = sum', true], ['sum(lines.amount) = 3.30', true], ['count(lines) >= 3', false],
    ['gross - (tare - net) = 15270', true], ['2 + 3 * 4 = 14', true], ['-tare < 0', true], ['kind = "ice"', true], ['not kind = "salt"', true], ['gross = 1 or net = 7635', true],
    ['gross / 0 = 1', null], ['empty + 1 = 2', null], ['missing = 1', null], ['missing = 1 and gross = 1', false], ['missing = 1 or net = 7635', true],
  ])('%s is %s', (text, expected) => expect(ask(text)).toBe(expected));

  test.each([
    ['gross -', 'The formula breaks off'], ['(gross', '“)” is missing'], ['gross ? tare', 'At character 7, “? tare” cannot be read'], ['gross tare', '“tare” at character 7 does not belong there'], ['sum(lines) = 1', 'sum wants a column, as in sum(lines.amount)'],
  ])('says what is wrong with %j', (text, why) => expect(ask(text)).toBe(why));

  test('ends at once for whatever is written, however deep and long', () => {
    expect(ask(`${'('.repeat(60)}1${')'.repeat(60)} = 1`)).toContain('nested deeper');
    expect(ask('1+'.repeat(300))).toContain('at most 400');
  });
});
