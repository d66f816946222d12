import { spawnSync } from 'node:child_process';
import type { ResultValue, ServiceResult, Tier } from '@/contracts/reading-service';
import { seededChance } from '../weather';

/** What a tier is like, beyond what it says of itself. */
export interface TierNature extends Tier {
  readonly thinksMs: number;
  /** Share of values that come out wrong. */
  readonly errors: number;
}

export const TIERS: readonly TierNature[] = [
  { name: 'glance', about: 'Quick and rough; about one value in fifteen is wrong.', pricePerPage: '0.01', thinksMs: 250, errors: 0.065 },
  { name: 'read', about: 'For clean print; about one value in sixty is wrong.', pricePerPage: '0.04', thinksMs: 900, errors: 0.016 },
  { name: 'study', about: 'Slow and careful, for stained slips and handwriting.', pricePerPage: '0.15', thinksMs: 2200, errors: 0.002 },
];

export const FIELDS = ['sender_name', 'document_number', 'document_date', 'due_date', 'account_number', 'order_number', 'net_amount', 'tax_amount', 'total_amount', 'vehicle', 'material', 'gross_weight', 'tare_weight', 'net_weight'] as const;
export const TABLES = [{ name: 'line_items', columns: ['description', 'quantity', 'unit', 'unit_price', 'amount'] }] as const;

/** True values of a document, under the service's own names. */
export interface Known {
  readonly pages: number;
  readonly fields: Readonly<Record<string, string | null>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, string | null>>[]>>;
}

/** A simulated reading: the true values, spoiled now and then as the tier does it. The same document at the same tier gives the same. */
export function readingOf(known: Known, tier: TierNature, sha256: string): ServiceResult {
  const chance = seededChance(parseInt(sha256.slice(0, 8), 16) ^ (tier.name.length * 7919));
  const value = (text: string): ResultValue => {
    const spoils = chance() < tier.errors;
    // A service is less sure of what it got wrong, but not always.
    const confidence = spoils ? 0.35 + chance() * 0.6 : 0.9 + chance() * 0.09;
    return { value: spoils ? spoiled(text, chance) : text, confidence: Math.round(confidence * 100) / 100 };
  };
  const values = (row: Readonly<Record<string, string | null>>): Record<string, ResultValue> => Object.fromEntries(Object.entries(row).flatMap(([name, text]) => (text === null ? [] : [[name, value(text)]])));
  return { pages: known.pages, cost: (known.pages * Number(tier.pricePerPage)).toFixed(2), fields: values(known.fields), tables: Object.fromEntries(Object.entries(known.tables).map(([name, rows]) => [name, rows.map(values)])) };
}

/** A figure for a figure, a letter for a letter, at one place. */
function spoiled(text: string, chance: () => number): string {
  const places = [...text].flatMap((letter, index) => (/[a-z0-9]/i.test(letter) ? [index] : []));
  const at = places[Math.floor(chance() * places.length)];
  if (at === undefined) return text;
  const letter = text[at] ?? '';
  const other = /\d/.test(letter) ? String((Number(letter) + 1 + Math.floor(chance() * 8)) % 10) : letter.toLowerCase() === 'e' ? 'c' : 'e';
  return text.slice(0, at) + other + text.slice(at + 1);
}

const WORDINGS: Readonly<Record<string, RegExp>> = {
  document_number: /(?:invoice|bill|note|ticket|document|order)\s*(?:no\.?|number|#)[:\s]+(\S*\d\S*)/i,
  document_date: /\b(\d{4}-\d{2}-\d{2})\b/,
  net_amount: /(?:net|subtotal)[^\d\n]*([\d,]+\.\d{2})/i,
  tax_amount: /(?:vat|tax)[^\n]*?([\d,]+\.\d{2})/i,
  total_amount: /(?:total due|amount due|grand total|payable|total)[^\d\n]*([\d,]+\.\d{2})/i,
};

/** Of documents that nobody has told it about, what a few wordings find in the text layer; null when there is none. */
export function plainReading(bytes: Buffer): Known | null {
  const text = spawnSync('pdftotext', ['-layout', '-', '-'], { input: bytes, timeout: 10_000, maxBuffer: 4_000_000 }).stdout?.toString('utf8') ?? '';
  const fields = Object.fromEntries(Object.entries(WORDINGS).flatMap(([name, wording]) => {
    const found = wording.exec(text)?.[1];
    return found === undefined ? [] : [[name, name.endsWith('amount') ? found.replaceAll(',', '') : found]];
  }));
  return Object.keys(fields).length === 0 ? null : { pages: Math.max(1, text.split('\f').length - 1), fields, tables: {} };
}
