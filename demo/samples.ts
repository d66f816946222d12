import type { Truth } from '@/core/measuring/compare';
import { addSamples, type SampleFile } from '@/services/samples';
import { soundOnce } from '@/services/soundings';
import { publishDraft, teachKind } from '@/services/workbench';
import type { Services } from '@/services/context';
import { findDefinition } from '@/store/queries/definitions';
import { makeBill, truthOf } from './bills/bill';
import { printBill } from './bills/print';
import { makePaper } from './papers/content';
import { hybridPdf, makeEBill } from './papers/e-bill';
import { makeBooking, makeCertificate, makePowerStatement, makeTicket } from './papers/harbour';
import type { MadePaper } from './papers/paper-spec';
import { printPaper } from './papers/print';
import { scanPage } from './papers/scan';

interface DemoSample {
  readonly file: SampleFile;
  readonly truth: Truth;
}

const pdf = (name: string, bytes: Buffer): SampleFile => ({ name, mediaType: 'application/pdf', bytes });
const printed = async (name: string, made: MadePaper): Promise<DemoSample> => ({ file: pdf(`${name}.pdf`, await printPaper(made)), truth: made.truth });

/** A slip as the scanner on the pier gives it: grey, crooked by one to three degrees, stained now and then. */
async function scannedTicket(seed: number): Promise<DemoSample> {
  const made = makeTicket(seed);
  const wear = { dpi: 200, skew: ((seed * 7) % 5) - 2.2, noise: 8, stain: seed % 3 === 0, seed };
  return { file: { name: `ticket-${made.truth.fields['number'] ?? seed}.jpg`, mediaType: 'image/jpeg', bytes: await scanPage(await printPaper(made), 1, wear) }, truth: made.truth };
}

async function billSample(seed: number): Promise<DemoSample> {
  const bill = makeBill(seed);
  return { file: pdf(`${bill.haulier}-${bill.number.replace(/\W/g, '-')}.pdf`, await printBill(bill)), truth: truthOf(bill) };
}

async function eBill(seed: number): Promise<DemoSample> {
  const hybrid = seed % 2 === 0;
  const made = makeEBill(seed, hybrid ? 'CII' : 'UBL');
  const name = `e-invoice-${(made.truth.fields['number'] ?? String(seed)).replace(/\W/g, '-')}`;
  return { file: hybrid ? pdf(`${name}.pdf`, await hybridPdf(made)) : { name: `${name}.xml`, mediaType: 'application/xml', bytes: Buffer.from(made.xml) }, truth: made.truth };
}

function booking(seed: number): DemoSample {
  const { mail, truth } = makeBooking(seed);
  return { file: { name: `slip-${(truth.fields['boat'] ?? String(seed)).toLowerCase().replace(/\W/g, '-')}-${seed}.eml`, mediaType: 'message/rfc822', bytes: Buffer.from(mail) }, truth };
}

const seeds = (count: number, from = 1): number[] => Array.from({ length: count }, (_, index) => from + index);
const all = <T>(list: readonly number[], make: (seed: number) => Promise<T> | T): Promise<T[]> => Promise.all(list.map(make));

/** Samples of every kind of the scenario with their true values. Seeds are others than those of arriving documents. */
const SAMPLES: Readonly<Record<string, () => Promise<DemoSample[]>>> = {
  'haulage-bill': () => all(seeds(14, 501), billSample),
  'weighbridge-ticket': () => all(seeds(5, 601), scannedTicket),
  'water-certificate': () => all(seeds(4, 701), (seed) => printed(`ice-water-${seed}`, makeCertificate(seed))),
  'chandlery-note': () => all(seeds(6, 801), (seed) => printed(`delivery-${seed}`, makePaper('delivery-note', 2 + (seed % 3), seed))),
  'power-statement': () => all(seeds(5, 901), (seed) => printed(`power-${seed}`, makePowerStatement(seed))),
  'e-bill': () => all(seeds(4, 951), eBill),
  'slip-booking': () => all(seeds(5, 971), booking),
};

/** Samples, what they teach, and a sounding of each published kind. Can be run again: what is there stays. */
export async function loadSamples(services: Services): Promise<void> {
  const actor = { name: 'Demo' };
  for (const [key, make] of Object.entries(SAMPLES)) {
    const published = await findDefinition(services.store.db, 'kind', key);
    if (!published || published.version > 1) continue;
    const samples = await make();
    const { added } = await addSamples(services, actor, key, samples.map((sample) => sample.file), new Map(samples.map(({ file, truth }) => [file.name, truth])));
    const isByHand = published.definition.layouts.length > 0;
    if (added > 0 && !isByHand && key !== 'e-bill') {
      await teachKind(services, actor, key);
      await publishDraft(services, actor, key, 'Learned from its samples');
    }
    await soundOnce(services, actor, key);
  }
}
