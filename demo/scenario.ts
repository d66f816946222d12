import type { Oddity } from './bills/bill';

/** One invented document and the way it comes. */
export interface Arrival {
  readonly seed: number;
  readonly oddity: Oddity;
  readonly by: 'mail' | 'folder';
}

const bill = (seed: number, oddity: Oddity = 'none', by: Arrival['by'] = 'mail'): Arrival => ({ seed, oddity, by });

/** There when the demo starts: ten bills by mail and two in the folder. */
export const AT_THE_START: readonly Arrival[] = [
  bill(1), bill(2), bill(3), bill(4, 'discount elsewhere'), bill(5, 'none', 'folder'), bill(6), bill(7, 'does not add up'), bill(8), bill(9), bill(10, 'smudged label'), bill(11, 'none', 'folder'), bill(12),
];

/** Then one of these every half minute. */
export const LATER: readonly Arrival[] = [
  bill(13), bill(14), bill(15, 'wrong row'), bill(16), bill(17, 'none', 'folder'), bill(18), bill(19, 'discount elsewhere'), bill(20), bill(21), bill(22, 'does not add up'),
  bill(23), bill(24), bill(25), bill(26, 'none', 'folder'), bill(27), bill(28), bill(29, 'does not add up'), bill(30), bill(31), bill(32),
];

/** Seeds from here on are for documents sent by hand. */
export const FIRST_FREE_SEED = 100;
