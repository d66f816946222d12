import type { Oddity } from './bills/bill';

/** A bill of a haulier and the way it comes. */
export interface BillArrival {
  readonly what: 'bill';
  readonly seed: number;
  readonly oddity: Oddity;
  readonly by: 'mail' | 'folder';
}

/** Papers that are put into a tray. */
export const TRAY_PAPERS = ['ticket', 'power', 'certificate', 'delivery', 'e-invoice', 'booking', 'stranger'] as const;
export type TrayPaper = (typeof TRAY_PAPERS)[number];

/** One invented document and the way it comes. */
export type Arrival = BillArrival | { readonly what: TrayPaper; readonly seed: number };

const bill = (seed: number, oddity: Oddity = 'none', by: BillArrival['by'] = 'mail'): Arrival => ({ what: 'bill', seed, oddity, by });
const paper = (what: TrayPaper, seed: number): Arrival => ({ what, seed });

/** There when the demo starts: ten bills by mail and two in the folder, and a few papers in the trays. */
export const AT_THE_START: readonly Arrival[] = [
  bill(1), bill(2), bill(3), bill(4, 'discount elsewhere'), bill(5, 'none', 'folder'), bill(6), bill(7, 'does not add up'), bill(8), bill(9), bill(10, 'smudged label'), bill(11, 'none', 'folder'), bill(12),
  paper('ticket', 1), paper('ticket', 2), paper('ticket', 3), paper('power', 1), paper('power', 2), paper('power', 3), paper('certificate', 1), paper('certificate', 5), paper('delivery', 1), paper('delivery', 2), paper('delivery', 3), paper('delivery', 8), paper('e-invoice', 1), paper('e-invoice', 2), paper('booking', 1), paper('stranger', 1),
];

/** Then one of these every half minute. */
export const LATER: readonly Arrival[] = [
  bill(13), bill(14), bill(15, 'wrong row'), bill(16), bill(17, 'none', 'folder'), paper('ticket', 4), bill(18), paper('power', 4), bill(19, 'discount elsewhere'), bill(20), bill(21), bill(22, 'does not add up'),
  bill(23), bill(24), bill(25), bill(26, 'none', 'folder'), bill(27), bill(28), bill(29, 'does not add up'), bill(30), bill(31), bill(32),
];

/** Seeds from here on are for documents sent by hand. */
export const FIRST_FREE_SEED = 100;
