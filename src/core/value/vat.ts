/**
 * VAT identification numbers of countries whose check digits are published (European Commission, "VIES: algorithms", as implemented by
 * general-purpose libraries, against which tests hold these). Numbers of other countries are only looked at for their form.
 */

const digitsOf = (text: string): number[] => [...text].map(Number);
const weighed = (text: string, weights: readonly number[]): number => weights.reduce((sum, weight, place) => sum + weight * Number(text[place]), 0);
const last = (text: string): number => Number(text.at(-1));

interface Rule {
  readonly form: RegExp;
  /** Of the part after the country's letters. */
  readonly fits: (text: string) => boolean;
}

const RULES: Readonly<Record<string, Rule>> = {
  AT: { form: /^U\d{8}$/, fits: (text) => (10 - ((digitsOf(text.slice(1, 8)).reduce((sum, digit, place) => sum + (place % 2 === 0 ? digit : Math.floor(digit / 5) + ((digit * 2) % 10)), 0) + 4) % 10)) % 10 === last(text) },
  BE: { form: /^[01]\d{9}$/, fits: (text) => 97 - (Number(text.slice(0, 8)) % 97) === Number(text.slice(8)) },
  DE: { form: /^[1-9]\d{8}$/, fits: (text) => mod11And10(text) },
  DK: { form: /^[1-9]\d{7}$/, fits: (text) => weighed(text, [2, 7, 6, 5, 4, 3, 2, 1]) % 11 === 0 },
  EE: { form: /^\d{9}$/, fits: (text) => weighed(text, [3, 7, 1, 3, 7, 1, 3, 7, 1]) % 10 === 0 },
  EL: { form: /^\d{9}$/, fits: (text) => (weighed(text, [256, 128, 64, 32, 16, 8, 4, 2]) % 11) % 10 === last(text) },
  FI: { form: /^\d{8}$/, fits: (text) => weighed(text, [7, 9, 10, 5, 8, 4, 2, 1]) % 11 === 0 },
  FR: { form: /^\d{11}$/, fits: (text) => luhn(text.slice(2)) && (12 + 3 * (Number(text.slice(2)) % 97)) % 97 === Number(text.slice(0, 2)) },
  HU: { form: /^\d{8}$/, fits: (text) => weighed(text, [9, 7, 3, 1, 9, 7, 3, 1]) % 10 === 0 },
  IT: { form: /^\d{11}$/, fits: (text) => luhn(text) },
  LU: { form: /^\d{8}$/, fits: (text) => Number(text.slice(0, 6)) % 89 === Number(text.slice(6)) },
  NL: { form: /^\d{9}B\d{2}$/, fits: (text) => weighed(text, [9, 8, 7, 6, 5, 4, 3, 2]) % 11 === Number(text[8]) || mod97(`NL${text}`) === 1 },
  PL: { form: /^\d{10}$/, fits: (text) => weighed(text, [6, 5, 7, 2, 3, 4, 5, 6, 7]) % 11 === last(text) },
  PT: { form: /^[1-9]\d{8}$/, fits: (text) => ((11 - (weighed(text, [9, 8, 7, 6, 5, 4, 3, 2]) % 11)) % 11) % 10 === last(text) },
  SE: { form: /^\d{10}01$/, fits: (text) => luhn(text.slice(0, 10)) },
};

/** Countries of which check digits are looked at. */
export const VAT_COUNTRIES = Object.keys(RULES);

export function isVatNumber(printed: string): boolean {
  const text = printed.replace(/[\s.-]/g, '').toUpperCase();
  const [country, rest] = [text.slice(0, 2) === 'GR' ? 'EL' : text.slice(0, 2), text.slice(2)];
  const rule = RULES[country];
  return rule ? rule.form.test(rest) && rule.fits(rest) : /^[A-Z]{2}[A-Z0-9+*]{2,13}$/.test(text);
}

/** ISO 7064, MOD 11,10. */
function mod11And10(text: string): boolean {
  let product = 10;
  for (const digit of digitsOf(text.slice(0, -1))) {
    const sum = (digit + product) % 10 || 10;
    product = (2 * sum) % 11;
  }
  return (11 - product) % 10 === last(text);
}

/** ISO/IEC 7812-1, annex B. */
const luhn = (text: string): boolean => [...text].reverse().reduce((sum, digit, place) => sum + (place % 2 === 1 ? ((Number(digit) * 2) % 10) + Math.floor(Number(digit) / 5) : Number(digit)), 0) % 10 === 0;

/** ISO 7064, MOD 97-10; letters count from A = 10. */
function mod97(text: string): number {
  let rest = 0;
  for (const digit of [...text].map((letter) => parseInt(letter, 36)).join('')) rest = (rest * 10 + Number(digit)) % 97;
  return rest;
}
