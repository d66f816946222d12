import Decimal from 'decimal.js';
import type { KindDefinition, ServiceUse } from '@/core/reading/kind';
import { soundingOf, type SoundedSample } from './sounding';
import type { Target } from './threshold';

/** A way of using a service, or of doing without: what it costs and what it buys. */
export interface TierScore {
  /** Null: no service at all. */
  readonly tier: string | null;
  /** Per page, a decimal. */
  readonly price: string;
  readonly right: number;
  readonly all: number;
  readonly accepted: { readonly wrong: number; readonly all: number };
  /** Samples that would need nobody ÷ samples. */
  readonly straightThrough: number;
  /** Mean over all samples; those that were not asked cost nothing. */
  readonly costPerDocument: string;
  /** Samples for which the service was asked. */
  readonly asked: number;
}

export interface TierChoice {
  readonly scores: readonly TierScore[];
  /** The cheapest way that is good enough; undefined where none is. */
  readonly cheapest: TierScore | undefined;
}

/** Fewer documents straight through than the best way, by at most this share, is still good enough. */
const NEARLY_BEST = 0.02;

/** The kind with another tier of its first service; without any where the tier is null. */
export function withTier(kind: KindDefinition, tier: { readonly name: string; readonly price: string } | null): KindDefinition {
  const [first, ...others] = kind.services ?? [];
  if (!first) return kind;
  return tier === null ? { ...kind, services: others } : { ...kind, services: [{ ...first, tier: tier.name, price: tier.price } satisfies ServiceUse, ...others] };
}

export function tierScore(kind: KindDefinition, tier: { readonly name: string; readonly price: string } | null, samples: readonly SoundedSample[], target: Target): TierScore {
  const { header, cells, accepted, straightThrough, cost } = soundingOf(kind, samples, target);
  return { tier: tier?.name ?? null, price: tier?.price ?? '0', right: header.right + cells.right, all: header.all + cells.all, accepted, straightThrough, costPerDocument: samples.length === 0 ? '0' : new Decimal(cost).div(samples.length).toDecimalPlaces(4).toFixed(), asked: samples.filter((sample) => sample.cost > 0).length };
}

/**
 * Good enough: no more wrong values among the accepted than the target allows, and nearly as many documents straight through as the
 * best such way. Of those the cheapest, and of equally cheap ones the more accurate.
 */
export function chooseTier(scores: readonly TierScore[], target: Target): TierChoice {
  const honest = scores.filter(({ accepted }) => accepted.wrong <= target.errorRate * accepted.all);
  const best = Math.max(0, ...honest.map((score) => score.straightThrough));
  const [cheapest] = honest.filter((score) => score.straightThrough >= best - NEARLY_BEST).sort((a, b) => new Decimal(a.costPerDocument).comparedTo(b.costPerDocument) || b.right - a.right);
  return { scores, cheapest };
}
