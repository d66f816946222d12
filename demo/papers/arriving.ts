import { hybridPdf, makeEBill } from './e-bill';
import { makePaper } from './content';
import { makeBooking, makeCertificate, makePowerStatement, makeTicket } from './harbour';
import type { MadePaper, Truth } from './paper-spec';
import { printPaper } from './print';
import { scanPage } from './scan';

/** A document of the scenario as it arrives, with its true values. */
export interface MadeDocument {
  readonly name: string;
  readonly mediaType: string;
  readonly bytes: Buffer;
  readonly truth: Truth;
}

const PDF = 'application/pdf';
const plain = (text: string | null | undefined, seed: number): string => (text ?? String(seed)).replace(/\W+/g, '-');

/** A slip as the scanner on the pier gives it: grey, crooked by one to three degrees, stained now and then. */
export async function scannedTicket(seed: number): Promise<MadeDocument> {
  const { truth, ...made } = makeTicket(seed);
  const wear = { dpi: 200, skew: ((seed * 7) % 5) - 2.2, noise: 8, stain: seed % 3 === 0, seed };
  return { name: `ticket-${truth.fields['number'] ?? seed}.jpg`, mediaType: 'image/jpeg', bytes: await scanPage(await printPaper({ ...made, truth }), 1, wear), truth };
}

export async function certificate(seed: number): Promise<MadeDocument> {
  const made = makeCertificate(seed);
  return { name: `ice-water-${seed}.pdf`, mediaType: PDF, bytes: await printPaper(made), truth: made.truth };
}

/** What a delivery note says; one of three suppliers. */
export const deliveryPaper = (seed: number): MadePaper => makePaper('delivery-note', 2 + (seed % 3), seed);

export async function deliveryNote(seed: number): Promise<MadeDocument> {
  const made = deliveryPaper(seed);
  return { name: `delivery-${seed}.pdf`, mediaType: PDF, bytes: await printPaper(made), truth: made.truth };
}

export async function powerStatement(seed: number): Promise<MadeDocument> {
  const made = makePowerStatement(seed);
  return { name: `power-${seed}.pdf`, mediaType: PDF, bytes: await printPaper(made), truth: made.truth };
}

export async function eBill(seed: number): Promise<MadeDocument> {
  const hybrid = seed % 2 === 0;
  const made = makeEBill(seed, hybrid ? 'CII' : 'UBL');
  const name = `e-invoice-${plain(made.truth.fields['number'], seed)}`;
  return hybrid ? { name: `${name}.pdf`, mediaType: PDF, bytes: await hybridPdf(made), truth: made.truth } : { name: `${name}.xml`, mediaType: 'application/xml', bytes: Buffer.from(made.xml), truth: made.truth };
}

export function booking(seed: number): MadeDocument {
  const { mail, truth } = makeBooking(seed);
  return { name: `slip-${plain(truth.fields['boat'], seed).toLowerCase()}-${seed}.eml`, mediaType: 'message/rfc822', bytes: Buffer.from(mail), truth };
}
