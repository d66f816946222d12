/** Backoff and Retry-After against their published descriptions. */
import { DEFAULT_BUDGET, parseRetryAfter, pauseBefore } from '@/core/resilience/backoff';
import { seededChance } from '@/settings/random';

// M. Brooker, "Exponential Backoff And Jitter" (2015): full jitter = random_between(0, min(cap, base · 2^attempt)).
test('pauses are uniform between zero and the published ceiling', () => {
  const chance = seededChance(7);
  for (const [attempt, ceiling] of [[2, 1_000], [3, 2_000], [6, 16_000], [20, 120_000]] as const) {
    const draws = Array.from({ length: 4_000 }, () => pauseBefore(attempt, DEFAULT_BUDGET, chance()));
    const mean = draws.reduce((sum, draw) => sum + draw, 0) / draws.length;
    // The mean of a uniform distribution is half its ceiling; its standard error here is ceiling/√12/√4000 = 0.0046 ceilings.
    expect(Math.abs(mean / ceiling - 0.5)).toBeLessThan(0.02);
    expect(Math.max(...draws)).toBeLessThanOrEqual(ceiling);
    expect(Math.max(...draws)).toBeGreaterThan(0.98 * ceiling);
    expect(Math.min(...draws)).toBeLessThan(0.02 * ceiling);
  }
});

describe('Retry-After, RFC 9110 section 10.2.3', () => {
  // The two examples of the RFC itself.
  test('delay in seconds', () => expect(parseRetryAfter('120', 0)).toBe(120_000));
  test('an HTTP date', () => expect(parseRetryAfter('Fri, 31 Dec 1999 23:59:59 GMT', Date.UTC(1999, 11, 31, 23, 59, 29))).toBe(30_000));
  test('a date in the past means now', () => expect(parseRetryAfter('Fri, 31 Dec 1999 23:59:59 GMT', Date.UTC(2026, 0, 1))).toBe(0));
  test.each(['soon', '-5', '1.5', '2026-01-01', ''])('%j is neither', (header) => expect(parseRetryAfter(header, 0)).toBeNull());
});
