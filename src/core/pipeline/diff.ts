import { entryOf, sentenceText, type NameOf } from './catalogue';
import { eachStep, type PipelineDefinition, type Step } from './definition';
import { slotOf } from './edit';

/** One difference between two versions of a pipeline, in a sentence. */
export interface Difference {
  readonly what: 'added' | 'taken out' | 'changed' | 'moved' | 'named';
  readonly step: string | null;
  readonly text: string;
}

/** What is different in `after`, in words, in the order of its steps; what was taken out comes last. */
export function diffPipelines(before: PipelineDefinition, after: PipelineDefinition, nameOf?: NameOf): Difference[] {
  const [old, fresh] = [stepsOf(before), stepsOf(after)];
  const named: Difference[] = before.name === after.name ? [] : [{ what: 'named', step: null, text: `It is called “${after.name}” instead of “${before.name}”.` }];
  const there = [...fresh].flatMap(([id, step]): Difference[] => {
    const was = old.get(id);
    if (!was) return [{ what: 'added', step: id, text: `Added: ${sentenceText(step, nameOf)}.` }];
    const changed: Difference[] = same(was, step) ? [] : [{ what: 'changed', step: id, text: changeText(was, step, nameOf) }];
    return hasMoved(id, before, after) ? [...changed, { what: 'moved', step: id, text: `Moved: ${sentenceText(step, nameOf)}.` }] : changed;
  });
  const gone = [...old].filter(([id]) => !fresh.has(id)).map(([id, step]): Difference => ({ what: 'taken out', step: id, text: `Taken out: ${sentenceText(step, nameOf)}.` }));
  return [...named, ...there, ...gone];
}

const stepsOf = (pipeline: PipelineDefinition): Map<string, Step> => new Map([...eachStep(pipeline.steps)].map(({ step }) => [step.id, step]));

/** The same apart from the steps within it, which are told by themselves. */
const same = (a: Step, b: Step): boolean => JSON.stringify(hollow(a)) === JSON.stringify(hollow(b));

function hollow(step: Step): unknown {
  if (step.do === 'each') return { ...step, steps: [] };
  return step.do === 'branch' ? { ...step, ways: step.ways.map((way) => ({ ...way, steps: [] })), ...(step.else ? { else: { ...step.else, steps: [] } } : {}) } : step;
}

function changeText(was: Step, step: Step, nameOf?: NameOf): string {
  const [before, after] = [sentenceText(was, nameOf), sentenceText(step, nameOf)];
  if (before !== after) return `“${before}” is now “${after}”.`;
  const members = [...new Set([...Object.keys(was), ...Object.keys(step)])].filter((name) => JSON.stringify((was as unknown as Record<string, unknown>)[name]) !== JSON.stringify((step as unknown as Record<string, unknown>)[name]));
  const labels = members.map((name) => (entryOf(step).form.find((part) => part.at === name) as { label?: string } | undefined)?.label?.toLowerCase() ?? name);
  return `${after}: other ${labels.join(', ')}.`;
}

/** Another neighbour before it, or another sequence: what only slid because of others has not moved. */
function hasMoved(id: string, before: PipelineDefinition, after: PipelineDefinition): boolean {
  const [was, is] = [slotOf(before, id), slotOf(after, id)];
  if (!was || !is) return false;
  if (was.of !== is.of || was.way !== is.way) return true;
  const shared = (pipeline: PipelineDefinition, other: PipelineDefinition): string[] => [...stepsOf(pipeline).keys()].filter((key) => stepsOf(other).has(key));
  const [a, b] = [shared(before, after), shared(after, before)];
  return a[a.indexOf(id) - 1] !== b[b.indexOf(id) - 1] && a[a.indexOf(id) + 1] !== b[b.indexOf(id) + 1];
}
