import fc from 'fast-check';
import { parsePipeline } from '@/core/definition/parse';
import { stringify } from 'yaml';
import { CATALOGUE, sentenceText, STEP_KINDS } from './catalogue';
import { eachStep, type PipelineDefinition, type Step } from './definition';
import { copyStep, freshId, insertStep, moveStep, newStep, nudgeStep, removeStep, replaceStep, sequencesOf, slotOf, stepOf } from './edit';

const check = (id: string): Step => ({ id, do: 'check' });
const pipeline: PipelineDefinition = {
  leadline: 'pipeline/1', key: 'p', name: 'P',
  steps: [check('a'), { id: 'b', do: 'branch', ways: [{ name: 'W', when: { trusted: true }, steps: [check('c'), check('d')] }], else: { steps: [check('e')] } }, { id: 'f', do: 'each', of: 'lines', steps: [check('g')] }],
};
/** The tree as text: `b(c d|e)`. */
const shape = (steps: readonly Step[]): string => steps.map((step) => (step.do === 'branch' ? `${step.id}(${[...step.ways.map((way) => way.steps), step.else?.steps ?? []].map(shape).join('|')})` : step.do === 'each' ? `${step.id}[${shape(step.steps)}]` : step.id)).join(' ');
const after = (made: PipelineDefinition): string => shape(made.steps);

test('a step is put between others, also within ways and lines', () => {
  expect(after(insertStep(pipeline, { of: null, way: null, index: 1 }, check('x')))).toBe('a x b(c d|e) f[g]');
  expect(after(insertStep(pipeline, { of: 'b', way: 0, index: 2 }, check('x')))).toBe('a b(c d x|e) f[g]');
  expect(after(insertStep(pipeline, { of: 'b', way: 'else', index: 0 }, check('x')))).toBe('a b(c d|x e) f[g]');
  expect(after(insertStep(pipeline, { of: 'f', way: null, index: 1 }, check('x')))).toBe('a b(c d|e) f[g x]');
});
test('is taken out, replaced and copied with ids of its own', () => {
  expect([after(removeStep(pipeline, 'd')), after(replaceStep(pipeline, 'g', check('h')))]).toEqual(['a b(c|e) f[g]', 'a b(c d|e) f[h]']);
  expect(after(copyStep(pipeline, 'b').pipeline)).toBe('a b(c d|e) b-2(c-2 d-2|e-2) f[g]');
});
test('is moved anywhere but into itself', () => {
  expect([after(moveStep(pipeline, 'a', { of: 'b', way: 0, index: 1 })), after(moveStep(pipeline, 'a', { of: null, way: null, index: 3 })), after(moveStep(pipeline, 'b', { of: 'b', way: 0, index: 0 }))]).toEqual(['b(c a d|e) f[g]', 'b(c d|e) f[g] a', 'a b(c d|e) f[g]']);
});
test('goes up and down by keys, and out of what holds it', () => {
  expect([after(nudgeStep(pipeline, 'c', 1)), after(nudgeStep(pipeline, 'c', -1)), after(nudgeStep(pipeline, 'd', 1)), after(nudgeStep(pipeline, 'a', -1))]).toEqual(['a b(d c|e) f[g]', 'a c b(d|e) f[g]', 'a b(c|e) d f[g]', 'a b(c d|e) f[g]']);
});
test('ids are new, and never a word with which sources begin', () => {
  expect([freshId(pipeline, 'a'), freshId(pipeline, 'z'), freshId(pipeline, 'note')]).toEqual(['a-2', 'z', 'note-step']);
});
test('wherever a step is moved, no step is lost or doubled', () => {
  const ids = [...eachStep(pipeline.steps)].map(({ step }) => step.id);
  const slots = [...sequencesOf(pipeline.steps)].flatMap(({ of, way, steps }) => Array.from({ length: steps.length + 1 }, (_, index) => ({ of, way, index })));
  fc.assert(fc.property(fc.array(fc.tuple(fc.constantFrom(...ids), fc.constantFrom(...slots)), { maxLength: 12 }), (moves) => {
    const moved = moves.reduce((made, [id, slot]) => moveStep(made, id, slot), pipeline);
    expect([...eachStep(moved.steps)].map(({ step }) => step.id).sort()).toEqual([...ids].sort());
    for (const id of ids) expect(slotOf(moved, id)).not.toBeNull();
  }));
});
test('what was not touched stays the very same object', () => {
  const made = replaceStep(pipeline, 'g', check('h'));
  expect([stepOf(made, 'b') === stepOf(pipeline, 'b'), stepOf(made, 'f') === stepOf(pipeline, 'f')]).toEqual([true, false]);
});

describe.each(STEP_KINDS)('a new step “%s”', (kind) => {
  test('has a sentence, a name, something to find it by, and a form for each of its members', () => {
    const entry = CATALOGUE[kind];
    const step = newStep(pipeline, kind);
    expect([sentenceText(step).length > 3, entry.name.length > 1, entry.about.length > 10, entry.words.length > 5]).toEqual([true, true, true, true]);
    const formed = new Set(entry.form.map((part) => part.at));
    // The steps within another are put in by the builder, not by a form.
    expect(Object.keys(entry.schema.properties).filter((name) => !formed.has(name) && name !== 'steps' && name !== 'else')).toEqual([]);
  });
  test('keeps to the published schema as soon as its empty parts are chosen', () => {
    const step = filled(newStep(pipeline, kind));
    const parsed = parsePipeline(stringify({ ...pipeline, steps: [step] }));
    expect(parsed.ok ? [] : parsed.mistakes).toEqual([]);
  });
});

/** As a builder would: something for every part that is still empty. */
function filled(step: Step): Step {
  const given = Object.fromEntries(Object.entries(step).map(([name, value]) => [name, value === '' ? (name === 'find' ? 'number' : 'some') : name === 'columns' && Object.keys(value as object).length === 0 ? { A: 'number' } : name === 'compare' ? [{ ours: 'row.a', theirs: 'some', by: 'text' }] : value]));
  return given as unknown as Step;
}
