import type { PipelineDefinition, Step } from '@/core/pipeline/definition';
import type { Slot } from '@/core/pipeline/edit';

/** A row on the left of the tally: a step, the head of a way, or the place for the first step of an empty sequence. */
export type BuilderRow =
  | { readonly is: 'step'; readonly step: Step; readonly depth: number; readonly slot: Slot }
  | { readonly is: 'way'; readonly branch: string; readonly way: number | 'else'; readonly name: string; readonly depth: number }
  | { readonly is: 'gap'; readonly depth: number; readonly slot: Slot; readonly text: string };

/** The tree as rows, in the order in which people read it. */
export const rowsOf = (pipeline: PipelineDefinition): BuilderRow[] => [...sequence(pipeline.steps, { of: null, way: null }, 0, 'Nothing happens yet. Add the first step.')];

function* sequence(steps: readonly Step[], place: Omit<Slot, 'index'>, depth: number, empty: string): Generator<BuilderRow> {
  if (steps.length === 0) yield { is: 'gap', depth, slot: { ...place, index: 0 }, text: empty };
  for (const [index, step] of steps.entries()) {
    yield { is: 'step', step, depth, slot: { ...place, index } };
    if (step.do === 'each') yield* sequence(step.steps, { of: step.id, way: null }, depth + 1, 'Nothing is done for each row yet.');
    if (step.do !== 'branch') continue;
    for (const [way, { name, steps: inner }] of step.ways.entries()) {
      yield { is: 'way', branch: step.id, way, name, depth: depth + 1 };
      yield* sequence(inner, { of: step.id, way }, depth + 1, 'Nothing happens on this way.');
    }
    if (!step.else) continue;
    yield { is: 'way', branch: step.id, way: 'else', name: step.else.name ?? 'Otherwise', depth: depth + 1 };
    yield* sequence(step.else.steps, { of: step.id, way: 'else' }, depth + 1, 'Nothing happens otherwise.');
  }
}
