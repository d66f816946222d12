import type { ProblemDetails } from '@/contracts/api';
import { Refusal } from '@/services/context';
import { isConnectionLost } from '@/store/database';

const STATUS: Readonly<Record<Refusal['code'], readonly [number, string]>> = {
  'bad-request': [400, 'The request does not fit'],
  'not-found': [404, 'Not there'],
  conflict: [409, 'Not possible now'],
  'too-large': [413, 'Too large'],
};

/** Problem details for HTTP interfaces, RFC 9457. */
export function problem(status: number, title: string, detail: string, code = 'problem'): Response {
  const details: ProblemDetails = { type: `urn:leadline:${code}`, title, status, detail };
  return new Response(JSON.stringify(details), { status, headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store' } });
}

/** Whatever went wrong, as an answer that says what, which, why and what now. */
export function problemFrom(error: unknown): Response {
  if (error instanceof Refusal) {
    const [status, title] = STATUS[error.code];
    return problem(status, title, error.message, error.code);
  }
  if (isConnectionLost(error)) return problem(503, 'The database does not answer', 'Nothing was changed. It usually comes back by itself; try again in a moment.', 'database');
  if ((error as { code?: string }).code === 'ENOSPC') return problem(507, 'The disk is full', 'Nothing was changed. Make room on the disk of the data folder and send it again.', 'no-space');
  console.error(error);
  return problem(500, 'The program made a mistake', 'Nothing was changed. The details are in the log of the web server.', 'defect');
}
