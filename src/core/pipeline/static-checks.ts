import { entryOf, type Surroundings } from './catalogue';
import { neededComplaints, type Use } from './catalogue/entry';
import { eachStep, type Composed, type PipelineDefinition, type Step } from './definition';
import { expressionFrom } from './expression';
import { innerOf, kindsRead, offersAt, stepsBefore } from './offers';
import { fits, misfit, targetsOf, type Target } from './targets';
import { partsOfSource, sourcesInTemplate, wayOfValue } from './values';

export type { Surroundings } from './catalogue';

/** Something that would go wrong, found before a document comes. */
export interface Complaint {
  readonly step: string;
  readonly text: string;
}

/** What is wrong with a pipeline as far as can be told without a document, each with what to do about it. */
export function complaintsAbout(pipeline: PipelineDefinition, around: Surroundings): Complaint[] {
  const steps = [...eachStep(pipeline.steps)].map(({ step }) => step).filter((step) => !step.off);
  const about = (step: Step): string[] => [...orderOf(step, stepsBefore(pipeline.steps, step.id)), ...(entryOf(step).complain?.(step, around) ?? []), ...tableComplaints(pipeline, step, around), ...targetsOf(step, around).flatMap((target) => targetComplaints(pipeline, step, target, around)), ...usesComplaints(pipeline, step, around)];
  return [...steps.flatMap((step) => [...new Set(about(step))].map((text) => ({ step: step.id, text }))), ...unreachable(pipeline.steps), ...loops(pipeline, steps, around)];
}

function orderOf(step: Step, before: readonly Step[]): string[] {
  const has = (...what: Step['do'][]): boolean => before.some((earlier) => what.includes(earlier.do));
  if (step.do === 'read' && step.kind === undefined && !has('sort')) return ['It reads as the kind that was found, but nothing finds one before it. Put a sorting step before it, or name the kind.'];
  if (step.do === 'check' && !has('read')) return ['Nothing has been read before this check. Put a reading step before it.'];
  if (step.do === 'desk' && !has('read')) return ['Nothing has been read before the desk is asked. Put a reading step before it.'];
  if (step.do === 'desk' && has('match')) return ['A review after matching would take away what was matched. Put the review before it.'];
  return [];
}

/** Tables whose rows a step works on must be in a kind that is read. */
function tableComplaints(pipeline: PipelineDefinition, step: Step, { kinds }: Surroundings): string[] {
  const plans = step.do === 'write-workbook' ? step.tabs.map((tab) => tab.each) : 'each' in step ? [step.each] : step.do === 'each' ? [step.of] : [];
  const read = kindsRead(pipeline, kinds);
  if (step.do === 'each' && step.of === '') return ['Choose the table whose rows are meant.'];
  return plans.flatMap((table) => (table === undefined || read.length === 0 || read.some((kind) => kind.tables.some((candidate) => candidate.key === table)) ? [] : [`No kind that is read here has a table “${table}”.`]));
}

/** Columns that the target has not, needs, or takes values of another type for. */
function targetComplaints(pipeline: PipelineDefinition, step: Step, { name, plan, columns }: Target, around: Surroundings): string[] {
  if (columns === null) return [];
  const names = columns.map((column) => column.name);
  const unknown = Object.keys(plan.columns).filter((column) => !names.includes(column)).map((column) => `“${name}” has no column “${column}”. It has ${names.join(', ')}.`);
  const offers = offersAt(pipeline, step.id, around, plan.each);
  const misfits = Object.entries(plan.columns).flatMap(([column, value]) => {
    const [to, source] = [columns.find((candidate) => candidate.name === column)?.type, typeof value === 'string' ? value : wayOfValue(value) === 'pick' ? value.pick : undefined];
    const from = offers.find((offer) => offer.source === source);
    return to !== undefined && from?.type !== undefined && !fits(from.type, to) ? [misfit(column, to, from.label, from.type)] : [];
  });
  return [...unknown, ...neededComplaints(`“${name}”`, columns.flatMap((column) => (column.needed ? [column.name] : [])), Object.keys(plan.columns)), ...misfits];
}

function usesComplaints(pipeline: PipelineDefinition, step: Step, around: Surroundings): string[] {
  return (entryOf(step).uses?.(step) ?? []).flatMap((use) => {
    const { value, each } = use;
    if (typeof value === 'string') return sourceComplaint(pipeline, step, { source: value, each }, around);
    return composedComplaints(value).concat(sourcesOf(value).flatMap((source) => sourceComplaint(pipeline, step, { source, each }, around)));
  });
}

function composedComplaints(value: Composed): string[] {
  if (wayOfValue(value) !== 'expression') return [];
  const made = expressionFrom(value.expression ?? '');
  return made.ok ? [] : [`“${value.expression ?? ''}” is no expression${made.at === null ? '' : `, at character ${made.at}`}: ${made.why}.`];
}

function sourcesOf(value: Composed): string[] {
  switch (wayOfValue(value)) {
    case 'pick':
      return value.pick === undefined ? [] : [value.pick];
    case 'text':
      return sourcesInTemplate(value.text ?? '');
    case 'expression':
      return [];
  }
}

/** A source that no kind, note, step or document gives would always be empty. */
function sourceComplaint(pipeline: PipelineDefinition, step: Step, { source, each }: { source: string } & Pick<Use, 'each'>, around: Surroundings): string[] {
  if (source === '') return ['Choose a value.'];
  const offers = offersAt(pipeline, step.id, around, each);
  if (offers.some((offer) => offer.source === source)) return [];
  const { head, tail } = partsOfSource(source);
  // Without a kind nothing is known of its fields, and the kind itself is complained about.
  const blind = kindsRead(pipeline, around.kinds).length === 0;
  const rows = offers.some((offer) => offer.source.startsWith('row.'));
  if (tail === null) return blind ? [] : [`No kind that is read here has a field “${head}”. There are ${offers.filter((offer) => !offer.source.includes('.')).map((offer) => offer.source).slice(0, 12).join(', ')}.`];
  if (head === 'note') return [`Nothing notes “${tail}”.`];
  if (head === 'document') return [`A document has no “${tail}”; it has id, name, received, sender, kind.`];
  if (head === 'row' && each === undefined && !rows) return [`“${source}” needs rows: say with “each” of which table.`];
  if (head === 'row') return blind ? [] : [`The table${each === undefined ? '' : ` “${each}”`} has no column “${tail}”.`];
  const given = offers.filter((offer) => offer.source.startsWith(`${head}.`)).map((offer) => offer.source);
  return given.length > 0 ? [`The step “${head}” does not give “${tail}”. It gives ${given.slice(0, 12).join(', ')}.`] : [`“${source}” is nothing that an earlier step gives.`];
}

/** Steps behind one that always stops. */
function unreachable(steps: readonly Step[]): Complaint[] {
  const stop = steps.findIndex((step) => step.do === 'stop' && !step.off);
  const behind = stop < 0 ? [] : steps.slice(stop + 1).map((step) => ({ step: step.id, text: 'It can never be reached: the step before it always stops.' }));
  return [...behind, ...steps.flatMap((step) => innerOf(step).flatMap(unreachable))];
}

/** Pipelines that start each other would go round for ever. */
function loops(pipeline: PipelineDefinition, steps: readonly Step[], { pipelines }: Surroundings): Complaint[] {
  return steps.flatMap((step) => {
    if (step.do !== 'start') return [];
    const way = wayBack(step.pipeline, pipeline.key, pipelines, []);
    return way === null ? [] : [{ step: step.id, text: way.length === 1 ? 'It starts its own pipeline, and would go round for ever. Start another one.' : `It leads back to this pipeline (${way.join(' → ')}), and would go round for ever.` }];
  });
}

function wayBack(from: string, to: string, pipelines: Surroundings['pipelines'], been: readonly string[]): string[] | null {
  if (from === to) return [...been, from];
  if (been.includes(from)) return null;
  for (const next of pipelines.find((pipeline) => pipeline.key === from)?.starts ?? []) {
    const way = wayBack(next, to, pipelines, [...been, from]);
    if (way) return way;
  }
  return null;
}
