import Joi from 'joi';
import { Refusal } from '@/services/context';
import { services } from '@/app/services';
import type { Operation } from './operation';
import { OPERATIONS } from './operations';
import { problem, problemFrom } from './problem';

/** JSON bodies hold the readings of a document of 200 pages at most. */
const MOST_JSON_BYTES = 20_000_000;

/** Find the operation for a request, check what it brings, and answer. */
export async function dispatch(request: Request, path: readonly string[]): Promise<Response> {
  const found = OPERATIONS.map((candidate) => ({ candidate, params: matchPath(candidate.path, path) })).filter((match) => match.params !== null);
  const chosen = found.find(({ candidate }) => candidate.method === request.method);
  if (!chosen) {
    if (found.length === 0) return problem(404, 'Not there', `There is nothing at ${new URL(request.url).pathname}. All operations are listed at /api/v1/openapi.json.`, 'not-found');
    return problem(405, 'Not done this way', `This address knows ${found.map(({ candidate }) => candidate.method).join(', ')}, not ${request.method}.`, 'method');
  }
  if (request.method !== 'GET' && isFromElsewhere(request)) return problem(403, 'Not from there', 'Changes are not taken from pages of other sites.', 'cross-site');
  try {
    return await answer(chosen.candidate, chosen.params ?? {}, request);
  } catch (error) {
    return problemFrom(error);
  }
}

/** Until there is sign-in, a page of another site must not act through the browser of somebody in the office. */
function isFromElsewhere(request: Request): boolean {
  const site = request.headers.get('sec-fetch-site');
  return site !== null && site !== 'same-origin' && site !== 'none';
}

function matchPath(pattern: string, path: readonly string[]): Record<string, string> | null {
  const parts = pattern.split('/').slice(1);
  if (parts.length !== path.length) return null;
  const params: Record<string, string> = {};
  for (const [index, part] of parts.entries()) {
    const value = path[index] ?? '';
    if (part.startsWith('{')) params[part.slice(1, -1)] = value;
    else if (part !== value) return null;
  }
  return params;
}

async function answer(operation: Operation, params: Record<string, string>, request: Request): Promise<Response> {
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const body = operation.body ? await readJson(request) : undefined;
  return operation.handle({
    services: services(),
    // Sign-in comes later; until then everybody is the office.
    actor: { name: 'Office' },
    params: checked(operation.params, params, 'The address'),
    query: checked(operation.query, query, 'The query'),
    body: checked(operation.body, body, 'The body'),
    request,
  });
}

function checked(schema: Joi.ObjectSchema | undefined, value: unknown, what: string): never {
  const { error, value: valid } = (schema ?? Joi.any()).validate(value, { abortEarly: false });
  if (error) throw new Refusal('bad-request', `${what} does not fit: ${error.details.slice(0, 5).map((detail) => detail.message).join('; ')}.`);
  return valid as never;
}

async function readJson(request: Request): Promise<unknown> {
  const text = (await readBounded(request, MOST_JSON_BYTES)).toString('utf8');
  try {
    return text === '' ? {} : JSON.parse(text);
  } catch (error) {
    throw new Refusal('bad-request', `The body is not JSON: ${(error as Error).message.slice(0, 120)}.`);
  }
}

/** A request body of at most `most` bytes; longer ones are refused before they are in memory. */
export async function readBounded(request: Request, most: number): Promise<Buffer> {
  const refuse = () => new Refusal('too-large', `The body has more than ${(most / 1_000_000).toFixed(0)} MB. Send less at once.`);
  if (Number(request.headers.get('content-length') ?? 0) > most) throw refuse();
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += chunk.length;
    if (size > most) throw refuse();
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}
