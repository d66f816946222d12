import { isVatNumber } from './vat';

/** Identifiers that carry their own proof. Each says of a text whether its check characters fit; form and blanks are forgiven. */
export const SCHEMES = ['iban', 'creditor-reference', 'container', 'gtin', 'luhn', 'vat'] as const;
export type Scheme = (typeof SCHEMES)[number];

export const SCHEME_NAMES: Readonly<Record<Scheme, string>> = { iban: 'an IBAN', 'creditor-reference': 'a creditor reference', container: 'a container number', gtin: 'an article number (GTIN)', luhn: 'a number with a Luhn digit', vat: 'a VAT number' };

export function hasRightDigits(scheme: Scheme, printed: string): boolean {
  const text = printed.replace(/[\s.-]/g, '').toUpperCase();
  switch (scheme) {
    case 'iban':
      return /^[A-Z]{2}\d{2}[A-Z0-9]{11,30}$/.test(text) && mod97(text) === 1;
    case 'creditor-reference':
      return /^RF\d{2}[A-Z0-9]{1,21}$/.test(text) && mod97(text) === 1;
    case 'container':
      return /^[A-Z]{3}[UJZ]\d{7}$/.test(text) && containerDigit(text.slice(0, 10)) === Number(text[10]);
    case 'gtin':
      return /^(?:\d{8}|\d{12,14})$/.test(text) && weighted(text, [3, 1]) % 10 === 0;
    case 'vat':
      return isVatNumber(text);
    case 'luhn':
      return /^\d{2,30}$/.test(text) && luhnSum(text) % 10 === 0;
  }
}

/** ISO 7064, MOD 97-10, as ISO 13616 (IBAN) and ISO 11649 (creditor reference) use it: the first four characters go to the end, letters count from A = 10. */
function mod97(text: string): number {
  const digits = [...`${text.slice(4)}${text.slice(0, 4)}`].map((letter) => parseInt(letter, 36)).join('');
  let rest = 0;
  for (const digit of digits) rest = (rest * 10 + Number(digit)) % 97;
  return rest;
}

/** ISO 6346: letters count from A = 10 without multiples of 11, each place twice the one before, modulo 11, 10 as 0. */
function containerDigit(text: string): number {
  const values = [...text].map((letter) => (/\d/.test(letter) ? Number(letter) : letterValue(letter)));
  return (values.reduce((sum, value, place) => sum + value * 2 ** place, 0) % 11) % 10;
}

function letterValue(letter: string): number {
  let value = 10;
  for (let code = 65; code < letter.charCodeAt(0); code += 1) {
    value += 1;
    if (value % 11 === 0) value += 1;
  }
  return value;
}

/** GS1 General Specifications: weights 3 and 1 in turn from the right, the check digit counting once. */
function weighted(text: string, [odd, even]: readonly [number, number]): number {
  return [...text].reverse().reduce((sum, digit, place) => sum + Number(digit) * (place % 2 === 0 ? even : odd), 0);
}

/** ISO/IEC 7812-1, annex B. */
function luhnSum(text: string): number {
  return [...text].reverse().reduce((sum, digit, place) => {
    const value = Number(digit) * (place % 2 === 1 ? 2 : 1);
    return sum + (value > 9 ? value - 9 : value);
  }, 0);
}
