/** Bounds of error rates against published tables. */
import { upperBound } from '@/core/measuring/threshold';

describe('one-sided Clopper–Pearson bound', () => {
  // Exact values 1 − α^(1/n) for no mistake (C. J. Clopper and E. S. Pearson, Biometrika 26, 1934); “rule of three”: about 3/n at 95 %
  // (J. A. Hanley and A. Lippman-Hand, JAMA 249, 1983).
  test.each([[10, 0.2589], [30, 0.0950], [100, 0.0295], [300, 0.0099]])('no mistake in %i at 95 %%: %d', (n, bound) => expect(upperBound(0, n, 0.95)).toBeCloseTo(bound, 4));

  // One mistake in 10 at 95 %: 0.3942; two in 20: 0.2826 (tables of the binomial distribution, upper one-sided limits).
  test.each([[1, 10, 0.3942], [2, 20, 0.2826]])('%i in %i at 95 %%: %d', (wrong, n, bound) => expect(upperBound(wrong, n, 0.95)).toBeCloseTo(bound, 3));

  // Acceptance plan: 114 without a mistake show at most 2 % at 90 % (log 0.1 / log 0.98 = 113.97).
  test('114 right ones promise two in a hundred at 90 %, 113 do not', () => expect([upperBound(0, 114, 0.9) <= 0.02, upperBound(0, 113, 0.9) <= 0.02]).toEqual([true, false]));
});
