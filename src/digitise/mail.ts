import { convert } from 'html-to-text';
import { simpleParser, type AddressObject } from 'mailparser';
import type { Page } from '@/core/page/page';
import { typeset } from './typeset';

/** Lines of a header field or a continuation of one (RFC 5322, 2.2). */
const HEADER = /^(?:received|from|to|subject|date|message-id|mime-version|return-path|content-type|delivered-to|x-[a-z-]+|dkim-signature|reply-to|cc):/im;

/** Does a text begin like a mail? Two different header fields in its first lines say so. */
export function isMail(bytes: Buffer): boolean {
  const head = bytes.subarray(0, 4000).toString('latin1').split(/\r?\n\r?\n/)[0] ?? '';
  const names = new Set(head.split(/\r?\n/).filter((line) => HEADER.test(line)).map((line) => line.split(':')[0]?.toLowerCase()));
  return names.size >= 2 && (names.has('from') || names.has('subject') || names.has('received'));
}

const addresses = (of: AddressObject | AddressObject[] | undefined): string => (Array.isArray(of) ? of : of ? [of] : []).map((each) => each.text).join(', ');

/** The body of a mail as a page: sender, subject and date above it, tables of HTML in columns. */
export async function readMail(bytes: Buffer): Promise<Page[]> {
  const mail = await simpleParser(bytes, { skipHtmlToText: true, skipImageLinks: true, maxHtmlLengthToParse: 2_000_000 });
  const head = [['From', addresses(mail.from)], ['To', addresses(mail.to)], ['Date', mail.date ? mail.date.toISOString().slice(0, 10) : ''], ['Subject', mail.subject ?? '']].filter(([, value]) => value !== '').map(([name, value]) => `${name}: ${value}`);
  const body = mail.html ? htmlText(mail.html) : (mail.text ?? '');
  return typeset(`${head.join('\n')}\n\n${body}`, { why: mail.html ? 'The body of a mail in HTML, laid out as typed with its tables in columns.' : 'The body of a mail, laid out as typed.' });
}

/** Layout of a mail in HTML as text; every table counts as one of data, because columns must stay columns. */
const htmlText = (html: string): string =>
  convert(html, {
    wordwrap: false,
    selectors: [
      { selector: 'table', format: 'dataTable', options: { uppercaseHeaderCells: false, colSpacing: 4, rowSpacing: 0, maxColumnWidth: 90 } },
      { selector: 'a', options: { ignoreHref: true } },
      { selector: 'img', format: 'skip' },
      ...['h1', 'h2', 'h3', 'h4'].map((selector) => ({ selector, options: { uppercase: false } })),
    ],
  });
