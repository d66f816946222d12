/** How much a connection may be asked; nothing set means no limit. */
export interface FlowLimits {
  /** Calls a minute; a burst of a tenth of it is let through at once. */
  readonly perMinute?: number | undefined;
  /** Calls under way at once, over all workers. */
  readonly atOnce?: number | undefined;
}

/** What is known of the calls of one connection; shared by all workers. Times are ms of one clock, the database's. */
export interface Flow {
  /** Calls that may be made at once, as of `at`. */
  readonly tokens: number;
  readonly at: number;
  /** Calls under way: holder and the moment from which it counts as dead. */
  readonly held: Readonly<Record<string, number>>;
}

/** A call that never reports back is forgotten after this long, ms. */
const HOLD_MS = 120_000;
/** Pause when every place is taken: a guess, since nobody knows when one gets free, ms. */
const FULL_MS = 1_000;

export const UNTOUCHED = (limits: FlowLimits, nowMs: number): Flow => ({ tokens: burstOf(limits), at: nowMs, held: {} });
const burstOf = ({ perMinute }: FlowLimits): number => Math.max(1, Math.floor((perMinute ?? 0) / 10));

export type Admission = { readonly may: true; readonly flow: Flow } | { readonly may: false; readonly flow: Flow; readonly waitMs: number };

/** May `holder` call now? Token bucket (Tanenbaum, Computer Networks) for the rate, a count of holders for how many at once. */
export function admit(flow: Flow, limits: FlowLimits, holder: string, nowMs: number): Admission {
  const held = Object.fromEntries(Object.entries(flow.held).filter(([, until]) => until > nowMs));
  const gained = limits.perMinute === undefined ? 0 : ((Math.max(0, nowMs - flow.at) * limits.perMinute) / 60_000);
  const tokens = Math.min(burstOf(limits), flow.tokens + gained);
  const now: Flow = { tokens, at: nowMs, held };
  if (limits.atOnce !== undefined && Object.keys(held).length >= limits.atOnce) return { may: false, flow: now, waitMs: FULL_MS };
  if (limits.perMinute !== undefined && tokens < 1) return { may: false, flow: now, waitMs: Math.ceil(((1 - tokens) * 60_000) / limits.perMinute) };
  return { may: true, flow: { ...now, tokens: limits.perMinute === undefined ? tokens : tokens - 1, held: limits.atOnce === undefined ? held : { ...held, [holder]: nowMs + HOLD_MS } } };
}

/** The call of a holder has ended. */
export function release(flow: Flow, holder: string): Flow {
  return { ...flow, held: Object.fromEntries(Object.entries(flow.held).filter(([name]) => name !== holder)) };
}
