/** When a peer counts as down, and how long it is left alone. */
export interface BreakerSettings {
  /** Failures in a row that open it. */
  readonly failures: number;
  /** How long nobody asks after it opened, ms. */
  readonly restMs: number;
  /** Longest rest; each failed probe doubles it. */
  readonly mostRestMs: number;
}

export const DEFAULT_BREAKER: BreakerSettings = { failures: 5, restMs: 10_000, mostRestMs: 300_000 };

/**
 * The circuit breaker of one connection (M. Nygard, "Release It!", 2007).
 *
 *   closed ──failures in a row──▶ open ──rest is over──▶ probing ──success──▶ closed
 *                                  ▲                         │
 *                                  └────────failure──────────┘ (rests twice as long)
 *
 * All times are ms of one clock that all workers share: the database's.
 */
export type Breaker =
  | { readonly state: 'closed'; readonly failures: number }
  | { readonly state: 'open'; readonly until: number; readonly restMs: number }
  | { readonly state: 'probing'; /** Another worker may probe when this one is silent for so long. */ readonly until: number; readonly restMs: number };

export const CLOSED: Breaker = { state: 'closed', failures: 0 };

/** A probe that never reports back is forgotten after this long, ms. */
const PROBE_MS = 60_000;

export type Permission = { readonly may: true; readonly breaker: Breaker } | { readonly may: false; readonly waitMs: number };

/** May a call be made now? Where the rest is over, exactly one caller gets through, to try. */
export function permit(breaker: Breaker, nowMs: number): Permission {
  if (breaker.state === 'closed') return { may: true, breaker };
  if (nowMs < breaker.until) return { may: false, waitMs: breaker.until - nowMs };
  return { may: true, breaker: { state: 'probing', until: nowMs + PROBE_MS, restMs: breaker.restMs } };
}

/** The breaker after a call that succeeded: whatever it was, the peer is there. */
export const afterSuccess = (): Breaker => CLOSED;

/** The breaker after a call that failed because the peer did not answer as it should. */
export function afterFailure(breaker: Breaker, nowMs: number, settings: BreakerSettings = DEFAULT_BREAKER): Breaker {
  switch (breaker.state) {
    case 'closed': {
      const failures = breaker.failures + 1;
      return failures < settings.failures ? { state: 'closed', failures } : { state: 'open', until: nowMs + settings.restMs, restMs: settings.restMs };
    }
    case 'probing': {
      const restMs = Math.min(settings.mostRestMs, breaker.restMs * 2);
      return { state: 'open', until: nowMs + restMs, restMs };
    }
    case 'open':
      // A call that was under way when it opened; it says nothing new.
      return breaker;
  }
}
