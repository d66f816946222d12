import type { Page } from '@/core/page/page';
import type { Step, StepKind } from '@/core/pipeline/definition';
import type { Known, StepResult } from '@/core/pipeline/facts';
import type { DocumentFacts } from '@/core/pipeline/values';
import type { Queries } from '@/store/database';
import type { Claim } from '@/store/queries/runs';
import type { NewTask } from '@/store/queries/tasks';
import type { Engine } from './engine';

/** What a step has to work with. */
export interface StepContext {
  readonly engine: Engine;
  readonly claim: Claim;
  readonly document: DocumentFacts;
  readonly known: Known;
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
  /** Something is written outside. It is recorded as planned first, then sent, then confirmed together with the fact. */
  | { readonly then: 'send'; readonly delivery: Sending };

export interface Sending {
  readonly key: string;
  readonly target: string;
  readonly rows: number;
  /** Has it arrived already? Asked when an earlier attempt may have sent it. */
  readonly confirm: () => Promise<Proof | null>;
  readonly send: () => Promise<Proof>;
}

export interface Proof {
  readonly rows: number;
  readonly left: number;
}

export type StepHandler<S extends Step = Step> = (step: S, context: StepContext) => Promise<Outcome>;

/** One handler per step kind. */
export type Handlers = { readonly [K in StepKind]: StepHandler<Extract<Step, { do: K }>> };

/** The key of a delivery: run and step (rows are numbered within it). */
export const deliveryKey = (claim: Claim, step: Step): string => `${claim.runId}/${step.id}`;
