/** The one place where chance comes from. Everything else is handed a function. */

/** Uniform in [0, 1). */
export type Chance = () => number;

export const systemChance: Chance = () => Math.random();

/** A repeatable sequence from a seed: mulberry32 (T. Ettinger, public domain), 2^32 states. */
export function seededChance(seed: number): Chance {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
