import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import { NoticeProvider } from '@/ui/frame/Notices';

/** One request that a screen made. */
export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: unknown;
}

/** Answers by method and path, without the prefix of the interface: a value, one made from the body, or a problem whose sentence is shown. */
export type Answers = Readonly<Record<string, unknown>>;

export class Problem {
  constructor(readonly detail: string) {}
}

/** A screen with everything around it but the server, whose answers are given. Returns what was asked of it. */
export function showScreen(screen: ReactNode, answers: Answers): Asked[] {
  const asked: Asked[] = [];
  globalThis.fetch = (async (input: string, init: RequestInit = {}) => {
    const path = String(input).replace('/api/v1', '');
    const method = init.method ?? 'GET';
    const body: unknown = typeof init.body === 'string' ? JSON.parse(init.body) : (init.body ?? null);
    asked.push({ method, path, body });
    const given = answers[`${method} ${path}`];
    const answer: unknown = typeof given === 'function' ? (given as (from: unknown) => unknown)(body) : given;
    const found = answer !== undefined;
    const problem = answer instanceof Problem ? answer.detail : found ? null : `${method} ${path} is not answered in this test.`;
    return { ok: problem === null, status: problem === null ? (answer === null ? 204 : 200) : 409, json: async () => (problem === null ? answer : { detail: problem }) };
  }) as unknown as typeof fetch;
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <NoticeProvider>{screen}</NoticeProvider>
    </QueryClientProvider>,
  );
  return asked;
}
