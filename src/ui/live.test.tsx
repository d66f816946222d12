/** @jest-environment jsdom */
import { act, renderHook, waitFor } from '@testing-library/react';
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { useLive } from './live';

/** A line to the server that the test holds in its hand. */
class Line extends EventTarget {
  static readonly CLOSED = 2;
  static readonly open: Line[] = [];
  readyState = 1;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  constructor(readonly address: string) {
    super();
    Line.open.push(this);
  }
  close(): void {
    this.readyState = Line.CLOSED;
  }
}
const last = (): Line => Line.open.at(-1) as Line;
const changed = () => act(async () => void last().dispatchEvent(new Event('changed')));

beforeEach(() => {
  Line.open.splice(0);
  Object.assign(globalThis, { EventSource: Line });
});
afterEach(() => jest.useRealTimers());

function shown(asks: Record<string, () => Promise<number>>) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { readonly children: ReactNode }) => <QueryClientProvider client={client}>{children}</QueryClientProvider>;
  return renderHook(() => {
    const connected = useLive();
    const live = useQuery({ queryKey: ['runs'], queryFn: asks['runs'] ?? (async () => 0) }).data;
    const still = useQuery({ queryKey: ['still', 'page'], queryFn: asks['page'] ?? (async () => 0) }).data;
    return { connected, live, still };
  }, { wrapper });
}

test('what is shown is asked for again when something has changed; what stays the same is not', async () => {
  let [runs, pages] = [0, 0];
  const { result } = shown({ runs: async () => (runs += 1), page: async () => (pages += 1) });
  await waitFor(() => expect(result.current.live).toBe(1));
  await changed();
  await waitFor(() => expect(result.current.live).toBe(2));
  expect([pages, last().address]).toEqual([1, '/api/v1/live']);
});

test('a change that comes while something is asked for the first time is not lost', async () => {
  let asked = 0;
  let answer: (value: number) => void = () => undefined;
  const { result } = shown({ runs: () => { asked += 1; const mine = asked; return mine === 1 ? new Promise((resolve) => { answer = () => resolve(mine); }) : Promise.resolve(mine); } });
  await changed();
  await act(async () => answer(1));
  await waitFor(() => expect(result.current.live).toBe(2));
});

test('says when the line is down, and opens it anew where the browser has given it up', async () => {
  jest.useFakeTimers();
  const { result } = shown({});
  act(() => last().onerror?.());
  expect([result.current.connected, Line.open.length]).toEqual([false, 1]);
  act(() => last().onopen?.());
  expect(result.current.connected).toBe(true);
  last().readyState = Line.CLOSED;
  act(() => last().onerror?.());
  act(() => jest.advanceTimersByTime(3_000));
  expect(Line.open.length).toBe(2);
});

test('a screen that is left closes its line and opens no other', () => {
  jest.useFakeTimers();
  const { unmount } = shown({});
  last().readyState = Line.CLOSED;
  act(() => last().onerror?.());
  unmount();
  jest.advanceTimersByTime(10_000);
  expect([Line.open.length, last().readyState]).toEqual([1, Line.CLOSED]);
});
