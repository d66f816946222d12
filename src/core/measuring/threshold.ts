/** One confirmed reading: how sure it was and whether it was right. */
export interface Scored {
  readonly confidence: number;
  readonly right: boolean;
}

/** What a team wants: at most so many wrong among the values that nobody looks at, and how sure it wants to be of that. */
export interface Target {
  /** Share of wrong values, for example 0.01. */
  readonly errorRate: number;
  /** Confidence level of the statement, for example 0.9. */
  readonly level: number;
  /** Also compare what the tiers of the kind's service cost and buy. Default false. */
  readonly tiers?: boolean;
}

export const DEFAULT_TARGET: Target = { errorRate: 0.02, level: 0.9 };

/** What one threshold would mean. */
export interface CurvePoint {
  readonly threshold: number;
  /** Readings at or above it, and how many of them were wrong. */
  readonly passed: number;
  readonly wrong: number;
  /** Share of all readings that pass: the straight-through rate of the field. */
  readonly straightThrough: number;
  /** With the wanted level, the true error rate is not above this (Clopper and Pearson 1934, one-sided). */
  readonly atMost: number;
}

export type Guarantee =
  | { readonly ok: true; readonly point: CurvePoint; readonly curve: readonly CurvePoint[] }
  /** `missing`: right readings that are still needed at least; with the wrong ones there are now. */
  | { readonly ok: false; readonly missing: number; readonly curve: readonly CurvePoint[] };

/** ln n! by Stirling's series; exact to nine figures from 10 on, summed below. */
function logFactorial(n: number): number {
  if (n < 10) return Math.log([1, 1, 2, 6, 24, 120, 720, 5040, 40320, 362880][n] ?? 1);
  return n * Math.log(n) - n + 0.5 * Math.log(2 * Math.PI * n) + 1 / (12 * n) - 1 / (360 * n ** 3) + 1 / (1260 * n ** 5);
}

/** Probability of at most `k` in `n` draws when each comes with probability `p`. */
function binomialAtMost(k: number, n: number, p: number): number {
  if (p <= 0) return 1;
  if (p >= 1) return k >= n ? 1 : 0;
  let sum = 0;
  for (let i = 0; i <= k; i += 1) sum += Math.exp(logFactorial(n) - logFactorial(i) - logFactorial(n - i) + i * Math.log(p) + (n - i) * Math.log1p(-p));
  return Math.min(1, sum);
}

/** Steps of halving; 50 give 15 figures. */
const HALVINGS = 50;

/**
 * Upper bound of an error rate after `wrong` of `n`: the largest rate under which so few wrong ones would still be seen with
 * probability 1 − level (exact binomial bound, C. J. Clopper and E. S. Pearson, Biometrika 26, 1934). 1 for n = 0.
 */
export function upperBound(wrong: number, n: number, level: number): number {
  if (n === 0 || wrong >= n) return 1;
  let [low, high] = [wrong / n, 1];
  for (let step = 0; step < HALVINGS; step += 1) {
    const middle = (low + high) / 2;
    if (binomialAtMost(wrong, n, middle) > 1 - level) low = middle;
    else high = middle;
  }
  return high;
}

/** Thresholds that are tried; finer ones would promise a precision that confidences do not have. */
const GRID = Array.from({ length: 51 }, (_, index) => Math.round((0.5 + index * 0.01) * 100) / 100);

/** The lowest threshold above which the error rate is below the target with the wanted level, and the whole curve. */
export function guarantee(readings: readonly Scored[], target: Target = DEFAULT_TARGET): Guarantee {
  const curve = GRID.map((threshold): CurvePoint => {
    const passed = readings.filter((reading) => reading.confidence >= threshold);
    const wrong = passed.filter((reading) => !reading.right).length;
    return { threshold, passed: passed.length, wrong, straightThrough: readings.length === 0 ? 0 : passed.length / readings.length, atMost: upperBound(wrong, passed.length, target.level) };
  });
  const point = curve.find((candidate) => candidate.passed > 0 && candidate.atMost <= target.errorRate);
  if (point) return { ok: true, point, curve };
  return { ok: false, missing: Math.min(...curve.map((candidate) => stillNeeded(candidate, target))), curve };
}

/** How many more right readings above a threshold would bring its bound under the target. */
function stillNeeded({ wrong, passed }: CurvePoint, { errorRate, level }: Target): number {
  let [low, high] = [passed, Math.max(passed + 1, 8)];
  while (upperBound(wrong, high, level) > errorRate) high *= 2;
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (upperBound(wrong, middle, level) > errorRate) low = middle;
    else high = middle;
  }
  return high - passed;
}
