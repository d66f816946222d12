import { parseRetryAfter } from '@/core/resilience/backoff';
import { StepFailure, type FailureCode } from '@/core/resilience/failure';
import { systemClock } from '@/settings/clock';

/** One call may take so long; a service that thinks longer gives a job. */
export const CALL_MS = 15_000;
/** An answer with more bytes is no answer. */
const MOST_BYTES = 20_000_000;
/** The call surely did not reach the other side. */
const NOT_REACHED = ['ECONNREFUSED', 'ENOTFOUND', 'EAI_AGAIN', 'EHOSTUNREACH', 'ENETUNREACH'];

/** Make a call with a deadline. Redirects are not followed: they would carry secrets elsewhere. Every failure is a {@link StepFailure}. */
export async function request(url: string, init: RequestInit, base: string, withinMs = CALL_MS): Promise<Response> {
  try {
    return await fetch(url, { ...init, signal: AbortSignal.timeout(withinMs), redirect: 'error' });
  } catch (error) {
    const code = (error as { cause?: { code?: string } }).cause?.code;
    const why = (error as Error).name === 'TimeoutError' ? `no answer within ${withinMs / 1000} s` : (code ?? (error as Error).message);
    throw new StepFailure('service-down', `${base} (${why})`, { cause: error, ...(NOT_REACHED.includes(code ?? '') ? { untouched: true } : {}) });
  }
}

/** Answers of HTTP as failures: who has to do something about them, and when. `about`: what a person can mend. */
export async function expectOk(response: Response, base: string, about?: string): Promise<Response> {
  if (response.ok) return response;
  const detail = await detailOf(response);
  const retry = parseRetryAfter(response.headers.get('retry-after') ?? '', systemClock.nowMs());
  const untouched = response.status >= 400 && response.status < 500 && response.status !== 408;
  throw new StepFailure(codeOf(response.status, retry !== null), `${base} answered ${response.status}${detail === '' ? '' : ` (${detail})`}`, { ...(retry === null ? {} : { retryAfterMs: retry }), ...(untouched ? { untouched } : {}), ...(about === undefined ? {} : { about }) });
}

function codeOf(status: number, comeAgain: boolean): FailureCode {
  if (status === 401 || status === 403) return 'no-credential';
  // A conflict that says when to come again: the first request with this key is still under way (IETF draft, Idempotency-Key, 2.7).
  if (status === 429 || status === 503 || status === 425 || (status === 409 && comeAgain)) return 'service-busy';
  return status >= 500 || status === 408 ? 'service-down' : 'service-refused';
}

async function detailOf(response: Response): Promise<string> {
  const text = (await response.text().catch(() => '')).slice(0, 300);
  try {
    const { detail, title } = JSON.parse(text) as { detail?: string; title?: string };
    return detail ?? title ?? '';
  } catch {
    return text.replace(/\s+/g, ' ').slice(0, 120);
  }
}

/** The text of an answer, bounded. */
export async function textOf(response: Response, base: string): Promise<string> {
  const text = await response.text().catch((error: unknown) => Promise.reject(new StepFailure('service-down', `${base} (the answer broke off)`, { cause: error })));
  if (text.length > MOST_BYTES) throw new StepFailure('service-refused', `${base} answered with ${text.length} characters; at most ${MOST_BYTES} are taken`);
  return text;
}

export async function jsonOf(response: Response, base: string): Promise<unknown> {
  const text = await textOf(response, base);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new StepFailure('service-down', `${base} (the answer is not JSON)`, { cause: error });
  }
}
