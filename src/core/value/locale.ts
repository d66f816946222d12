import type { DecimalMark } from './amount';
import type { DateOrder } from './date';
import type { LocaleHints } from './normalise';

/** Figures whose marks can only be read one way: a group of three behind the other mark, or one or two places behind the mark. */
const POINT = /(?:^|[^\d.,])(?:\d{1,3}(?:,\d{3})+\.\d{1,4}|\d+\.\d{1,2})(?![\d.,]*\d)/;
const COMMA = /(?:^|[^\d.,])(?:\d{1,3}(?:\.\d{3})+,\d{1,4}|\d+,\d{1,2})(?![\d.,]*\d)/;
const SLASHED = /\b(\d{1,2})[/.-](\d{1,2})[/.-](\d{4}|\d{2})\b/;
const AMERICAN = /(?:^|\s)(?:US\$|\$\s?\d|USD\b)/;

/**
 * How a document writes figures and dates, told from its own words: the mark that stands before one or two last figures more
 * often is the decimal mark; a first figure above 12 can only be a day. Hints given by the kind win.
 */
export function localeOf(texts: readonly string[], hints: Partial<LocaleHints> = {}): LocaleHints {
  return { decimal: hints.decimal ?? decimalMarkOf(texts), dates: hints.dates ?? dateOrderOf(texts) };
}

function decimalMarkOf(texts: readonly string[]): DecimalMark {
  const count = (shape: RegExp) => texts.filter((text) => !isDateLike(text) && shape.test(text)).length;
  return count(COMMA) > count(POINT) ? ',' : '.';
}

/** "12.03.26" has the shape of a figure and is none. */
const isDateLike = (text: string): boolean => /\d{1,2}[./-]\d{1,2}[./-]\d{2,4}/.test(text);

function dateOrderOf(texts: readonly string[]): DateOrder {
  let [dayFirst, monthFirst] = [0, 0];
  for (const text of texts) {
    const found = SLASHED.exec(text);
    if (!found) continue;
    if (Number(found[1]) > 12) dayFirst += 1;
    if (Number(found[2]) > 12) monthFirst += 1;
  }
  if (dayFirst !== monthFirst) return dayFirst > monthFirst ? 'dmy' : 'mdy';
  return texts.some((text) => AMERICAN.test(text)) ? 'mdy' : 'dmy';
}
