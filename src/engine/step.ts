import type { Page } from '@/core/page/page';
import type { Step, StepKind } from '@/core/pipeline/definition';
import type { Given, Known, Memory, StepResult } from '@/core/pipeline/facts';
import type { Spot } from '@/core/pipeline/planner';
import type { DocumentFacts, Scope } from '@/core/pipeline/values';
import { newId } from '@/settings/identifier';
import type { Queries } from '@/store/database';
import type { Claim } from '@/store/queries/runs';
import type { NewTask } from '@/store/queries/tasks';
import type { Engine } from './engine';

/** What a step has to work with. */
export interface StepContext {
  readonly engine: Engine;
  readonly claim: Claim;
  readonly spot: Spot;
  readonly document: DocumentFacts & { readonly sha256: string; readonly subject: string | null };
  readonly known: Known;
  /** What values are taken from. */
  readonly scope: Scope;
  /** What the step left for itself when it paused; null at first. */
  readonly memory: Memory | null;
  /** The pages' words; read once per claim. */
  readonly pages: () => Promise<readonly Page[]>;
  /** Fires when the run has gone to another worker or the worker stops. */
  readonly signal: AbortSignal;
}

/** What a step wants recorded. */
export type Outcome =
  /** The step is done; `alongside` is written in the same transaction as the fact. */
  | { readonly then: 'record'; readonly result: StepResult; readonly alongside?: (tx: Queries) => Promise<void> }
  /** A person is asked. */
  | { readonly then: 'ask'; readonly task: NewTask }
  /** The step comes back after a while, with its memory; meanwhile it holds no worker. */
  | { readonly then: 'pause'; readonly memory: Memory; readonly forMs: number }
  /** Something is written outside. It is recorded as planned first, then sent, then confirmed together with the fact. */
  | { readonly then: 'send'; readonly delivery: Sending };

export interface Sending {
  readonly key: string;
  readonly target: string;
  readonly rows: number;
  /** Has it arrived already? Asked when an earlier attempt may have sent it. Null: nobody can tell, and a person decides. */
  readonly confirm: (() => Promise<Proof | null>) | null;
  readonly send: () => Promise<Proof>;
  /** What the step has made of it. */
  readonly result: (proof: Proof) => StepResult;
}

export interface Proof {
  readonly rows: number;
  readonly left: number;
  /** What later steps can use of the answer. */
  readonly values?: Given;
}

export type StepHandler<S extends Step = Step> = (step: S, context: StepContext) => Promise<Outcome>;

/** One handler per step kind. */
export type Handlers = { readonly [K in StepKind]: StepHandler<Extract<Step, { do: K }>> };

/** The key of a delivery: run and step, within lines also the line (rows are numbered within it). */
export const deliveryKey = ({ claim, spot }: Pick<StepContext, 'claim' | 'spot'>): string => `${claim.runId}/${spot.id}`;

/** What became of rows that were written. */
export const rowsWritten = (target: string) => ({ rows, left }: Proof): StepResult => ({ made: 'rows', target, rows, left });
/** What became of one thing that was sent. */
export const thingSent = (target: string) => ({ values }: Proof): StepResult => ({ made: 'sent', target, values: values ?? {} });

/** The columns of a plan without those that a person said this run may go without. */
export function columnsLeft<P extends { readonly columns: Readonly<Record<string, unknown>> }>(plan: P, { memory }: Pick<StepContext, 'memory'>): P {
  const without = String(memory?.['without'] ?? '').split('\n');
  return { ...plan, columns: Object.fromEntries(Object.entries(plan.columns).filter(([column]) => !without.includes(column))) };
}

/** A task of the desk for this step. */
export const taskFor = ({ claim, spot, document }: Pick<StepContext, 'claim' | 'spot' | 'document'>, about: Pick<NewTask, 'title' | 'reason'> & Partial<Pick<NewTask, 'doubts' | 'question' | 'about'>>): NewTask => ({
  id: newId(), runId: claim.runId, stepId: spot.id, documentId: document.id, doubts: 1, ...about, title: about.title.slice(0, MOST_TITLE), reason: about.reason.slice(0, MOST_REASON),
});

/** Longest title and reason kept for the queue; the whole of it is with the document. */
const MOST_TITLE = 200;
const MOST_REASON = 1000;
