import fc from 'fast-check';
import { afterFailure, afterSuccess, CLOSED, permit, type Breaker } from './breaker';

const settings = { failures: 3, restMs: 100, mostRestMs: 350 };
const failed = (times: number, from: Breaker = CLOSED, nowMs = 0): Breaker => (times === 0 ? from : failed(times - 1, afterFailure(from, nowMs, settings), nowMs));

describe('a circuit breaker', () => {
  test('opens after so many failures in a row, and a success in between counts from nothing', () => {
    expect([failed(2).state, failed(3)]).toEqual(['closed', { state: 'open', until: 100, restMs: 100 }]);
    expect(failed(2, afterSuccess()).state).toBe('closed');
  });
  test('lets nobody through while it rests, and says how long', () => {
    expect(permit(failed(3), 40)).toEqual({ may: false, waitMs: 60 });
  });
  test('lets exactly one caller through when the rest is over', () => {
    const first = permit(failed(3), 100);
    expect(first).toMatchObject({ may: true, breaker: { state: 'probing' } });
    expect(first.may && permit(first.breaker, 101)).toMatchObject({ may: false });
  });
  test('closes when the probe succeeds, and rests twice as long each time it fails, up to a limit', () => {
    const probing = (from: Breaker, nowMs: number): Breaker => {
      const permission = permit(from, nowMs);
      return permission.may ? permission.breaker : from;
    };
    const second = afterFailure(probing(failed(3), 100), 100, settings);
    const third = afterFailure(probing(second, 300), 300, settings);
    expect([second, third]).toEqual([{ state: 'open', until: 300, restMs: 200 }, { state: 'open', until: 650, restMs: 350 }]);
    expect(afterSuccess()).toEqual(CLOSED);
  });
  test('a probe that never reports back does not shut everybody out for good', () => {
    const probe = permit(failed(3), 100);
    expect(probe.may && permit(probe.breaker, 100 + 60_000).may).toBe(true);
  });
  test('whatever happens, it never rests longer than the limit', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.boolean(), fc.nat(2000)), { maxLength: 60 }), (calls) => {
      let [breaker, now]: [Breaker, number] = [CLOSED, 0];
      for (const [succeeds, later] of calls) {
        now += later;
        const permission = permit(breaker, now);
        if (!permission.may) {
          expect(permission.waitMs).toBeLessThanOrEqual(60_000);
          continue;
        }
        breaker = succeeds ? afterSuccess() : afterFailure(permission.breaker, now, settings);
        if (breaker.state === 'open') expect(breaker.until - now).toBeLessThanOrEqual(settings.mostRestMs);
      }
    }));
  });
});
