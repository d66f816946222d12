import Decimal from 'decimal.js';

/** What one document took in the past. */
export interface PastDocument {
  /** Working time of all its steps, ms; waiting is not counted. */
  readonly workMs: number;
  /** What services asked for it, as decimals by currency. */
  readonly costs: readonly { readonly amount: string; readonly currency: string }[];
  /** Somebody was needed. */
  readonly asked: boolean;
}

/** What so many documents are expected to take. */
export interface Forecast {
  /** Working time, ms, spread over the workers. */
  readonly ms: number;
  /** By currency; empty: nothing is asked for. */
  readonly costs: readonly { readonly amount: string; readonly currency: string }[];
  /** How many will need somebody. */
  readonly asked: number;
  /** How many documents of the past it rests on. */
  readonly from: number;
}

/** Expect of `count` documents what those of the past took on average; null while there are none. `workers`: how many share the work. */
export function forecast(past: readonly PastDocument[], count: number, workers: number): Forecast | null {
  if (past.length === 0) return null;
  const share = (sum: number): number => (sum / past.length) * count;
  const sums = new Map<string, Decimal>();
  for (const { amount, currency } of past.flatMap(({ costs }) => costs)) sums.set(currency, (sums.get(currency) ?? new Decimal(0)).plus(amount));
  return {
    ms: share(past.reduce((sum, { workMs }) => sum + workMs, 0)) / Math.max(1, workers),
    costs: [...sums].sort(([a], [b]) => a.localeCompare(b)).map(([currency, sum]) => ({ currency, amount: sum.div(past.length).times(count).toFixed(2) })),
    asked: Math.round(share(past.filter(({ asked }) => asked).length)),
    from: past.length,
  };
}

/** The forecast of a part of the documents; `share` between 0 and 1. */
export const partOf = (whole: Forecast, share: number): Forecast => ({ ...whole, ms: whole.ms * share, asked: Math.round(whole.asked * share), costs: whole.costs.map(({ amount, currency }) => ({ currency, amount: new Decimal(amount).times(share).toFixed(2) })) });
