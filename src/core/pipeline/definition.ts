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
}

/** Read the document's pages with a kind. */
export interface ReadStep extends StepBase {
  readonly do: 'read';
  readonly kind: string;
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

/** Note values that later steps can use. */
export interface SetStep extends StepBase {
  readonly do: 'set';
  readonly values: Readonly<Record<string, string>>;
}

/** Where a written column's value comes from: a field, a note, a column of the row, or something about the document. */
export type ValueSource = string;

/** Rows for one target: one per document, or one per row of a table. */
export interface RowPlan {
  /** Table whose rows are written; absent: one row per document. */
  readonly each?: string;
  /** Target column → value source. */
  readonly columns: Readonly<Record<string, ValueSource>>;
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

export type Step = ReadStep | CheckStep | DeskStep | BranchStep | SetStep | WriteListStep | WriteWorkbookStep | StopStep;
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
    if (step.do !== 'branch') continue;
    for (const way of step.ways) yield* wayOf(way.name, way.steps, depth + 1);
    if (step.else) yield* wayOf(step.else.name ?? 'otherwise', step.else.steps, depth + 1);
  }
}

function* wayOf(name: string, steps: readonly Step[], depth: number): Generator<{ step: Step; depth: number; way?: string }> {
  for (const inner of eachStep(steps, depth)) yield inner.depth === depth ? { ...inner, way: name } : inner;
}
