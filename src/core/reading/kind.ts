import { normalise, type LocaleHints, type Normalised, type ValueType } from '@/core/value/normalise';

/** One value that a document of this kind holds. */
export interface FieldDefinition {
  readonly key: string;
  readonly label: string;
  readonly type: ValueType;
  /** A missing required field is a finding that must be fixed. Default false. */
  readonly required?: boolean;
  /** One sentence for people (and later for readers that work from descriptions). */
  readonly description?: string;
  /** The confidence below which a person looks, 0..1. Default {@link DEFAULT_THRESHOLD}. */
  readonly threshold?: number;
  /** Drop a printed sign: a discount is kept as a positive amount, the check knows its direction. Default false. */
  readonly unsigned?: boolean;
}

export interface TableDefinition {
  readonly key: string;
  readonly label: string;
  readonly required?: boolean;
  readonly columns: readonly FieldDefinition[];
}

/** Which pages a reader looks at. Default `any`. */
export type PageChoice = 'first' | 'last' | 'any';

export interface PatternSettings {
  readonly reader: 'pattern';
  /** A regular expression of the linear-time kind (RE2 syntax). The first group, or else the whole match, is the value. */
  readonly pattern: string;
  readonly page?: PageChoice;
}

export interface AnchorSettings {
  readonly reader: 'anchor';
  /** Wordings of the landmark beside which the value stands; found fuzzily. */
  readonly anchors: readonly string[];
  readonly direction: 'right' | 'below';
  /** Farthest value, in points from the landmark's edge. Default 400 to the right, 40 below. */
  readonly within?: number;
  readonly page?: PageChoice;
}

export interface TableSettings {
  readonly reader: 'table';
  /** Per column, the wordings of its heading. */
  readonly headings: Readonly<Record<string, readonly string[]>>;
  /** A line that begins with one of these ends the table. */
  readonly end: readonly string[];
  /** A line that begins with one of these is no row: running subtotals, repeated titles. */
  readonly skip?: readonly string[];
  /** The column that is filled exactly once per row; lines without it belong to a neighbouring row. */
  readonly once: string;
  /** On which side of the row's own line its wrapped lines stand. Default `below`. */
  readonly wrapped?: 'below' | 'above';
}

export type FieldReaderSettings = (PatternSettings | AnchorSettings) & {
  /** Confidence at which the chain stops at this reader, 0..1. Default {@link DEFAULT_ENOUGH}. */
  readonly enough?: number;
};

/** How one sender lays the kind out on paper. The first layout whose landmarks all stand on the document is used. */
export interface LayoutDefinition {
  readonly key: string;
  readonly name: string;
  readonly recognise: readonly string[];
  readonly locale: LocaleHints;
  readonly fields: Readonly<Record<string, readonly FieldReaderSettings[]>>;
  readonly tables: Readonly<Record<string, TableSettings>>;
}

/** quantity × price = amount on every row. */
export interface LineAmountCheck {
  readonly check: 'line-amount';
  readonly table: string;
  readonly quantity: string;
  readonly price: string;
  readonly amount: string;
  /** Largest difference that still passes, as a decimal. Default "0.01", the rounding of one amount. */
  readonly tolerance?: string;
}

/** Sum of a column − minus + plus = equals. */
export interface ReconcileCheck {
  readonly check: 'reconcile';
  readonly lines: { readonly table: string; readonly column: string };
  readonly minus?: readonly string[];
  readonly plus?: readonly string[];
  readonly equals: string;
  /** Largest difference that still passes, as a decimal. Default "0.01". */
  readonly tolerance?: string;
}

export type CheckDefinition = LineAmountCheck | ReconcileCheck;

/** What a sort of document holds: fields, tables with columns, checks, and the readers that find them. */
export interface KindDefinition {
  readonly leadline: 'kind/1';
  readonly key: string;
  readonly name: string;
  readonly description?: string;
  readonly fields: readonly FieldDefinition[];
  readonly tables: readonly TableDefinition[];
  readonly layouts: readonly LayoutDefinition[];
  readonly checks: readonly CheckDefinition[];
}

/** Until a sounding has measured a better one. */
export const DEFAULT_THRESHOLD = 0.8;
/** The chain goes on to the next reader below this. */
export const DEFAULT_ENOUGH = 0.85;

/** A printed text as the field keeps it. */
export function normaliseFor(field: FieldDefinition, printed: string, locale: LocaleHints): Normalised {
  const normalised = normalise(field.type, printed, locale);
  return normalised.ok && field.unsigned ? { ok: true, value: normalised.value.replace(/^-/, '') } : normalised;
}

export const thresholdOf = (field: FieldDefinition): number => field.threshold ?? DEFAULT_THRESHOLD;
