/** How often and how long a step is tried again. All times in ms. */
export interface Budget {
  /** Upper bound of the first pause. */
  readonly baseMs: number;
  /** No pause is longer than this. */
  readonly capMs: number;
  /** Attempts in all, the first included. */
  readonly attempts: number;
  /** Sum of pauses and working time after which no attempt is begun. */
  readonly totalMs: number;
  /** In place of the limits above for what a person ends by closing a file or making room; absent: no difference. */
  readonly patience?: { readonly capMs: number; readonly totalMs: number };
}

/** A workbook may be left open over a long weekend. */
export const DEFAULT_BUDGET: Budget = { baseMs: 1_000, capMs: 120_000, attempts: 8, totalMs: 15 * 60_000, patience: { capMs: 10 * 60_000, totalMs: 5 * 86_400_000 } };

/** The budget of a failure: with the longer limits where patience helps. */
export const budgetFor = (budget: Budget, patient: boolean): Budget => (patient && budget.patience ? { ...budget, ...budget.patience, attempts: Infinity } : budget);

/**
 * Pause before attempt `attempt` (2 = first repeat) by exponential backoff with full jitter:
 * uniform in [0, min(cap, base · 2^(attempt−2))]. Source: M. Brooker, "Exponential Backoff And Jitter", 2015.
 * `chance` is uniform in [0, 1). A wish of the other side (Retry-After) is a lower bound, never shortened.
 */
export function pauseBefore(attempt: number, budget: Budget, chance: number, retryAfterMs = 0): number {
  const ceiling = Math.min(budget.capMs, budget.baseMs * 2 ** Math.min(30, Math.max(0, attempt - 2)));
  return Math.max(retryAfterMs, Math.round(chance * ceiling));
}

/** Are the retries of a step used up? */
export function isExhausted(budget: Budget, spent: { readonly attempts: number; readonly spentMs: number }): boolean {
  return spent.attempts >= budget.attempts || spent.spentMs >= budget.totalMs;
}

/**
 * `Retry-After` in either of its forms, delta seconds or HTTP date, as ms from `nowMs`; null when it is neither.
 * RFC 9110, section 10.2.3. A date in the past means now.
 */
export function parseRetryAfter(header: string, nowMs: number): number | null {
  if (/^\d{1,9}$/.test(header.trim())) return Number(header.trim()) * 1000;
  const date = Date.parse(header);
  return Number.isNaN(date) || !/GMT$/.test(header.trim()) ? null : Math.max(0, date - nowMs);
}
