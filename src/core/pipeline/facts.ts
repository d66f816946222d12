import type { Finding } from '@/core/checking/finding';
import type { Doubt } from '@/core/checking/trust';
import type { DocumentReading, Readings, Row } from '@/core/reading/reading';
import type { Failure } from '@/core/resilience/failure';
import type { AnswerField } from './definition';
import { matchCounts, rowsMatched, type ProposedMatch } from './match';

/** Values by name, as later steps find them under the id of the step that gave them. */
export type Given = Readonly<Record<string, string | null>>;

/** What a step made of the document; which members exist depends on the step kind. */
export type StepResult =
  | { readonly made: 'kind'; readonly kind: string; readonly name: string; readonly reasons: readonly string[]; /** The person who decided. */ readonly by?: string }
  | { readonly made: 'reading'; readonly reading: DocumentReading }
  | { readonly made: 'findings'; readonly findings: readonly Finding[]; readonly doubts: readonly Doubt[]; readonly trusted: boolean }
  | { readonly made: 'no question' }
  | { readonly made: 'answer'; readonly task: string; readonly by: string; readonly readings: Readings; readonly changed: readonly string[]; readonly note?: string }
  | { readonly made: 'choice'; readonly way: number | 'else'; readonly name: string }
  | { readonly made: 'notes'; readonly values: Given }
  | { readonly made: 'row'; readonly list: string; /** Null: it is not there, and the pipeline goes on without. */ readonly values: Given | null; readonly by?: string }
  | { readonly made: 'matches'; readonly of: string; /** One for each row of the table. */ readonly rows: readonly RowMatched[]; /** Rows of theirs that none of ours belongs to. */ readonly left: number; readonly by?: string }
  | { readonly made: 'given'; readonly from: string; readonly values: Given; readonly by?: string }
  | { readonly made: 'lines'; readonly of: string; readonly lines: number }
  | { readonly made: 'pause'; /** ISO moment at which it ended. */ readonly until: string }
  | { readonly made: 'started'; readonly pipeline: string; readonly run: string }
  | { readonly made: 'rows'; readonly target: string; readonly rows: number; readonly left: number }
  | { readonly made: 'sent'; readonly target: string; readonly values: Given; /** A person says that it had arrived. */ readonly by?: string }
  | { readonly made: 'stop'; readonly reason: string };

/** What the row that was found brings along; null: there is none. */
export interface RowMatched {
  readonly values: Given | null;
  /** 0..1. */
  readonly score: number;
  readonly reasons: readonly string[];
}

/** Stands in place of a step's id for what a run was given when it began, by the pipeline that started it or by its event: the values are found as `came.NAME`. */
export const CAME = 'came';

/** What a paused step wants to find again: a job that it has begun, a moment it waits for. */
export type Memory = Readonly<Record<string, string | number | null>>;

/** What is recorded of one step of one run. The database keeps exactly these four states. */
export type StepFact =
  | { readonly state: 'done'; readonly result: StepResult }
  | { readonly state: 'waiting'; readonly task: string }
  | { readonly state: 'paused'; readonly memory: Memory }
  | { readonly state: 'failed'; readonly failure: Failure; readonly attempts: number; readonly spentMs: number; /** Of a pause before the failure. */ readonly memory?: Memory };

export interface Option {
  readonly value: string;
  readonly label: string;
  /** How likely, 0..1; absent where likelihood means nothing. */
  readonly share?: number;
  readonly reasons: readonly string[];
}

/** What a person is asked, where it is not a review. */
export type Question =
  | { readonly asks: 'kind'; readonly text: string; readonly options: readonly Option[] }
  /** Which row of a list is meant; or none. */
  | { readonly asks: 'row'; readonly text: string; readonly list: string; readonly options: readonly Option[] }
  | { readonly asks: 'approval'; readonly text: string; readonly facts: readonly { readonly name: string; readonly value: string }[]; readonly rejected: 'stop' | 'go on' }
  | { readonly asks: 'form'; readonly text: string; readonly answers: readonly AnswerField[] }
  /** Which rows belong together; see core/pipeline/match. */
  | { readonly asks: 'match'; readonly text: string; readonly match: ProposedMatch }
  /** Something was sent and nobody knows whether it arrived. */
  | { readonly asks: 'delivery'; readonly text: string; readonly key: string; readonly target: string }
  /** Something is missing that a person can supply; the same answer helps every run that waits for it. */
  | { readonly asks: 'supply'; readonly text: string; readonly about: string; /** What this one may go without. */ readonly columns?: readonly string[]; /** Key of the connection whose secret can be given here. */ readonly credential?: string };

/** Fact id → the newest fact. The id of a step, and within lines `ID#LINE`, lines counted from 0. */
export type Facts = ReadonlyMap<string, StepFact>;

/** The fact of a step, or of one line of it. */
export const factId = (step: string, line: number | null): string => (line === null ? step : `${step}#${line}`);
/** Step and line of a fact id. */
export function partsOf(id: string): { step: string; line: number | null } {
  const at = id.indexOf('#');
  return at < 0 ? { step: id, line: null } : { step: id.slice(0, at), line: Number(id.slice(at + 1)) };
}

/** What later steps may use, folded from the facts in the order of the steps. */
export interface Known {
  /** The kind that a sorting step found. */
  readonly kind: string | null;
  readonly readings: Readings;
  readonly reading: DocumentReading | null;
  readonly findings: readonly Finding[];
  readonly trusted: boolean;
  readonly notes: Given;
  /** Step id → what it gave. */
  readonly given: Readonly<Record<string, Given>>;
  /** The row that the steps within lines work on. */
  readonly row: Row | null;
}

export const NOTHING_KNOWN: Known = { kind: null, readings: { fields: {}, tables: {} }, reading: null, findings: [], trusted: false, notes: {}, given: {}, row: null };

/** Fold the results of finished steps, given in step order. */
export function knownFrom(results: Iterable<readonly [step: string, result: StepResult]>): Known {
  let known = NOTHING_KNOWN;
  for (const [step, result] of results) known = learn(known, step, result);
  return known;
}

function learn(known: Known, step: string, result: StepResult): Known {
  switch (result.made) {
    case 'kind':
      return { ...known, kind: result.kind };
    case 'reading':
      return { ...known, reading: result.reading, readings: { fields: result.reading.fields, tables: result.reading.tables } };
    case 'findings':
      return { ...known, findings: result.findings, trusted: result.trusted };
    case 'answer':
      // A person has looked: what they accepted is trusted, whatever the checks say.
      return { ...known, readings: result.readings, trusted: true };
    case 'notes':
      return { ...known, notes: { ...known.notes, ...result.values } };
    case 'row':
    case 'given':
    case 'sent':
      return { ...known, given: { ...known.given, [step]: result.values ?? {} } };
    case 'matches':
      return { ...known, readings: { ...known.readings, tables: { ...known.readings.tables, [result.of]: rowsMatched(known.readings.tables[result.of] ?? [], result) } }, given: { ...known.given, [step]: matchCounts(result) } };
    case 'started':
      return { ...known, given: { ...known.given, [step]: { run: result.run } } };
    case 'no question':
    case 'choice':
    case 'lines':
    case 'pause':
    case 'rows':
    case 'stop':
      return known;
  }
}
