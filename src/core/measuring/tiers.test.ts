import { billKind } from '../../../tests/support/definitions';
import type { SoundedSample } from './sounding';
import { DEFAULT_TARGET } from './threshold';
import { chooseTier, tierScore, withTier, type TierScore } from './tiers';

const score = (tier: string | null, costPerDocument: string, straightThrough: number, wrong = 0, right = 90): TierScore => ({ tier, price: '0', costPerDocument, straightThrough, right, all: 100, accepted: { wrong, all: 100 }, asked: 0 });

describe(chooseTier, () => {
  const cheapest = (...scores: TierScore[]) => chooseTier(scores, DEFAULT_TARGET).cheapest?.tier;

  test('takes the cheapest of those that do nearly as well as the best', () => {
    expect(cheapest(score(null, '0', 0.5), score('glance', '0.01', 0.89), score('read', '0.04', 0.9), score('study', '0.15', 0.9))).toBe('glance');
  });
  test('does without the service where it buys nothing', () => {
    expect(cheapest(score(null, '0', 0.9), score('study', '0.15', 0.9))).toBeNull();
  });
  test('leaves out what accepts more wrong values than wanted, however cheap', () => {
    expect(cheapest(score(null, '0', 0.5), score('glance', '0.01', 0.95, 9), score('read', '0.04', 0.9, 1))).toBe('read');
  });
  test('says that none is good enough where that is the truth', () => {
    expect(cheapest(score(null, '0', 0.5, 9), score('glance', '0.01', 0.9, 9))).toBeUndefined();
  });
  test('compares prices as decimals', () => {
    expect(cheapest(score('ten', '0.10', 0.9), score('nine', '0.09', 0.9))).toBe('nine');
  });
});

describe(withTier, () => {
  const kind = { ...billKind(), services: [{ service: 'lens', tier: 'glance', price: '0.01', fields: { total: 'total_amount' } }] };
  test('changes tier and price of the first service, or leaves it out', () => {
    expect(withTier(kind, { name: 'study', price: '0.15' }).services).toEqual([{ service: 'lens', tier: 'study', price: '0.15', fields: { total: 'total_amount' } }]);
    expect(withTier(kind, null).services).toEqual([]);
  });
});

describe(tierScore, () => {
  test('spreads the cost over all samples, those that were not asked included', () => {
    const sample = (name: string, cost: number): SoundedSample => ({ name, layout: null, judged: [], tookMs: 1, cost });
    expect(tierScore(billKind(), { name: 'glance', price: '0.01' }, [sample('a', 0.02), sample('b', 0), sample('c', 0.01)], DEFAULT_TARGET)).toMatchObject({ tier: 'glance', costPerDocument: '0.01', asked: 2 });
  });
});
