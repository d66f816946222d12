import Decimal from 'decimal.js';

/** The mark between whole and fraction; the other one then groups thousands. */
export type DecimalMark = '.' | ',';

/** Currency signs and codes that may stand beside an amount. ISO 4217 codes are any three capitals. */
const CURRENCY = /^(?:[A-Z]{3}|[€$£¥])\s*|\s*(?:[A-Z]{3}|[€$£¥])$/g;
/** Marks that group thousands in print besides the point and the comma. */
const BLANKS = /(?<=\d)[\s\u00a0\u2009\u202f'](?=\d{3}(?!\d))/g;

/**
 * An amount as printed → decimal, or null when the text is not one amount.
 * Signs before or after, amounts in brackets (negative), currency marks and grouped thousands are understood.
 * Grouping must be in threes: "1,23" with `mark` "." is refused rather than guessed, because a misread mark is a factor of a hundred.
 * Digit patterns follow Unicode CLDR number patterns (`#,##0.###`).
 */
export function parseAmount(printed: string, mark: DecimalMark): Decimal | null {
  let text = printed.trim().replace(CURRENCY, '').trim();
  const bracketed = /^\((.+)\)$/.exec(text);
  if (bracketed?.[1] !== undefined) text = `-${bracketed[1]}`;
  text = text.replace(/[\u2212\u2013]/g, '-').replace(/^([+-])\s+/, '$1').replace(CURRENCY, '').replace(BLANKS, '');
  const trailing = /^([\d.,]+)-$/.exec(text);
  if (trailing?.[1] !== undefined) text = `-${trailing[1]}`;
  const group = mark === '.' ? ',' : '\\.';
  const point = mark === '.' ? '\\.' : ',';
  const shape = new RegExp(`^[+-]?(?:\\d+|\\d{1,3}(?:${group}\\d{3})+)(?:${point}\\d+)?$`);
  if (!shape.test(text) || text.length > 30) return null;
  return new Decimal(text.replaceAll(mark === '.' ? ',' : '.', '').replace(mark, '.').replace(/^\+/, ''));
}

/** A decimal in plain notation, with at least `places` digits after the point and never fewer than it has. */
export function plainAmount(value: Decimal, places = 0): string {
  return value.toFixed(Math.max(places, value.decimalPlaces()));
}

/** For people: thousands grouped, two places or as many as there are. */
export function shownAmount(plain: string): string {
  const [whole = '', fraction] = plain.split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+(?!\d))/g, ',');
  return fraction === undefined ? grouped : `${grouped}.${fraction}`;
}

/** A normalised (plain) decimal back as a number to compute with; null for anything else. */
export function decimalOf(plain: string | null | undefined): Decimal | null {
  if (plain === null || plain === undefined || !/^-?\d+(\.\d+)?$/.test(plain)) return null;
  return new Decimal(plain);
}
