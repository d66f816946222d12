import { CATALOGUE } from './catalogue';
import { eachStep, type BranchStep, type EachStep, type PipelineDefinition, type Step, type StepKind } from './definition';

/** A sequence of steps within a pipeline: the whole, the inner steps of a `for each`, or one way of a branch. */
export interface Sequence {
  /** Id of the step that holds it; null for the pipeline itself. */
  readonly of: string | null;
  readonly way: number | 'else' | null;
}

/** A place between steps: before the step that stands at `index` now. */
export interface Slot extends Sequence {
  readonly index: number;
}

export const WHOLE: Sequence = { of: null, way: null };

/** Change the steps of one sequence. The rest stays the very same objects, so that what has not changed can be told. */
function within(steps: readonly Step[], sequence: Sequence, change: (steps: readonly Step[]) => readonly Step[]): readonly Step[] {
  if (sequence.of === null) return change(steps);
  return steps.map((step) => {
    if (step.id === sequence.of) return withInner(step, sequence, change);
    if (step.do === 'each') return keep(step, { ...step, steps: within(step.steps, sequence, change) });
    return step.do === 'branch' ? keep(step, inEveryWay(step, (inner) => within(inner, sequence, change))) : step;
  });
}

/** The step itself where nothing within it has changed. */
const keep = <S extends EachStep | BranchStep>(before: S, after: S): S => (innerLists(before).every((list, index) => same(list, innerLists(after)[index] ?? [])) ? before : after);
const innerLists = (step: EachStep | BranchStep): (readonly Step[])[] => (step.do === 'each' ? [step.steps] : [...step.ways.map((way) => way.steps), ...(step.else ? [step.else.steps] : [])]);
const same = (a: readonly Step[], b: readonly Step[]): boolean => a.length === b.length && a.every((step, index) => step === b[index]);

const inEveryWay = (step: BranchStep, change: (steps: readonly Step[]) => readonly Step[]): BranchStep => ({ ...step, ways: step.ways.map((way) => ({ ...way, steps: change(way.steps) })), ...(step.else ? { else: { ...step.else, steps: change(step.else.steps) } } : {}) });

function withInner(step: Step, { way }: Sequence, change: (steps: readonly Step[]) => readonly Step[]): Step {
  if (step.do === 'each') return { ...step, steps: change(step.steps) };
  if (step.do !== 'branch') return step;
  if (way === 'else') return { ...step, else: { name: 'Otherwise', ...step.else, steps: change(step.else?.steps ?? []) } };
  return { ...step, ways: step.ways.map((candidate, index) => (index === way ? { ...candidate, steps: change(candidate.steps) } : candidate)) };
}

/** Every sequence of a pipeline with its steps, outer ones first. */
export function* sequencesOf(steps: readonly Step[], sequence: Sequence = WHOLE): Generator<Sequence & { readonly steps: readonly Step[] }> {
  yield { ...sequence, steps };
  for (const step of steps) {
    if (step.do === 'each') yield* sequencesOf(step.steps, { of: step.id, way: null });
    if (step.do !== 'branch') continue;
    for (const [index, way] of step.ways.entries()) yield* sequencesOf(way.steps, { of: step.id, way: index });
    if (step.else) yield* sequencesOf(step.else.steps, { of: step.id, way: 'else' });
  }
}

/** Where a step stands; null when there is no such step. */
export function slotOf(pipeline: PipelineDefinition, id: string): Slot | null {
  for (const { steps, of, way } of sequencesOf(pipeline.steps)) {
    const index = steps.findIndex((step) => step.id === id);
    if (index >= 0) return { of, way, index };
  }
  return null;
}

export const stepOf = (pipeline: PipelineDefinition, id: string): Step | null => [...eachStep(pipeline.steps)].find(({ step }) => step.id === id)?.step ?? null;

const idsOf = (steps: readonly Step[]): Set<string> => new Set([...eachStep(steps)].map(({ step }) => step.id));

/** An id that no other step has: `mail`, `mail-2`, … Heads of sources are no ids. */
export function freshId(pipeline: PipelineDefinition, wanted: string, taken: ReadonlySet<string> = idsOf(pipeline.steps)): string {
  const plain = RESERVED.has(wanted) ? `${wanted}-step` : wanted;
  for (let number = 1; ; number += 1) {
    const id = number === 1 ? plain : `${plain}-${number}`;
    if (!taken.has(id)) return id;
  }
}

/** Names with which sources begin; a step of that name could not be picked from. */
export const RESERVED: ReadonlySet<string> = new Set(['row', 'note', 'document']);

/** A new step of a kind, named after what it does. */
export function newStep(pipeline: PipelineDefinition, kind: StepKind): Step {
  return CATALOGUE[kind].blank(freshId(pipeline, kind.replace(/^write-/, '')));
}

export const insertStep = (pipeline: PipelineDefinition, slot: Slot, step: Step): PipelineDefinition => ({ ...pipeline, steps: within(pipeline.steps, slot, (steps) => [...steps.slice(0, slot.index), step, ...steps.slice(slot.index)]) });

export function removeStep(pipeline: PipelineDefinition, id: string): PipelineDefinition {
  const slot = slotOf(pipeline, id);
  return slot ? { ...pipeline, steps: within(pipeline.steps, slot, (steps) => steps.filter((step) => step.id !== id)) } : pipeline;
}

/** Put a step in place of the one with this id. */
export function replaceStep(pipeline: PipelineDefinition, id: string, step: Step): PipelineDefinition {
  const slot = slotOf(pipeline, id);
  return slot ? { ...pipeline, steps: within(pipeline.steps, slot, (steps) => steps.map((candidate) => (candidate.id === id ? step : candidate))) } : pipeline;
}

/** A copy behind the step, with ids of its own all the way down. */
export function copyStep(pipeline: PipelineDefinition, id: string): { readonly pipeline: PipelineDefinition; readonly id: string } {
  const [slot, step] = [slotOf(pipeline, id), stepOf(pipeline, id)];
  if (!slot || !step) return { pipeline, id };
  const taken = idsOf(pipeline.steps);
  const copy = renamed(step, (old) => {
    const fresh = freshId(pipeline, old.replace(/-\d+$/, ''), taken);
    taken.add(fresh);
    return fresh;
  });
  return { pipeline: insertStep(pipeline, { ...slot, index: slot.index + 1 }, copy), id: copy.id };
}

function renamed(step: Step, name: (old: string) => string): Step {
  const id = name(step.id);
  const inner = (steps: readonly Step[]): Step[] => steps.map((one) => renamed(one, name));
  if (step.do === 'each') return { ...step, id, steps: inner(step.steps) };
  return step.do === 'branch' ? { ...inEveryWay(step, inner), id } : { ...step, id };
}

/** Put a step into another place; into itself it cannot go. */
export function moveStep(pipeline: PipelineDefinition, id: string, to: Slot): PipelineDefinition {
  const [from, step] = [slotOf(pipeline, id), stepOf(pipeline, id)];
  if (!from || !step || (to.of !== null && idsOf([step]).has(to.of))) return pipeline;
  const sameList = from.of === to.of && from.way === to.way;
  // Behind its own place the list has become one shorter.
  const index = sameList && to.index > from.index ? to.index - 1 : to.index;
  if (sameList && index === from.index) return pipeline;
  return insertStep(removeStep(pipeline, id), { ...to, index }, step);
}

/** One place up or down; at the end of a sequence out of it, beside the step that holds it. */
export function nudgeStep(pipeline: PipelineDefinition, id: string, by: -1 | 1): PipelineDefinition {
  const slot = slotOf(pipeline, id);
  if (!slot) return pipeline;
  const list = [...sequencesOf(pipeline.steps)].find(({ of, way }) => of === slot.of && way === slot.way)?.steps ?? [];
  const next = slot.index + by;
  if (next >= 0 && next < list.length) return moveStep(pipeline, id, { ...slot, index: by === 1 ? slot.index + 2 : slot.index - 1 });
  const around = slot.of === null ? null : slotOf(pipeline, slot.of);
  return around ? moveStep(pipeline, id, { ...around, index: by === 1 ? around.index + 1 : around.index }) : pipeline;
}
