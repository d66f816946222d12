import { carryOverProblem } from './carry-over';
import type { PipelineDefinition, Step } from './definition';

const of = (...steps: Step[]): PipelineDefinition => ({ leadline: 'pipeline/1', key: 'p', name: 'P', steps });
const read: Step = { id: 'read', do: 'read', kind: 'bill' };
const write: Step = { id: 'write', do: 'write-list', list: 'a', columns: {} };

describe(carryOverProblem, () => {
  test('what was done is known there: other settings, other order, more steps do not matter', () => {
    expect(carryOverProblem(of(read, write), of({ id: 'check', do: 'check' }, { ...write, list: 'b' }, { ...read, kind: 'other' }), ['read', 'write'])).toBeNull();
  });
  test('lines belong to their step', () => {
    const each: Step = { id: 'each', do: 'each', of: 'lines', steps: [write] };
    expect(carryOverProblem(of(each), of(each), ['each', 'write#0', 'write#41'])).toBeNull();
    expect(carryOverProblem(of(each), of({ ...each, steps: [read] }), ['each', 'write#0'])).toContain('“write” is not there');
  });
  test('a step that is gone, or of another sort, keeps the run where it is', () => {
    expect(carryOverProblem(of(read, write), of(write), ['read'])).toBe('the step “read” is not there any more');
    expect(carryOverProblem(of(read), of({ id: 'read', do: 'check' }), ['read'])).toBe('the step “read” is of another sort now');
  });
  test('steps that were not reached may change as they like', () => {
    expect(carryOverProblem(of(read, write), of(read), ['came', 'read'])).toBeNull();
  });
});
