import type { Finding } from '@/core/checking/finding';
import type { Doubt } from '@/core/checking/trust';
import type { DocumentReading, Readings } from '@/core/reading/reading';
import type { Failure } from '@/core/resilience/failure';

/** What a step made of the document; which members exist depends on the step kind. */
export type StepResult =
  | { readonly made: 'reading'; readonly reading: DocumentReading }
  | { readonly made: 'findings'; readonly findings: readonly Finding[]; readonly doubts: readonly Doubt[]; readonly trusted: boolean }
  | { readonly made: 'no question' }
  | { readonly made: 'answer'; readonly task: string; readonly by: string; readonly readings: Readings; readonly changed: readonly string[]; readonly note?: string }
  | { readonly made: 'choice'; readonly way: number | 'else'; readonly name: string }
  | { readonly made: 'notes'; readonly values: Readonly<Record<string, string>> }
  | { readonly made: 'rows'; readonly target: string; readonly rows: number; readonly left: number }
  | { readonly made: 'stop'; readonly reason: string };

/** What is recorded of one step of one run. The database keeps exactly these three states. */
export type StepFact =
  | { readonly state: 'done'; readonly result: StepResult }
  | { readonly state: 'waiting'; readonly task: string }
  | { readonly state: 'failed'; readonly failure: Failure; readonly attempts: number; readonly spentMs: number };

/** Step id → the newest fact about it. */
export type Facts = ReadonlyMap<string, StepFact>;

/** What later steps may use, folded from the facts in the order of the steps. */
export interface Known {
  readonly readings: Readings;
  readonly reading: DocumentReading | null;
  readonly findings: readonly Finding[];
  readonly trusted: boolean;
  readonly notes: Readonly<Record<string, string>>;
}

export const NOTHING_KNOWN: Known = { readings: { fields: {}, tables: {} }, reading: null, findings: [], trusted: false, notes: {} };

/** Fold the results of finished steps, given in step order. */
export function knownFrom(results: Iterable<StepResult>): Known {
  let known = NOTHING_KNOWN;
  for (const result of results) known = learn(known, result);
  return known;
}

function learn(known: Known, result: StepResult): Known {
  switch (result.made) {
    case 'reading':
      return { ...known, reading: result.reading, readings: { fields: result.reading.fields, tables: result.reading.tables } };
    case 'findings':
      return { ...known, findings: result.findings, trusted: result.trusted };
    case 'answer':
      // A person has looked: what they accepted is trusted, whatever the checks say.
      return { ...known, readings: result.readings, trusted: true };
    case 'notes':
      return { ...known, notes: { ...known.notes, ...result.values } };
    case 'no question':
    case 'choice':
    case 'rows':
    case 'stop':
      return known;
  }
}
