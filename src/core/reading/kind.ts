import type { Box, Word } from '@/core/page/page';
import { normalise, type LocaleHints, type Normalised, type ValueType } from '@/core/value/normalise';
import { mendFigures } from '@/core/value/mend';
import type { Scheme } from '@/core/value/check-digits';
import { similarity } from './landmark';
import type { CleanUp, ListBinding, ServiceUse, SortingHints } from './outside';

export type { CleanUp, ListBinding, ServiceUse, SortingHints };

/** One value that a document of this kind holds. */
export interface FieldDefinition {
  readonly key: string;
  readonly label: string;
  readonly type: ValueType;
  /** A missing required field is a finding that must be fixed. Default false. */
  readonly required?: boolean;
  /** One sentence for people and for the described reader. Wordings in quotation marks count as synonyms. */
  readonly description?: string;
  /** Other names under which papers print it. */
  readonly synonyms?: readonly string[];
  /** For a choice: what can be chosen. */
  readonly options?: readonly string[];
  /** The confidence below which a person looks, 0..1. Default {@link DEFAULT_THRESHOLD}. */
  readonly threshold?: number;
  /** Drop a printed sign: a discount is kept as a positive amount, the check knows its direction. Default false. */
  readonly unsigned?: boolean;
  /** Two independent readings must agree, otherwise the value goes to the desk. Default false. */
  readonly cross?: boolean;
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
  readonly pattern?: string;
  /** Instead of a pattern: the value stands between this and that on a line. Either may be left out. */
  readonly after?: string;
  readonly before?: string;
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

/** A rectangle on the page, found again by registering the page to the landmarks of its layout. */
export interface ZoneSettings {
  readonly reader: 'zone';
  /** In page space of the layout's example. */
  readonly box: Box;
  readonly page?: PageChoice;
}

/** The value is found from the field's name, description, type and common synonyms alone. */
export interface DescribedSettings {
  readonly reader: 'described';
}

/** A label that stood beside a value in a sample. */
export interface LearnedAnchor {
  readonly text: string;
  /** In page space of the sample. */
  readonly box: Box;
}

/** One place where a value of the field was confirmed. */
export interface Spot {
  readonly page: PageChoice;
  readonly box: Box;
  readonly anchors: readonly LearnedAnchor[];
  /** What the value looked like, see `shapeOf`. */
  readonly shape: string;
  /** Printed lines that the value covered. */
  readonly lines: number;
  /** The value itself, where it belongs to the layout and not to the paper: the name in a letterhead. */
  readonly constant?: string;
}

/** Places remembered from confirmed samples and corrections. */
export interface LearnedSettings {
  readonly reader: 'learned';
  readonly spots: readonly Spot[];
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
  /** Columns printed once for several rows, as in merged cells: a row without a value has that of the row above. */
  readonly carry?: readonly string[];
  /** Horizontal extent of each column in points, for pages whose headings cannot be read. */
  readonly bands?: Readonly<Record<string, readonly [number, number]>>;
}

export type FieldReaderSettings = (PatternSettings | AnchorSettings | ZoneSettings | DescribedSettings | LearnedSettings) & {
  /** Confidence at which the chain stops at this reader, 0..1. Default {@link DEFAULT_ENOUGH}. */
  readonly enough?: number;
};

/** A word or wording that stands at the same place on every paper of a layout. */
export interface LayoutLandmark {
  readonly text: string;
  readonly page: number;
  readonly box: Box;
}

/** How one sender lays the kind out on paper. The first layout whose landmarks all stand on the document is used. */
export interface LayoutDefinition {
  readonly key: string;
  readonly name: string;
  readonly recognise: readonly string[];
  /** Stable words with their places, from samples: they tell the layout and register the page to it. */
  readonly landmarks?: readonly LayoutLandmark[];
  /** Names of the samples from which it was learned; a sounding scores it on others. */
  readonly samples?: readonly string[];
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

/** How a breach is taken. Default `must fix`. */
interface Breach {
  readonly severity?: 'must fix' | 'look';
}

/** A figure within bounds. */
export interface RangeCheck extends Breach {
  readonly check: 'range';
  readonly field: string;
  readonly min?: string;
  readonly max?: string;
}

/** A value written in a certain way (RE2 syntax, the whole value). */
export interface PatternCheck extends Breach {
  readonly check: 'pattern';
  readonly field: string;
  readonly pattern: string;
  readonly says?: string;
}

/** An identifier whose check digits must fit. */
export interface CheckDigitsCheck extends Breach {
  readonly check: 'check-digits';
  readonly field: string;
  readonly scheme: Scheme;
}

/** One date not before another. */
export interface DateOrderCheck extends Breach {
  readonly check: 'date-order';
  readonly first: string;
  readonly then: string;
}

/** Anything that can be computed from the values; see `checking/formula`. */
export interface FormulaCheck extends Breach {
  readonly check: 'formula';
  readonly holds: string;
  /** The finding, as a sentence. */
  readonly says: string;
  /** Fields that the finding is about. */
  readonly concerns?: readonly string[];
}

/** A value that must stand in a list. */
export interface InListCheck extends Breach {
  readonly check: 'in-list';
  readonly field: string;
  readonly list: string;
  /** Column to look in. Default: the key of the list. */
  readonly column?: string;
}

/** An earlier document with the same values, or with nearly the same text. Default severity `look` for nearly the same text. */
export interface DuplicateCheck extends Breach {
  readonly check: 'duplicate';
  /** Fields that together are the same only on the same paper. */
  readonly fields: readonly string[];
  /** Also look for documents whose figures and names are nearly all the same. Default true. */
  readonly alike?: boolean;
}

export type RuleCheck = RangeCheck | PatternCheck | CheckDigitsCheck | DateOrderCheck | FormulaCheck;
export type CheckDefinition = LineAmountCheck | ReconcileCheck | InListCheck | DuplicateCheck | RuleCheck;

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
  /** How papers of this kind write figures and dates, where all do alike; otherwise told from each paper. */
  readonly locale?: Partial<LocaleHints>;
  readonly bindings?: readonly ListBinding[];
  /** Asked in this order, each only if something is still missing. */
  readonly services?: readonly ServiceUse[];
  readonly sorting?: SortingHints;
  readonly cleanUp?: CleanUp;
}

/** Until a sounding has measured a better one. */
export const DEFAULT_THRESHOLD = 0.8;
/** The chain goes on to the next reader below this. */
export const DEFAULT_ENOUGH = 0.85;

/** A printed text as the field keeps it. */
export function normaliseFor(field: FieldDefinition, printed: string, locale: LocaleHints): Normalised {
  if (field.type === 'choice') return chosen(field, printed);
  const normalised = normalise(field.type, printed, locale);
  return normalised.ok && field.unsigned ? { ok: true, value: normalised.value.replace(/^-/, '') } : normalised;
}

/** Printed words as the field keeps them. Words from a picture may hold letters where figures stand; then the mended text counts, and `mended` says so. */
export function normaliseWords(field: FieldDefinition, words: readonly Word[], locale: LocaleHints, printed = words.map((word) => word.text).join(' ')): Normalised & { readonly mended?: boolean } {
  const plain = normaliseFor(field, printed, locale);
  const recognised = words.some((word) => word.sure !== undefined);
  if (plain.ok || !recognised || !FIGURES.has(field.type)) return plain;
  const mended = mendFigures(printed);
  const again = mended === printed ? plain : normaliseFor(field, mended, locale);
  return again.ok ? { ...again, mended: true } : plain;
}

const FIGURES: ReadonlySet<ValueType> = new Set<ValueType>(['money', 'number', 'date']);

/** The option that the text is most like; no option is guessed from a text that is like none. */
function chosen(field: FieldDefinition, printed: string): Normalised {
  const text = printed.replace(/\s+/g, ' ').trim();
  if (text === '') return { ok: false, why: 'Nothing is printed here' };
  if (!field.options || field.options.length === 0) return { ok: true, value: text };
  const [best] = field.options.map((option) => ({ option, alike: similarity(option, text) })).sort((a, b) => b.alike - a.alike);
  return best && best.alike >= 0.75 ? { ok: true, value: best.option } : { ok: false, why: `“${text.slice(0, 40)}” is none of ${field.options.join(', ')}` };
}

export const thresholdOf = (field: FieldDefinition): number => field.threshold ?? DEFAULT_THRESHOLD;
