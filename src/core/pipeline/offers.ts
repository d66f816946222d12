import type { ValueType } from '@/core/value/normalise';
import type { KindDefinition } from '@/core/reading/kind';
import { entryOf, type Surroundings } from './catalogue';
import { eachStep, type PipelineDefinition, type Step } from './definition';
import { CAME } from './facts';
import { tableAround } from './planner';

/** A value that a step can pick, with what it is called and where it comes from. */
export interface Offer {
  /** As it stands in the pipeline: `total`, `row.amount`, `haulier.City`. */
  readonly source: string;
  readonly label: string;
  readonly group: string;
  /** Of a field or column of a kind. */
  readonly type?: ValueType;
}

const REQUEST_LABELS: readonly (readonly [string, string])[] = [['address', 'Address of the original, for an hour'], ['base64', 'The original in Base64']];
const DOCUMENT_LABELS: readonly (readonly [string, string])[] = [['name', 'File name'], ['received', 'Received at'], ['sender', 'Sender'], ['kind', 'Kind'], ['id', 'Number in Leadline']];

/** Kinds that may have been read: those that are named, or all, where a sorting step finds out. */
export function kindsRead(pipeline: PipelineDefinition, kinds: readonly KindDefinition[]): readonly KindDefinition[] {
  const read = [...eachStep(pipeline.steps)].flatMap(({ step }) => (step.do === 'read' && !step.off ? [step] : []));
  return read.some((step) => step.kind === undefined) ? kinds : kinds.filter((kind) => read.some((step) => step.kind === kind.key));
}

/** Steps whose values a step may use: those before it in its own ways, and the steps around it. */
export function stepsBefore(steps: readonly Step[], id: string): Step[] {
  const before: Step[] = [];
  for (const step of steps) {
    if (step.id === id) return before;
    const inner = innerOf(step).find((way) => holdsStep(way, id));
    if (inner) return [...before, step, ...stepsBefore(inner, id)];
    // What was given on some way may be there.
    if (!step.off) before.push(step, ...innerOf(step).flatMap((way) => (step.do === 'branch' ? [...eachStep(way)].map((found) => found.step) : [])));
  }
  return before;
}

export const innerOf = (step: Step): readonly (readonly Step[])[] => (step.do === 'branch' ? [...step.ways.map((way) => way.steps), ...(step.else ? [step.else.steps] : [])] : step.do === 'each' ? [step.steps] : []);
const holdsStep = (steps: readonly Step[], id: string): boolean => [...eachStep(steps)].some(({ step }) => step.id === id);

/** Everything that a step can pick, in groups; `table`: the rows that it writes, if any. */
export function offersAt(pipeline: PipelineDefinition, id: string, around: Surroundings, table: string | undefined = undefined): Offer[] {
  const kinds = kindsRead(pipeline, around.kinds);
  const before = stepsBefore(pipeline.steps, id);
  const rows = table ?? tableAround(pipeline.steps, id) ?? undefined;
  return [
    ...rowOffers(kinds, rows),
    ...unique(before.flatMap((step) => (step.do === 'match' && step.each === rows ? Object.keys(step.bring).map((column) => ({ source: `row.${column}`, label: column.replaceAll('_', ' '), group: `Matched: ${step.id}` })) : []))),
    ...unique(kinds.flatMap((kind) => kind.fields.map((field) => ({ source: field.key, label: field.label, group: kinds.length === 1 ? kind.name : 'Fields', type: field.type })))),
    ...(around.pipelines.find(({ key }) => key === pipeline.key)?.given ?? []).map((name) => ({ source: `${CAME}.${name}`, label: name, group: 'Given along' })),
    ...before.flatMap((step) => (step.do === 'set' ? Object.keys(step.values).map((name) => ({ source: `note.${name}`, label: name, group: 'Notes' })) : [])),
    ...before.flatMap((step) => (entryOf(step).gives?.(step, around) ?? []).map(({ name, label }) => ({ source: `${step.id}.${name}`, label, group: `${entryOf(step).name}: ${step.id}` }))),
    ...[...DOCUMENT_LABELS, ...(asksOverHttp(pipeline, id) ? REQUEST_LABELS : [])].map(([name, label]) => ({ source: `document.${name}`, label, group: 'The document' })),
  ];
}

const asksOverHttp = (pipeline: PipelineDefinition, id: string): boolean => [...eachStep(pipeline.steps)].some(({ step }) => step.id === id && (step.do === 'call' || step.do === 'send'));

function rowOffers(kinds: readonly KindDefinition[], table: string | undefined): Offer[] {
  if (table === undefined) return [];
  return unique(kinds.flatMap((kind) => kind.tables.filter((candidate) => candidate.key === table).flatMap((found) => found.columns.map((column) => ({ source: `row.${column.key}`, label: column.label, group: `Row of ${found.label}`, type: column.type })))));
}

/** Each source once; where kinds differ in its type, it has none. */
function unique(offers: readonly Offer[]): Offer[] {
  const made = new Map<string, Offer>();
  for (const { type, ...offer } of offers) {
    const before = made.get(offer.source);
    const sure = type !== undefined && (!before || before.type === type);
    made.set(offer.source, sure ? { ...offer, type } : offer);
  }
  return [...made.values()];
}
