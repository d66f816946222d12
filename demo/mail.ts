import nodemailer from 'nodemailer';
import type { Bill } from './bills/bill';

const SENDERS = { merrow: '"Merrow Haulage" <accounts@merrow-haulage.example>', tollan: '"Tollan & Daughters" <billing@tollan-reefer.example>' } as const;

export interface Letter {
  readonly from: string;
  readonly subject: string;
  readonly text: string;
  readonly attachments: readonly { readonly filename: string; readonly content: Buffer; readonly contentType: string }[];
}

/** The mail in which a haulier sends a bill. */
export function billLetter(bill: Bill, pdf: Buffer): Letter {
  const filename = `${bill.haulier}-${bill.number.replace(/\W/g, '-')}.pdf`;
  return { from: SENDERS[bill.haulier], subject: `${bill.haulier === 'merrow' ? 'Bill' : 'Invoice'} ${bill.number}`, text: 'Good day,\n\nplease find our bill enclosed.\n\nWith kind regards\n', attachments: [{ filename, content: pdf, contentType: 'application/pdf' }] };
}

export const emptyLetter: Letter = { from: SENDERS.merrow, subject: 'Your question about September', text: 'Good day,\n\nyes, the cold hall is open on Saturday as well.\n\nWith kind regards\n', attachments: [] };

export const damagedLetter = (pdf: Buffer): Letter => ({ from: SENDERS.tollan, subject: 'Invoice, once more', text: 'See enclosed.\n', attachments: [{ filename: 'invoice.pdf', content: pdf.subarray(0, Math.floor(pdf.length / 2)), contentType: 'application/pdf' }] });

/** Sends letters to the stand-in mail server. */
export function postman(smtpPort: number): (letter: Letter) => Promise<void> {
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port: smtpPort, secure: false, ignoreTLS: true });
  return async (letter) => void (await transport.sendMail({ ...letter, attachments: [...letter.attachments], to: 'office@skarrow.example' }));
}
