import fc from 'fast-check';
import { shareOut } from './fairness';

const one = (key: string, working = 0, priority = 0) => ({ key, working, priority });

describe(shareOut, () => {
  test('a pipeline alone gets every place, and several get the same', () => {
    expect([...shareOut(8, [one('a')])]).toEqual([['a', 8]]);
    expect([...shareOut(8, [one('a'), one('b')])]).toEqual([['a', 4], ['b', 4]]);
  });
  test('one that has many under way waits until the others have as many', () => {
    expect([...shareOut(4, [one('burst', 20), one('other', 1)])]).toEqual([['other', 4]]);
  });
  test('each step of priority doubles the share', () => {
    expect([...shareOut(9, [one('a', 0, 1), one('b', 0, 0)])]).toEqual([['a', 6], ['b', 3]]);
  });
  test('every place is given, and nobody with less than another for the same weight goes without', () => {
    fc.assert(fc.property(fc.nat(40), fc.array(fc.tuple(fc.nat(30), fc.integer({ min: -2, max: 2 })), { minLength: 1, maxLength: 8 }), (places, list) => {
      const claimants = list.map(([working, priority], index) => one(String(index), working, priority));
      const shares = shareOut(places, claimants);
      expect([...shares.values()].reduce((sum, share) => sum + share, 0)).toBe(places);
      for (const a of claimants) for (const b of claimants) if (a.priority === b.priority && (shares.get(a.key) ?? 0) > 0) expect(a.working + (shares.get(a.key) ?? 0)).toBeLessThanOrEqual(b.working + (shares.get(b.key) ?? 0) + 1);
    }));
  });
});
