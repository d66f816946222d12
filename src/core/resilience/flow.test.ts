import fc from 'fast-check';
import { admit, release, UNTOUCHED, type Flow, type FlowLimits } from './flow';

describe(admit, () => {
  test('without limits everybody may', () => expect(admit(UNTOUCHED({}, 0), {}, 'a', 0).may).toBe(true));
  test('so many at once, and one more when one has ended', () => {
    const limits: FlowLimits = { atOnce: 2 };
    const [one, two] = ['a', 'b'].reduce<Flow[]>((flows, holder) => [...flows, admit(flows.at(-1) ?? UNTOUCHED(limits, 0), limits, holder, 0).flow], []);
    expect([admit(two as Flow, limits, 'c', 0), admit(release(two as Flow, 'a'), limits, 'c', 0).may, admit(one as Flow, limits, 'c', 0).may]).toEqual([expect.objectContaining({ may: false, waitMs: 1000 }), true, true]);
  });
  test('a caller that never reports back is forgotten', () => {
    const limits: FlowLimits = { atOnce: 1 };
    const held = admit(UNTOUCHED(limits, 0), limits, 'a', 0).flow;
    expect([admit(held, limits, 'b', 119_999).may, admit(held, limits, 'b', 120_001).may]).toEqual([false, true]);
  });
  test('whatever the order of calls, no minute holds more than the rate and one burst', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 120 }), fc.array(fc.nat(3_000), { maxLength: 300 }), (perMinute, pauses) => {
      const limits: FlowLimits = { perMinute };
      let [flow, now] = [UNTOUCHED(limits, 0), 0];
      const made: number[] = [];
      for (const pause of pauses) {
        now += pause;
        const admission = admit(flow, limits, 'x', now);
        flow = admission.flow;
        if (admission.may) made.push(now);
        else expect(admission.waitMs).toBeLessThanOrEqual(60_000);
      }
      const burst = Math.max(1, Math.floor(perMinute / 10));
      for (const at of made) expect(made.filter((other) => other >= at && other < at + 60_000).length).toBeLessThanOrEqual(perMinute + burst);
    }));
  });
});
