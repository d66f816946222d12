import type { ProblemDetails } from '@/contracts/api';

/** The server said no, or did not answer; the message is for people. */
export class ApiProblem extends Error {
  override readonly name = 'ApiProblem';
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** One request to our own server. Empty answers give undefined. */
export async function ask<T>(path: string, init: { method?: string; body?: unknown; form?: FormData; signal?: AbortSignal } = {}): Promise<T> {
  const answer = await fetch(`/api/v1${path}`, {
    method: init.method ?? 'GET',
    ...(init.signal ? { signal: init.signal } : {}),
    ...(init.form ? { body: init.form } : init.body === undefined ? {} : { body: JSON.stringify(init.body), headers: { 'content-type': 'application/json' } }),
  }).catch((error: unknown) => {
    if ((error as Error).name === 'AbortError') throw error;
    throw new ApiProblem(0, 'The server does not answer. Nothing was changed; try again when it is back.');
  });
  if (answer.status === 204) return undefined as T;
  if (!answer.ok) throw new ApiProblem(answer.status, await problemText(answer));
  return (await answer.json()) as T;
}

async function problemText(answer: Response): Promise<string> {
  try {
    return ((await answer.json()) as ProblemDetails).detail;
  } catch {
    return `The server answered with ${answer.status}.`;
  }
}

export const post = <T = void>(path: string, body: unknown = {}): Promise<T> => ask<T>(path, { method: 'POST', body });

/** `?a=1&b=2` without the empty ones. */
export function queryOf(values: Readonly<Record<string, string | number | boolean | null | undefined>>): string {
  const given = Object.entries(values).filter(([, value]) => value !== null && value !== undefined && value !== '');
  const text = new URLSearchParams(given.map(([name, value]) => [name, String(value)])).toString();
  return text === '' ? '' : `?${text}`;
}
