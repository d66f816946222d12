import type { Place, Word } from '@/core/page/page';

export const READERS = ['pattern', 'anchor', 'zone', 'table', 'described', 'learned', 'structured', 'list', 'remembered', 'service', 'person', 'none'] as const;
/** Who found a value. `list`: looked up in a bound list. `remembered`: answered once by a person. `person`: typed or clicked at the desk. `none`: nobody, the value is empty. */
export type ReaderName = (typeof READERS)[number];

/** One observation that speaks for or against a reading. */
export interface Evidence {
  readonly what: string;
  /** How likely the reading is right as far as this observation goes, 0..1. */
  readonly factor: number;
}

/** One value found: as printed, as normalised, where, by which reader, how sure. */
export interface Reading {
  readonly text: string;
  /** Plain decimal, ISO date, identifier or text; null when there is none or it could not be normalised. */
  readonly value: string | null;
  readonly place: Place | null;
  /** The landmark beside which it was found. */
  readonly anchor: Place | null;
  readonly reader: ReaderName;
  /** 0..1, the product of the evidence. */
  readonly confidence: number;
  readonly evidence: readonly Evidence[];
  /** Why the printed text has no normalised value. */
  readonly problem?: string;
}

export type Row = Readonly<Record<string, Reading>>;

/** Everything read from one document, by field and by table. */
export interface Readings {
  readonly fields: Readonly<Record<string, Reading>>;
  readonly tables: Readonly<Record<string, readonly Row[]>>;
}

/** A column of a table as found on one page: name and horizontal extent in points. */
export interface ColumnBand {
  readonly column: string;
  readonly page: number;
  readonly box: readonly [number, number, number, number];
}

/** What one reader of the chain made of a field. */
export interface Tried {
  readonly reader: ReaderName;
  readonly found: number;
  readonly best: number | null;
}

/** The outcome of reading one document with one kind. */
export interface DocumentReading extends Readings {
  readonly kind: string;
  /** Key of the layout used, or null when none was recognised. */
  readonly layout: string | null;
  /** Why each layout that stands before the used one did not match, in plain words. */
  readonly misses: readonly string[];
  readonly bands: readonly ColumnBand[];
  /** Other values that readers offered for a field, best first; suggestions at the desk. */
  readonly alternatives: Readonly<Record<string, readonly Reading[]>>;
  readonly tried: Readonly<Record<string, readonly Tried[]>>;
  /** What would help and was not at hand; see `reading/aids`. Absent: nothing. */
  readonly wants?: readonly Want[];
  /** What services were paid for this document. */
  readonly costs?: readonly Cost[];
}

/** Something that reading can go on with once somebody has fetched it: a second recognition of a page, or the answer of a service. */
export type Want = { readonly want: 'second recognition'; readonly page: number } | { readonly want: 'service'; readonly service: string; readonly tier: string };

export interface Cost {
  readonly service: string;
  readonly tier: string;
  /** Decimal. */
  readonly amount: string;
  readonly currency: string;
}

export const NOTHING_READ: Reading = { text: '', value: null, place: null, anchor: null, reader: 'none', confidence: 0, evidence: [] };

/** The address of one value: `total`, or `lines.2.amount` for a table cell (rows from 0). */
export type ValuePath = string;

export const cellPath = (table: string, row: number, column: string): ValuePath => `${table}.${row}.${column}`;

/** The reading at a path, or null where there is none. */
export function readingAt(readings: Readings, path: ValuePath): Reading | null {
  const [first = '', row, column] = path.split('.');
  if (row === undefined || column === undefined) return readings.fields[first] ?? null;
  return readings.tables[first]?.[Number(row)]?.[column] ?? null;
}

/** The confidence of a set of observations: their product. Independent sources of error multiply. */
export function confidenceOf(evidence: readonly Evidence[]): number {
  const product = evidence.reduce((sum, item) => sum * item.factor, 1);
  return Math.round(product * 1000) / 1000;
}

/** How the evidence of recognised words begins; text layers give none. */
export const RECOGNISED = 'the least sure word was recognised with';

/** Was the value recognised in a picture, where letters can be misread? */
export const wasRecognised = (reading: Reading): boolean => reading.evidence.some((item) => item.what.startsWith(RECOGNISED));

/** What the recogniser's own sureness says about a value: nothing where the text is the file's own. */
export function surenessOf(words: readonly Word[]): Evidence[] {
  const seen = words.flatMap((word) => (word.sure === undefined ? [] : [word.sure]));
  if (seen.length === 0) return [];
  const least = Math.min(...seen);
  return [{ what: `${RECOGNISED} ${Math.round(least * 100)}`, factor: least >= 0.9 ? 0.995 : least >= 0.8 ? 0.97 : least >= 0.6 ? 0.85 : 0.6 }];
}
