import type { MadeDocument } from './papers/arriving';
import { booking, certificate, deliveryNote, eBill, powerStatement, scannedTicket } from './papers/arriving';
import { makePaper } from './papers/content';
import { printPaper } from './papers/print';
import type { TrayPaper } from './scenario';

interface Tray {
  /** Key of the watched folder, see `trays`. */
  readonly tray: 'weighbridge-folder' | 'power-folder' | 'post-tray';
  readonly named: string;
  readonly kind: string;
  readonly make: (seed: number) => Promise<MadeDocument> | MadeDocument;
}

/** A paper that is none of the kinds: sorting must not take it for one. */
async function stranger(seed: number): Promise<MadeDocument> {
  const made = makePaper('statement', 90 + (seed % 3), seed);
  return { name: `letter-${seed}.pdf`, mediaType: 'application/pdf', bytes: await printPaper(made), truth: made.truth };
}

/** What lies in the trays, and in which. */
export const TRAYS: Readonly<Record<TrayPaper, Tray>> = {
  ticket: { tray: 'weighbridge-folder', named: 'A slip of the weighbridge', kind: 'weighbridge-ticket', make: scannedTicket },
  power: { tray: 'power-folder', named: 'A power statement', kind: 'power-statement', make: powerStatement },
  certificate: { tray: 'post-tray', named: 'An ice-water certificate', kind: 'water-certificate', make: certificate },
  delivery: { tray: 'post-tray', named: 'A delivery note', kind: 'chandlery-note', make: deliveryNote },
  'e-invoice': { tray: 'post-tray', named: 'An e-invoice', kind: 'e-bill', make: eBill },
  booking: { tray: 'post-tray', named: 'A slip booking', kind: 'slip-booking', make: booking },
  stranger: { tray: 'post-tray', named: 'A letter of no known kind', kind: '', make: stranger },
};
