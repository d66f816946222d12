/** What the HTTP interface answers, shared by the server and the screens. Moments are ISO 8601 in UTC. */
import type { Finding } from '@/core/checking/finding';
import type { Doubt } from '@/core/checking/trust';
import type { PageOrigin, Place } from '@/core/page/page';
import type { StepResult } from '@/core/pipeline/facts';
import type { SentencePart } from '@/core/pipeline/sentence';
import type { KindDefinition } from '@/core/reading/kind';
import type { DocumentReading, Readings } from '@/core/reading/reading';
import type { ValueType } from '@/core/value/normalise';

export type RunStateName = 'queued' | 'working' | 'waiting' | 'stranded' | 'finished' | 'given up';

export interface PageOf<T> {
  readonly rows: readonly T[];
  readonly total: number;
  readonly offset: number;
}

export interface DocumentSummary {
  readonly id: string;
  readonly fileName: string;
  readonly source: { readonly key: string; readonly name: string };
  readonly sender: string | null;
  readonly subject: string | null;
  readonly receivedAt: string;
  readonly pageCount: number | null;
  readonly size: number;
  readonly kind: string | null;
  readonly problem: { readonly code: string; readonly text: string } | null;
  readonly repeatOf: string | null;
  readonly run: { readonly id: string; readonly state: RunStateName; readonly step: string | null; readonly stopped: string | null } | null;
}

export interface DocumentDetail extends DocumentSummary {
  readonly sha256: string;
  readonly mediaType: string;
  readonly pages: readonly { readonly number: number; readonly width: number; readonly height: number; /** Where its words come from, and why. */ readonly origin: PageOrigin; readonly why: string | null }[];
  readonly runs: readonly { readonly id: string; readonly state: RunStateName; readonly createdAt: string }[];
  /** From the newest run that has read it. */
  readonly reading: DocumentReading | null;
  /** As accepted at the desk, or as read. */
  readonly readings: Readings | null;
  readonly kindDefinition: KindDefinition | null;
  readonly written: readonly { readonly list: string; readonly listName: string; readonly row: number }[];
}

/** One step of a pipeline in the order of its tree. */
export interface StepView {
  readonly id: string;
  readonly do: string;
  readonly depth: number;
  /** Name of the way that begins with this step. */
  readonly way: string | null;
  readonly name: string;
  readonly sentence: readonly SentencePart[];
}

export type CellState = 'done' | 'passed' | 'waiting' | 'retrying' | 'stranded' | 'working' | 'not taken' | 'ahead';

/** What one step made of one run, short enough for a cell. */
export interface TallyCell {
  readonly step: string;
  readonly state: CellState;
  readonly text: string;
}

export interface RunSummary {
  readonly id: string;
  readonly state: RunStateName;
  readonly document: { readonly id: string; readonly fileName: string; readonly sender: string | null; readonly subject: string | null };
  readonly pipeline: { readonly key: string; readonly version: number };
  readonly step: string | null;
  readonly failure: string | null;
  readonly stopped: string | null;
  readonly dueAt: string;
  readonly createdAt: string;
  readonly updatedAt: string;
  readonly cells: readonly TallyCell[];
}

export interface RunTally extends PageOf<RunSummary> {
  readonly steps: readonly StepView[];
  readonly counts: Partial<Record<RunStateName, number>>;
}

export interface RunStepView extends StepView {
  /** What the step had to work with, in words; empty while it is not known yet. */
  readonly input: readonly { readonly name: string; readonly value: string }[];
  readonly state: CellState;
  readonly text: string;
  readonly attempts: number;
  readonly tookMs: number | null;
  readonly recordedAt: string | null;
  readonly result: StepResult | null;
  readonly failure: string | null;
  readonly taskId: string | null;
  readonly failed: readonly { readonly number: number; readonly message: string; readonly at: string; readonly nextAt: string | null }[];
  readonly delivery: { readonly key: string; readonly target: string; readonly state: string; readonly rows: number; readonly plannedAt: string; readonly confirmedAt: string | null } | null;
}

export interface RunDetail extends Omit<RunSummary, 'cells'> {
  readonly pipelineName: string;
  readonly finishedAt: string | null;
  readonly steps: readonly RunStepView[];
  readonly documentDetail: DocumentDetail;
}

export interface TaskSummary {
  readonly id: string;
  readonly title: string;
  readonly state: 'open' | 'set aside' | 'done' | 'refused';
  readonly doubts: number;
  readonly reason: string;
  readonly document: { readonly id: string; readonly fileName: string; readonly sender: string | null; readonly subject: string | null };
  readonly openedAt: string;
  readonly note: string | null;
}

export interface Review {
  readonly task: TaskSummary & { readonly revision: number; readonly runId: string; readonly closedBy: string | null };
  readonly kind: KindDefinition;
  readonly reading: DocumentReading;
  /** The clerk's work so far, or what was read. */
  readonly readings: Readings;
  readonly findings: readonly Finding[];
  readonly doubts: readonly Doubt[];
  readonly pages: readonly { readonly number: number; readonly width: number; readonly height: number; readonly words: readonly { readonly text: string; readonly box: readonly [number, number, number, number] }[] }[];
  /** The tasks before and after this one in the queue. */
  readonly previous: string | null;
  readonly next: string | null;
}

export interface ListView {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  readonly columns: readonly { readonly name: string; readonly type: ValueType }[];
  readonly rows: number;
}

export interface ListRowView {
  readonly id: number;
  readonly cells: Readonly<Record<string, string | null>>;
  readonly places: Readonly<Record<string, Place>>;
  readonly document: { readonly id: string; readonly fileName: string };
  readonly runId: string;
  readonly writtenAt: string;
}

export interface WorkbookView {
  readonly name: string;
  readonly size: number;
  readonly changedAt: string;
}

export interface PipelineView {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  readonly version: number;
  readonly publishedAt: string;
  readonly note: string;
  readonly steps: readonly StepView[];
  readonly yaml: string;
  readonly sources: readonly SourceView[];
  readonly counts: Partial<Record<RunStateName, number>>;
}

export interface KindView {
  readonly key: string;
  readonly name: string;
  readonly version: number;
  readonly publishedAt: string;
  readonly note: string;
  readonly definition: KindDefinition;
  readonly yaml: string;
}

/** The kind tally: what was read of recent documents, field by field. */
export interface KindTally {
  readonly documents: readonly { readonly id: string; readonly fileName: string; readonly layout: string | null; readonly readings: Readings; readonly reading: DocumentReading }[];
}

export interface SourceView {
  readonly key: string;
  readonly name: string;
  readonly connector: string;
  readonly connectorName: string;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly pipeline: string;
  readonly enabled: boolean;
  readonly checkedAt: string | null;
  readonly problem: string | null;
  readonly watched: boolean;
}

export interface Counts {
  readonly desk: number;
  readonly setAside: number;
  readonly stranded: number;
  readonly demo: boolean;
}

/** RFC 9457. */
export interface ProblemDetails {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  readonly detail: string;
}
