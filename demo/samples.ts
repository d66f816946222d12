import { addSamples } from '@/services/samples';
import { soundOnce } from '@/services/soundings';
import { publishDraft, teachKind } from '@/services/workbench';
import type { Services } from '@/services/context';
import { findDefinition } from '@/store/queries/definitions';
import { makeBill, truthOf } from './bills/bill';
import { printBill } from './bills/print';
import { booking, certificate, deliveryNote, eBill, powerStatement, scannedTicket, type MadeDocument } from './papers/arriving';
import { tellLens } from './lens';

async function billSample(seed: number): Promise<MadeDocument> {
  const bill = makeBill(seed);
  return { name: `${bill.haulier}-${bill.number.replace(/\W/g, '-')}.pdf`, mediaType: 'application/pdf', bytes: await printBill(bill), truth: truthOf(bill) };
}

const seeds = (count: number, from = 1): number[] => Array.from({ length: count }, (_, index) => from + index);
const all = (list: readonly number[], make: (seed: number) => Promise<MadeDocument> | MadeDocument): Promise<MadeDocument[]> => Promise.all(list.map(make));

/** Samples of every kind of the scenario with their true values. Seeds are others than those of arriving documents. */
const SAMPLES: Readonly<Record<string, () => Promise<MadeDocument[]>>> = {
  'haulage-bill': () => all(seeds(14, 501), billSample),
  'weighbridge-ticket': () => all(seeds(5, 601), scannedTicket),
  'water-certificate': () => all(seeds(4, 701), certificate),
  'chandlery-note': () => all(seeds(6, 801), deliveryNote),
  'power-statement': () => all(seeds(5, 901), powerStatement),
  'e-bill': () => all(seeds(4, 951), eBill),
  'slip-booking': () => all(seeds(5, 971), booking),
};

/** Samples, what they teach, and a sounding of each published kind. Can be run again: what is there stays. */
export async function loadSamples(services: Services, lensUrl: string): Promise<void> {
  const actor = { name: 'Demo' };
  for (const [key, make] of Object.entries(SAMPLES)) {
    const published = await findDefinition(services.store.db, 'kind', key);
    if (!published || published.version > 1) continue;
    const samples = await make();
    for (const sample of samples) await tellLens(lensUrl, key, sample);
    const { added } = await addSamples(services, actor, key, samples, new Map(samples.map(({ name, truth }) => [name, truth])));
    const isByHand = published.definition.layouts.length > 0;
    if (added > 0 && !isByHand && key !== 'e-bill') {
      await teachKind(services, actor, key);
      await publishDraft(services, actor, key, 'Learned from its samples');
    }
    await soundOnce(services, actor, key);
  }
}
