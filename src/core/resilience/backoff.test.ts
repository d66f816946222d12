import { budgetFor, DEFAULT_BUDGET, isExhausted, pauseBefore } from './backoff';
import { classOf, failureOf, isRetryable, StepFailure } from './failure';

describe(pauseBefore, () => {
  test('never exceeds the cap and never undercuts what the other side asked for', () => {
    for (let attempt = 2; attempt < 60; attempt += 1) {
      expect(pauseBefore(attempt, DEFAULT_BUDGET, 0.999999)).toBeLessThanOrEqual(DEFAULT_BUDGET.capMs);
      expect(pauseBefore(attempt, DEFAULT_BUDGET, 0, 7_000)).toBe(7_000);
    }
  });
});

describe(isExhausted, () => {
  test.each([[1, 0, false], [8, 0, true], [2, 15 * 60_000, true]])('after %d attempts and %d ms: %s', (attempts, spentMs, expected) => {
    expect(isExhausted(DEFAULT_BUDGET, { attempts, spentMs })).toBe(expected);
  });
});

describe(budgetFor, () => {
  test('gives patience where it helps and where there is any', () => {
    const once = { baseMs: 0, capMs: 0, attempts: 1, totalMs: 0 };
    expect([budgetFor(DEFAULT_BUDGET, false), budgetFor(once, true)]).toEqual([DEFAULT_BUDGET, once]);
    expect(budgetFor(DEFAULT_BUDGET, true)).toMatchObject({ baseMs: 1_000, capMs: 600_000, attempts: Infinity });
  });
});

describe(failureOf, () => {
  test('keeps what a step refused, with its class', () => {
    const failure = failureOf(new StepFailure('file-locked', 'a.xlsx is open somewhere'));
    expect([failure, classOf(failure), isRetryable(failure)]).toEqual([{ code: 'file-locked', message: 'The workbook is open in another program: a.xlsx is open somewhere' }, 'transient', true]);
  });
  test('takes anything else for our own mistake, which is not tried again', () => {
    expect([failureOf(new TypeError('x is not a function')), isRetryable(failureOf('?'))]).toEqual([{ code: 'defect', message: 'The program made a mistake here: x is not a function' }, false]);
  });
});
