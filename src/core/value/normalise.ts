import { parseAmount, plainAmount, type DecimalMark } from './amount';
import { parseDate, type DateOrder } from './date';

export const VALUE_TYPES = ['text', 'number', 'money', 'date', 'identifier', 'choice', 'yes-no'] as const;
export type ValueType = (typeof VALUE_TYPES)[number];

/** How a layout or a country writes figures and dates. */
export interface LocaleHints {
  readonly decimal: DecimalMark;
  readonly dates: DateOrder;
}

export const PLAIN_LOCALE: LocaleHints = { decimal: '.', dates: 'dmy' };

export type Normalised = { readonly ok: true; readonly value: string } | { readonly ok: false; readonly why: string };

/** Longest text taken for one value; a field that holds more has read a whole page by mistake. */
const MOST_CHARACTERS = 2000;

/**
 * As printed → as kept: plain decimals, ISO dates, identifiers with their leading zeros, text with single blanks.
 * The reason of a refusal is a sentence for the desk.
 */
export function normalise(type: ValueType, printed: string, locale: LocaleHints): Normalised {
  const text = printed.replace(/\s+/g, ' ').trim();
  if (text === '') return { ok: false, why: 'Nothing is printed here' };
  if (text.length > MOST_CHARACTERS) return { ok: false, why: `This is ${text.length} characters long; a value has at most ${MOST_CHARACTERS}` };
  switch (type) {
    case 'money':
      return numeric(text, locale, 2);
    case 'number':
      return numeric(text, locale, 0);
    case 'date': {
      const date = parseDate(text, locale.dates);
      return date === null ? { ok: false, why: `“${quoted(text)}” is not a date that exists` } : { ok: true, value: date };
    }
    case 'identifier':
      return identifier(text);
    case 'yes-no':
      return yesOrNo(text);
    case 'text':
    case 'choice':
      return { ok: true, value: text };
  }
}

/** A unit behind a number, as in "12 kg", "20 %" or "3 boxes"; units of a quantity are often printed so. */
const UNIT_BEHIND = /(?<=\d)\s*(?:%|°C|[a-zµ]{1,7}\d?\.?)$/i;

function numeric(text: string, locale: LocaleHints, places: number): Normalised {
  const amount = parseAmount(text, locale.decimal) ?? (places === 0 ? parseAmount(text.replace(UNIT_BEHIND, ''), locale.decimal) : null);
  if (amount === null) return { ok: false, why: `“${quoted(text)}” is not an amount with “${locale.decimal}” before the fraction` };
  return { ok: true, value: plainAmount(amount, places) };
}

function identifier(text: string): Normalised {
  const value = text.replace(/^[:#\s]+|[\s.,;:]+$/g, '');
  if (!/\d|[A-Z]/i.test(value) || value.split(' ').length > 6) return { ok: false, why: `“${quoted(text)}” does not look like an identifier` };
  return { ok: true, value };
}

const YES = /^(?:yes|y|true|ja|oui|s[ií]|x|[☑☒✓✔✗✘]|1)$/i;
const NO = /^(?:no|n|false|nein|non|nee|[☐]|0)$/i;

function yesOrNo(text: string): Normalised {
  if (YES.test(text)) return { ok: true, value: 'yes' };
  return NO.test(text) ? { ok: true, value: 'no' } : { ok: false, why: `“${quoted(text)}” says neither yes nor no` };
}

/** Input quoted in an error is cut, so that a message stays a message. */
export function quoted(text: string): string {
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}
