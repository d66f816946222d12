import Decimal from 'decimal.js';
import type { Page, Place } from '@/core/page/page';
import { linesOf } from '@/core/page/lines';
import { parseAmount, plainAmount, shownAmount, type DecimalMark } from '@/core/value/amount';
import type { GapExplanation } from './finding';
import { MINUS_WORDS, PLUS_WORDS, type GapField, type GapSearch, type StrayAmount } from './gap';

/** A rate printed on the page: "20 %". */
export interface TaxRate {
  /** 0..1. */
  readonly rate: Decimal;
  readonly printed: string;
  readonly place: Place;
}

const RATE = /^\(?(\d{1,2}(?:[.,]\d{1,2})?)\s?%\)?[:;,.]?$/;
/** A rate above this is no tax. */
const MOST_RATE = 0.4;
const TAX_NAME = /tax|vat|duty|gst/i;
const MOST_RATES = 12;

/** All rates on the pages, each once. */
export function ratesOn(pages: readonly Page[], mark: DecimalMark): TaxRate[] {
  const found = pages.flatMap((page) => linesOf(page).flatMap((line) => line.words.flatMap((word, index): TaxRate[] => {
    const joined = line.words[index + 1]?.text.startsWith('%') ? `${word.text}%` : word.text;
    const figure = RATE.exec(joined)?.[1];
    const rate = figure === undefined ? null : parseAmount(figure, mark)?.div(100) ?? null;
    return rate && rate.gt(0) && rate.lte(MOST_RATE) ? [{ rate, printed: joined, place: { page: line.page, box: word.box } }] : [];
  })));
  return found.filter((one, index) => found.findIndex((other) => other.rate.eq(one.rate)) === index).slice(0, MOST_RATES);
}

/**
 * Gaps that a rate explains: an allowance or charge that was left out together with its tax, and a tax that was not read although its
 * rate stands on the page (EN 16931, BR-CO-17: tax = taxable amount × rate, rounded to two places).
 */
export function explainByTax(search: GapSearch, rates: readonly TaxRate[], computed: Decimal): GapExplanation[] {
  return [...rates.flatMap((rate) => taxLeftOut(search, rate, computed)), ...search.amounts.flatMap((amount) => rates.flatMap((rate) => withItsTax(search, amount, rate)))].slice(0, 4);
}

const cents = (amount: Decimal): Decimal => amount.toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
const taxField = (fields: readonly GapField[]): GapField | undefined => fields.find((field) => field.sign === 1 && TAX_NAME.test(`${field.key} ${field.label}`));
const closes = (search: GapSearch, amount: Decimal): boolean => amount.minus(search.difference).abs().lte(search.tolerance);

function taxLeftOut(search: GapSearch, { rate, printed, place }: TaxRate, computed: Decimal): GapExplanation[] {
  const field = taxField(search.fields);
  const tax = cents(computed.times(rate));
  if (!field || !field.current.isZero() || tax.isZero() || !closes(search, tax)) return [];
  const value = plainAmount(tax, 2);
  return [{ amounts: [{ value, printed, label: field.label, sign: 1, place }], text: `With ${printed} of ${shownAmount(plainAmount(computed, 2))}, ${shownAmount(value)}, as ${field.label.toLowerCase()} it adds up.`, mend: { field: field.key, value, printed, place } }];
}

function withItsTax(search: GapSearch, amount: StrayAmount, { rate, printed }: TaxRate): GapExplanation[] {
  const sign = MINUS_WORDS.test(amount.context) ? -1 : PLUS_WORDS.test(amount.context) ? 1 : null;
  const tax = cents(amount.value.times(rate));
  if (sign === null || tax.isZero() || !closes(search, amount.value.plus(tax).times(sign))) return [];
  const field = search.fields.find((candidate) => candidate.sign === sign && candidate.current.isZero() && !TAX_NAME.test(candidate.label));
  const taxed = taxField(search.fields);
  const value = plainAmount(amount.value, 2);
  const label = amount.label === '' ? '' : ` (“${amount.label}”)`;
  return [{
    amounts: [{ value, printed: amount.printed, label: amount.label, sign, place: amount.place }],
    text: `With ${shownAmount(value)}${label} and its tax of ${printed}, ${shownAmount(plainAmount(tax, 2))}, ${sign < 0 ? 'taken off' : 'added'} it adds up.`,
    mend: field ? { field: field.key, value, printed: amount.printed, place: amount.place, ...(taxed ? { also: { field: taxed.key, value: plainAmount(taxed.current.plus(tax.times(sign)), 2) } } : {}) } : null,
  }];
}
