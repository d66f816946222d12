import { forecast, partOf, type PastDocument } from './forecast';

const past = (workMs: number, amounts: readonly string[] = [], asked = false): PastDocument => ({ workMs, costs: amounts.map((amount) => ({ amount, currency: 'EUR' })), asked });

describe(forecast, () => {
  test('expects what the past took on average, shared by the workers', () => {
    expect(forecast([past(1_000), past(3_000)], 10, 1)).toEqual({ ms: 20_000, costs: [], asked: 0, from: 2 });
    expect(forecast([past(1_000), past(3_000)], 10, 4)?.ms).toBe(5_000);
  });
  test('adds up what services ask for, in decimals and by currency', () => {
    expect(forecast([past(1, ['0.04', '0.04']), past(1)], 1_000, 1)?.costs).toEqual([{ currency: 'EUR', amount: '40.00' }]);
    const pounds = { ...past(1), costs: [{ amount: '0.10', currency: 'GBP' }] };
    expect(forecast([past(1, ['0.15']), pounds], 3, 1)?.costs).toEqual([{ currency: 'EUR', amount: '0.23' }, { currency: 'GBP', amount: '0.15' }]);
  });
  test('tells how many will need somebody', () => {
    expect(forecast([past(1, [], true), past(1), past(1), past(1)], 1_000, 1)?.asked).toBe(250);
  });
  test('says nothing where nothing is known, and takes no workers for one', () => {
    expect(forecast([], 10, 1)).toBeNull();
    expect(forecast([past(500)], 2, 0)?.ms).toBe(1_000);
  });
});

test('a part of the documents takes its part', () => {
  const whole = forecast([past(1_000, ['0.04'], true)], 1_000, 1)!;
  expect(partOf(whole, 0.25)).toEqual({ ms: 250_000, costs: [{ currency: 'EUR', amount: '10.00' }], asked: 250, from: 1 });
});
