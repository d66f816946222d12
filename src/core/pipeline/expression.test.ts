import fc from 'fast-check';
import { compute, expressionFrom } from './expression';

const data = { total: '1234.50', empty: null, lines: [{ amount: '0.10', text: 'Trip' }, { amount: '0.20', text: 'Ice' }], note: { pay: 'soon' } };
const value = async (text: string) => {
  const made = await compute(text, data);
  return made.ok ? made.value : `! ${made.why}`;
};

describe(compute, () => {
  test.each([
    ['total', '1234.50'], ['note.pay', 'soon'], ['lines[1].text', 'Ice'], ['$count(lines)', '2'], ['empty', null], ['nowhere.at.all', null], ['""', null], ['lines[text="none"]', null],
    ['total & " EUR"', '1234.50 EUR'], ['$uppercase(note.pay)', 'SOON'], ['lines.text', '["Trip","Ice"]'], ['$number(total) > 1000', 'true'],
  ])('%s gives %j', async (text, expected) => expect(await value(text)).toBe(expected));

  test('amounts compute as decimals: a tenth and two tenths are three tenths', async () => {
    expect([await value('$plus("0.1", "0.2")'), await value('$total(lines.amount)'), await value('$times("1.1", "1.1")'), await value('$rounded($over(total, 3), 2)'), await value('$rounded("5", 2)'), await value('$plus("none", 1)')]).toEqual(['0.3', '0.3', '1.21', '411.50', '5.00', null]);
  });
  test('what is no expression is told with its place, and never thrown', () => {
    expect(expressionFrom('total + (')).toMatchObject({ ok: false, at: 9 });
    expect(expressionFrom('x'.repeat(2001))).toMatchObject({ ok: false, why: expect.stringContaining('2001 characters') });
  });
  test('one that calls itself for ever, or runs too long, ends with a sentence', async () => {
    expect(await value('($f := function($n) { $f($n + 1) + 1 }; $f(1))')).toMatch(/^! The expression (goes deeper|was not done)/);
    expect(await value('$sum([1..50000].($ * 2))')).toMatch(/^! The expression was not done after/);
  });
  test('a pattern that would take for ever elsewhere is answered at once', async () => {
    const [text, begun] = [`$contains("${'a'.repeat(40)}!", /^(a+)+$/)`, performance.now()];
    expect(await value(text)).toBe('false');
    // Backtracking would take 2^40 steps: hours. No figure of speed is meant, only that it ends.
    expect(performance.now() - begun).toBeLessThan(60_000);
  });
  test('it reaches nothing but the data', async () => {
    expect([await value('constructor'), await value('__proto__'), await value('lines.constructor')]).toEqual([null, null, null]);
  });
  test('whatever is written, an answer comes', async () => {
    await fc.assert(fc.asyncProperty(fc.string({ maxLength: 40 }), async (text) => {
      expect(typeof (await compute(text, data)).ok).toBe('boolean');
    }), { numRuns: 300 });
  });
});
