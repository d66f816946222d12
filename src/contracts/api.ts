/** What the HTTP interface answers, shared by the server and the screens. Moments are ISO 8601 in UTC. */
import type { EarlierDocument } from '@/core/checking/elsewhere';
import type { Finding } from '@/core/checking/finding';
import type { Doubt } from '@/core/checking/trust';
import type { ReferenceList } from '@/core/list/list';
import type { PageOrigin, Place } from '@/core/page/page';
import type { Mistake } from '@/core/definition/parse';
import type { Complaint } from '@/core/pipeline/static-checks';
import type { TriedStep, WouldWrite } from '@/core/pipeline/try-out';
import type { Question, StepResult } from '@/core/pipeline/facts';
import type { SentencePart } from '@/core/pipeline/catalogue';
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
  /** Where its content is fetched when a step needs it; empty: it is here. */
  readonly awaits: readonly string[];
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

export type CellState = 'done' | 'passed' | 'waiting' | 'retrying' | 'resting' | 'stranded' | 'working' | 'not taken' | 'ahead';

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

/** One line of a step that is done for each line. */
export interface LineView {
  /** Counted from 0. */
  readonly line: number;
  readonly state: CellState;
  readonly text: string;
  readonly taskId: string | null;
}

export interface RunStepView extends StepView {
  /** Those that need somebody first; empty outside of lines. */
  readonly lines: readonly LineView[];
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

/** What a pipeline as it is written now would make of recent documents; nothing is written. */
export interface TriedPipeline {
  /** Why the text is no pipeline, with the places. */
  readonly mistakes: readonly Mistake[];
  readonly complaints: readonly Complaint[];
  readonly steps: readonly StepView[];
  readonly documents: readonly {
    readonly id: string;
    readonly fileName: string;
    readonly straight: boolean;
    readonly stopped: string | null;
    /** What expressions look at, as far as the try-out came. */
    readonly data: Readonly<Record<string, unknown>>;
    readonly steps: readonly { readonly step: string; readonly line: number | null; readonly state: TriedStep['state']; /** A few words for the cell. */ readonly short: string; readonly text: string; readonly writes: readonly WouldWrite[] }[];
  }[];
}

/** Stranded runs that stopped at the same step for the same cause. */
export interface StrandedView {
  readonly pipeline: string;
  readonly pipelineName: string;
  readonly step: string;
  readonly stepName: string;
  readonly code: string;
  readonly message: string;
  readonly runs: number;
  readonly since: string;
}

export interface TaskSummary {
  readonly id: string;
  readonly title: string;
  readonly state: 'open' | 'set aside' | 'done' | 'refused';
  readonly doubts: number;
  /** It asks something else than a review. */
  readonly question: boolean;
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
  readonly pages: readonly { readonly number: number; readonly width: number; readonly height: number; readonly words: readonly { readonly text: string; readonly box: readonly [number, number, number, number] }[]; readonly origin?: PageOrigin }[];
  /** What checks look at besides the document; long lists stay with the server. */
  readonly elsewhere: { readonly earlier: readonly EarlierDocument[]; readonly lists: readonly ReferenceList[] };
  /** The tasks before and after this one in the queue. */
  readonly previous: string | null;
  readonly next: string | null;
}

/** A question that is no review. */
export interface QuestionView {
  readonly task: Review['task'];
  readonly question: Question;
  readonly pages: Review['pages'];
  readonly previous: string | null;
  readonly next: string | null;
}

export interface ListView {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  readonly columns: readonly { readonly name: string; readonly type: ValueType }[];
  readonly rows: number;
  /** Of reference data; null for lists of results. */
  readonly keyColumn: string | null;
  readonly origin: { readonly from: 'file'; readonly name: string } | { readonly from: 'query'; readonly connection: string; readonly query: string; readonly every: number | null } | null;
  readonly syncedAt: string | null;
  readonly problem: string | null;
}

/** A service or database that is asked by name. Secrets are never shown. */
/** Runs that have not ended and are on an earlier version of a pipeline. */
export interface OlderRuns {
  /** The newest. */
  readonly version: number;
  /** Those that can go on in it. */
  readonly movable: number;
  /** Why others cannot, and how many. */
  readonly stuck: readonly { readonly why: string; readonly runs: number }[];
}

/** How long things are kept, days; null: for good. */
export interface KeepingView {
  readonly papersDays: number | null;
  readonly factsDays: number | null;
  /** What is over already, and goes within the hour. */
  readonly due: { readonly documents: number; readonly bytes: number; readonly runs: number };
}

export interface ConnectionView {
  readonly key: string;
  readonly name: string;
  readonly connector: string;
  readonly connectorName: string;
  readonly settings: Readonly<Record<string, unknown>>;
  readonly offers: unknown;
  readonly checkedAt: string | null;
  readonly problem: string | null;
  /** Null: it is on. */
  readonly paused: { readonly at: string; readonly by: string } | null;
}

export interface ListRowView {
  readonly id: number;
  readonly cells: Readonly<Record<string, string | null>>;
  readonly places: Readonly<Record<string, Place>>;
  /** Null for reference data, which comes from no document. */
  readonly document: { readonly id: string; readonly fileName: string } | null;
  readonly runId: string | null;
  readonly writtenAt: string | null;
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
  /** Null: only begun, not published yet. */
  readonly version: number | null;
  readonly publishedAt: string | null;
  readonly note: string;
  readonly steps: readonly StepView[];
  readonly yaml: string;
  readonly hasDraft: boolean;
  readonly sources: readonly SourceView[];
  /** Names of the pipelines that start it. */
  readonly startedBy: readonly string[];
  /** Its runs by state. */
  readonly counts: Partial<Record<RunStateName, number>>;
  readonly paused: { readonly at: string; readonly by: string } | null;
  /** −2 … 2; each step up doubles its share of the workers. */
  readonly priority: number;
}

/** A pipeline as it is being worked on. */
export interface PipelineDraftView {
  readonly key: string;
  readonly yaml: string;
  /** 0 while there is no draft. */
  readonly revision: number;
  readonly updatedBy: string | null;
  readonly published: { readonly version: number; readonly yaml: string } | null;
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
