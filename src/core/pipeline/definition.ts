import type { MatchWay } from '@/core/matching/rows';

/** A pipeline is a tree of steps, read from YAML, versioned, and pinned by the runs that follow it. */
export interface PipelineDefinition {
  readonly leadline: 'pipeline/1';
  readonly key: string;
  readonly name: string;
  readonly description?: string;
  readonly steps: readonly Step[];
}

interface StepBase {
  /** Unique within the pipeline; facts, deliveries and addresses refer to it. */
  readonly id: string;
  /** A word of the builder to the next one. */
  readonly remark?: string;
  /** Switched off: the run goes past it. */
  readonly off?: boolean;
}

/** Find out which kind the document is; where it is not sure enough, the desk decides. */
export interface SortStep extends StepBase {
  readonly do: 'sort';
  /** Among these; absent: among all that are published. */
  readonly kinds?: readonly string[];
  /** Share from which on nobody is asked, 0..1. Default 0.8. */
  readonly sure?: number;
}

/** Read the document's pages with a kind. */
export interface ReadStep extends StepBase {
  readonly do: 'read';
  /** Absent: the kind that an earlier step has found. */
  readonly kind?: string;
}

/** Apply the checks of the kind that was read. */
export interface CheckStep extends StepBase {
  readonly do: 'check';
}

/** Ask a person to review, when the condition holds. */
export interface DeskStep extends StepBase {
  readonly do: 'desk';
  readonly when: Condition;
  readonly title?: string;
}

/** The first way whose condition holds is taken, otherwise `else`. */
export interface BranchStep extends StepBase {
  readonly do: 'branch';
  readonly ways: readonly { readonly name: string; readonly when: Condition; readonly steps: readonly Step[] }[];
  readonly else?: { readonly name?: string; readonly steps: readonly Step[] };
}

/** Note values that later steps can use: fixed texts, picked values, or computed ones. */
export interface SetStep extends StepBase {
  readonly do: 'set';
  readonly values: Readonly<Record<string, string | Composed>>;
}

/** Find the row of a reference list by a value; its columns are there for later steps as `ID.Column`. */
export interface LookUpStep extends StepBase {
  readonly do: 'look-up';
  readonly list: string;
  readonly find: Value;
  /** Column to look in; absent: the key of the list. */
  readonly column?: string;
  /** What becomes of a document whose value is not there. Default: ask the desk. */
  readonly missing?: 'ask' | 'go on' | 'strand';
}

/** One value of a row of ours against a column of theirs; see {@link MatchWay}. */
export interface MatchComparison {
  /** `row.COLUMN`, or a value that is the same for all rows, such as the order's number. */
  readonly ours: ValueSource;
  readonly theirs: string;
  readonly by: MatchWay;
  /** How far amounts may be apart, as a decimal. */
  readonly tolerance?: string;
}

/**
 * Find for each row of a table the row it belongs to among others: for the lines of a delivery note the lines of an order. Each of theirs is
 * used once. Where it is not sure, the desk decides.
 */
export interface MatchStep extends StepBase {
  readonly do: 'match';
  /** Key of the table whose rows are matched. */
  readonly each: string;
  /** A value that holds the records to match with, as a service gave them (JSON). */
  readonly among?: Value;
  /** Or the reference list that holds them, and which of its rows: those that have the value in the column. */
  readonly list?: string;
  readonly column?: string;
  readonly find?: Value;
  readonly compare: readonly MatchComparison[];
  /** New column of the table → column of the row that was found. */
  readonly bring: Readonly<Record<string, string>>;
  /** Score from which on nobody is asked, 0..1. Default 0.8. */
  readonly sure?: number;
}

/** The steps are done for each row of a table; lines are independent of each other, and only failed ones are repeated. */
export interface EachStep extends StepBase {
  readonly do: 'each';
  /** Key of the table. */
  readonly of: string;
  readonly steps: readonly Step[];
}

/** Wait for a time, or until a moment that a value names. */
export interface WaitStep extends StepBase {
  readonly do: 'wait';
  readonly minutes?: number;
  /** ISO date or time; a moment that is over means no wait. */
  readonly until?: Value;
}

export const ANSWER_TYPES = ['text', 'number', 'money', 'date', 'choice', 'yes-no'] as const;

/** One answer of a small form. */
export interface AnswerField {
  readonly key: string;
  readonly label: string;
  readonly type: (typeof ANSWER_TYPES)[number];
  readonly options?: readonly string[];
  readonly required?: boolean;
}

/** Ask a person a question with a small form; the answers are there for later steps as `ID.answer`. */
export interface AskStep extends StepBase {
  readonly do: 'ask';
  readonly title: string;
  readonly text?: Template;
  readonly when?: Condition;
  readonly answers: readonly AnswerField[];
}

/** Ask a person whether this may go on. Rejected: the run stops, or goes on with `ID.decision` for a branch. */
export interface ApproveStep extends StepBase {
  readonly do: 'approve';
  readonly title: string;
  readonly text?: Template;
  readonly when?: Condition;
  readonly rejected?: 'stop' | 'go on';
}

export const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;

/** A request to a named connection. */
export interface HttpRequest {
  readonly connection: string;
  readonly method: (typeof METHODS)[number];
  /** Below the address of the connection; values in braces. */
  readonly path: Template;
  readonly query?: Readonly<Record<string, Value>>;
  readonly headers?: Readonly<Record<string, Value>>;
  /** Name → value; dots in a name make objects within objects. */
  readonly body?: Readonly<Record<string, Value>>;
  /** How the body goes: as JSON, as a form with the original as `file`, or the original alone. Default JSON. */
  readonly as?: 'json' | 'form' | 'original';
  /** Name → place in the answer (a JSONata expression); later steps find them as `ID.name`. */
  readonly take?: Readonly<Record<string, string>>;
}

/** Ask a service something; asking again does no harm. */
export interface CallStep extends StepBase, HttpRequest {
  readonly do: 'call';
}

/** Write something into an application over HTTP, exactly once: each request carries the key of its delivery (`Idempotency-Key`). */
export interface SendStep extends StepBase, HttpRequest {
  readonly do: 'send';
  /** Where to ask whether it has arrived, if the peer does not keep keys: an answer of 404 means no. */
  readonly confirm?: Template;
}

/** Write rows into a CSV file of the results folder. */
export interface WriteCsvStep extends StepBase, RowPlan {
  readonly do: 'write-csv';
  readonly file: string;
}

/** Write rows into a table of a database. */
export interface WriteTableStep extends StepBase, RowPlan {
  readonly do: 'write-table';
  readonly connection: string;
  readonly table: string;
  /** Column that takes the key of the delivery and the line: by it a row is known to have been written. */
  readonly keyColumn: string;
}

/** Put the document, or what was read of it, as a file into a folder of the results folder. */
export interface WriteFileStep extends StepBase {
  readonly do: 'write-file';
  readonly folder?: Template;
  /** Name without ending. */
  readonly name: Template;
  readonly content: 'original' | 'searchable' | 'values';
}

/** Use a tool of a Model Context Protocol server to write something. */
export interface ToolStep extends StepBase {
  readonly do: 'tool';
  readonly connection: string;
  readonly tool: string;
  /** Name → value; dots in a name make objects within objects. */
  readonly input?: Readonly<Record<string, Value>>;
  /** Name → place in the answer (a JSONata expression); later steps find them as `ID.name`. */
  readonly take?: Readonly<Record<string, string>>;
}

/** Send a mail. Mail cannot tell whether it was sent before; after a crash in the middle a person decides. */
export interface MailStep extends StepBase {
  readonly do: 'mail';
  readonly connection: string;
  readonly to: Template;
  readonly subject: Template;
  readonly text: Template;
  readonly attach?: boolean;
}

/** Give the document to another pipeline; within lines once for each line. */
export interface StartStep extends StepBase {
  readonly do: 'start';
  readonly pipeline: string;
  /** What goes along, such as values of the line: found there as `came.NAME`. */
  readonly give?: Readonly<Record<string, Value>>;
}

/**
 * Where a value comes from: a field, `row.column`, `note.name`, `document.name|id|received|sender|kind`, or `ID.name` of what an
 * earlier step gave.
 */
export type ValueSource = string;

/** A text with values in braces: `{number} of {haulier}`. Doubled braces stand for themselves. */
export type Template = string;

/** A value in one of three ways; the others are kept, so that switching loses nothing. */
export interface Composed {
  readonly pick?: ValueSource;
  readonly text?: Template;
  /** JSONata over what earlier steps gave. */
  readonly expression?: string;
  /** Which of them counts; needed where there are several. */
  readonly by?: 'pick' | 'text' | 'expression';
}

export type Value = ValueSource | Composed;

/** Rows for one target: one per document, or one per row of a table. */
export interface RowPlan {
  /** Table whose rows are written; absent: one row per document. */
  readonly each?: string;
  /** Target column → value. */
  readonly columns: Readonly<Record<string, Value>>;
  /** Leave the row out when one with the same value in this target column is already there. */
  readonly unless?: string;
}

export interface WriteListStep extends StepBase, RowPlan {
  readonly do: 'write-list';
  readonly list: string;
}

export interface WriteWorkbookStep extends StepBase {
  readonly do: 'write-workbook';
  /** File name inside the workbook folder. */
  readonly file: string;
  readonly tabs: readonly (RowPlan & { readonly tab: string })[];
}

/** End the run here on purpose. */
export interface StopStep extends StepBase {
  readonly do: 'stop';
  readonly reason: string;
}

export type Step =
  | SortStep | ReadStep | CheckStep | LookUpStep | MatchStep | SetStep | CallStep
  | DeskStep | AskStep | ApproveStep | WaitStep
  | BranchStep | EachStep | StartStep | StopStep
  | WriteListStep | WriteWorkbookStep | WriteCsvStep | WriteTableStep | WriteFileStep | SendStep | ToolStep | MailStep;
export type StepKind = Step['do'];

export const COMPARISONS = ['above', 'at least', 'below', 'at most', 'equal to', 'not equal to', 'missing', 'present'] as const;
export type Comparison = (typeof COMPARISONS)[number];

export type Condition =
  | { readonly trusted: boolean }
  | { readonly value: ValueSource; readonly is: Comparison; readonly than?: string }
  | { readonly all: readonly Condition[] }
  | { readonly any: readonly Condition[] };

/** Every step of the tree with its depth, in the order in which people read it. */
export function* eachStep(steps: readonly Step[], depth = 0): Generator<{ step: Step; depth: number; way?: string }> {
  for (const step of steps) {
    yield { step, depth };
    if (step.do === 'each') yield* eachStep(step.steps, depth + 1);
    if (step.do !== 'branch') continue;
    for (const way of step.ways) yield* wayOf(way.name, way.steps, depth + 1);
    if (step.else) yield* wayOf(step.else.name ?? 'otherwise', step.else.steps, depth + 1);
  }
}

function* wayOf(name: string, steps: readonly Step[], depth: number): Generator<{ step: Step; depth: number; way?: string }> {
  for (const inner of eachStep(steps, depth)) yield inner.depth === depth ? { ...inner, way: name } : inner;
}
