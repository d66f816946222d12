/** @jest-environment jsdom */
import { act, renderHook } from '@testing-library/react';
import type { Review } from '@/contracts/api';
import { NOTHING_READ } from '@/core/reading/reading';
import { billKind } from '../../../tests/support/definitions';
import { useReview } from './useReview';

const reading = { ...NOTHING_READ, value: 'MH-1', text: 'MH-1', confidence: 0.5 };
const read = { fields: { number: reading }, tables: { lines: [] } };
const review = { task: { id: 'T', revision: 3 }, kind: billKind(), reading: { ...read, kind: 'haulage-bill', layout: null, misses: [], bands: [], alternatives: {}, tried: {} }, readings: read, findings: [], doubts: [], pages: [], elsewhere: { earlier: [], lists: [] } } as unknown as Review;

const kept: unknown[] = [];
let refuses = false;
beforeEach(() => {
  jest.useFakeTimers();
  kept.splice(0);
  refuses = false;
  globalThis.fetch = (async (_: string, init: RequestInit) => {
    kept.push((JSON.parse(String(init.body)) as { readings: typeof read }).readings.fields.number.value);
    return refuses ? { ok: false, status: 409, json: async () => ({ detail: 'accepted already' }) } : { ok: true, status: 200, json: async () => ({ revision: 3 + kept.length }) };
  }) as unknown as typeof fetch;
});
afterEach(() => jest.useRealTimers());

function work() {
  const troubles: string[] = [];
  const { result } = renderHook(() => useReview(review, (error) => void troubles.push((error as Error).message)));
  const type = (value: string) => act(() => result.current.put('number', { ...reading, value, reader: 'person' }));
  const rest = () => act(async () => void (await jest.advanceTimersByTimeAsync(5_000)));
  return { result, troubles, type, rest };
}

test('a draft is kept after a rest, once for several changes', async () => {
  const { type, rest } = work();
  type('MH-2');
  type('MH-3');
  await rest();
  await rest();
  expect(kept).toEqual(['MH-3']);
});
test('a decision right after a change has it kept first, and nothing is kept after it', async () => {
  const { result, type, rest, troubles } = work();
  type('MH-2');
  const revision = await act(() => result.current.settled());
  refuses = true;
  await rest();
  expect([revision, kept, troubles]).toEqual([4, ['MH-2'], []]);
});
test('where the decision is not taken, the next change is kept again', async () => {
  const { result, type, rest } = work();
  await act(() => result.current.settled());
  act(() => result.current.undecided());
  type('MH-4');
  await rest();
  expect(kept).toEqual(['MH-4']);
});
