import { createHash } from 'node:crypto';
import { simpleParser, type Attachment, type ParsedMail } from 'mailparser';
import { SOURCE_LIMITS, safeFileName } from '../limits';
import type { Arrival, ArrivedFile } from '../source';

/**
 * A raw message (RFC 5322, MIME per RFC 2045–2047 and 2231) as an arrival. Never throws: what cannot be parsed is kept whole
 * with a sentence about it. The key is the hash of the raw bytes, so that a mailbox whose numbering was reset gives no doubles.
 */
export async function arrivalFrom(raw: Buffer, mailbox: { readonly uid: number; readonly folder: string }, bodies: 'report' | 'read' = 'report'): Promise<Arrival> {
  const base = { dedupeKey: createHash('sha256').update(raw).digest('hex'), type: 'leadline.mail.arrived', data: { ...mailbox } };
  const whole: ArrivedFile = { name: `message-${mailbox.uid}.eml`, mediaType: 'message/rfc822', bytes: raw };
  let mail: ParsedMail;
  try {
    mail = await simpleParser(raw, { skipImageLinks: true, maxHtmlLengthToParse: 2_000_000 });
  } catch (error) {
    const text = `The mail is damaged and could not be taken apart (${(error as Error).message.slice(0, 120)}). It is kept whole; ask the sender for it again.`;
    return { ...base, sender: null, subject: null, occurredAt: null, files: [whole], problem: { code: 'damaged-mail', text } };
  }
  const about = { ...base, sender: senderOf(mail), subject: mail.subject?.slice(0, 500) ?? null, occurredAt: mail.date && !Number.isNaN(mail.date.getTime()) ? mail.date.toISOString() : null };
  const files = mail.attachments.filter(isDocument).slice(0, SOURCE_LIMITS.filesPerMail).map(fileFrom);
  if (files.length > 0) return { ...about, files, problem: null };
  const trouble = nothingToRead(mail, raw);
  if (bodies === 'read' && trouble.words > 0) return { ...about, files: [{ ...whole, name: `${safeFileName(mail.subject, `message-${mailbox.uid}`)}.eml` }], problem: null };
  return { ...about, files: [whole], problem: { code: 'no-attachment', text: trouble.text } };
}

function senderOf(mail: ParsedMail): string | null {
  const first = mail.from?.value[0];
  if (!first) return null;
  return (first.name ? `${first.name} <${first.address ?? ''}>` : (first.address ?? '')).slice(0, 320) || null;
}

/** Pictures inside the text of a mail (logos, signatures) are not documents; inline PDFs are. */
function isDocument(part: Attachment): boolean {
  return !(part.related && part.contentType.startsWith('image/')) && !/^(text\/(calendar|x-vcard)|application\/(pgp-signature|pkcs7-signature))$/.test(part.contentType);
}

function fileFrom(part: Attachment, index: number): ArrivedFile {
  const ending = part.contentType === 'application/pdf' ? '.pdf' : '';
  return { name: safeFileName(part.filename, `attachment-${index + 1}${ending}`), mediaType: part.contentType, bytes: part.content };
}

/** A multipart message without any part is broken rather than empty. */
function nothingToRead(mail: ParsedMail, raw: Buffer): { readonly text: string; readonly words: number } {
  const head = raw.subarray(0, 20_000).toString('latin1');
  if (/^content-type:\s*multipart\/(mixed|related)/im.test(head) && /application\/pdf|filename=/i.test(raw.toString('latin1'))) {
    return { words: 0, text: 'The mail announces an attachment, but its parts are damaged and none could be taken out. It is kept whole; ask the sender for it again.' };
  }
  const words = (mail.text ?? '').trim().split(/\s+/).filter(Boolean).length;
  return { words, text: `The mail has no attachment${words > 0 ? `, only ${words} words of text` : ' and no text'}. It is kept whole; ask the sender for the document, or leave it.` };
}
