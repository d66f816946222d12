import type { HttpRequest } from '@/core/pipeline/definition';
import type { Given } from '@/core/pipeline/facts';
import { compute } from '@/core/pipeline/expression';
import { fillIn, sourcesInTemplate, valuesOf, type Scope } from '@/core/pipeline/values';
import { StepFailure } from '@/core/resilience/failure';
import type { PreparedRequest } from './http';

/** The original of the document, read only where it is sent along. */
export interface Original {
  readonly name: string;
  readonly bytes: () => Promise<Buffer>;
  /** An address under which it can be fetched for a while, without a key. */
  readonly address: () => string;
}

/** Make up the request of a step for a document. */
export async function prepare(request: HttpRequest, given: Scope, original: Original, key: string | null): Promise<PreparedRequest> {
  const scope = await withOriginal(request, given, original);
  const [query, headers, body] = [await valuesOf(request.query ?? {}, scope), await valuesOf(request.headers ?? {}, scope), await valuesOf(request.body ?? {}, scope)];
  const asked = new URLSearchParams(Object.entries(query).flatMap(([name, value]) => (value === null ? [] : [[name, value]])));
  const path = pathOf(request.path, scope) + (asked.size > 0 ? `?${asked.toString()}` : '');
  const named: Record<string, string> = Object.fromEntries(Object.entries(headers).flatMap(([name, value]) => (value === null ? [] : [[name.toLowerCase(), value.replace(/[\r\n]+/g, ' ')]])));
  const keyed: Record<string, string> = key === null ? {} : { 'idempotency-key': key };
  if (request.method === 'GET' || request.method === 'DELETE') return { method: request.method, path, headers: { ...named, ...keyed }, body: null };
  return { method: request.method, path, ...(await bodyOf(request, body, original, { ...named, ...keyed })) };
}

/** What is large, or holds only for a while, is made up where the request names it. */
async function withOriginal({ query, headers, body, path }: HttpRequest, scope: Scope, original: Original): Promise<Scope> {
  const text = JSON.stringify([query, headers, body, path]);
  const address = text.includes('document.address') ? { address: original.address() } : {};
  const base64 = text.includes('document.base64') ? { base64: (await original.bytes()).toString('base64') } : {};
  return { ...scope, document: { ...scope.document, ...address, ...base64 } };
}

/** A path with its values filled in. One that is missing would lead to another place than was meant. */
export function pathOf(template: string, scope: Scope): string {
  const missing = sourcesInTemplate(template).find((source) => fillIn(`{${source}}`, scope) === '');
  if (missing !== undefined) throw new StepFailure('value-failed', `the address “${template}” needs “${missing}”, which is empty`, { untouched: true });
  return fillIn(template, scope, encodeURIComponent);
}

async function bodyOf(request: HttpRequest, body: Given, original: Original, headers: Record<string, string>): Promise<Pick<PreparedRequest, 'body' | 'headers'>> {
  switch (request.as ?? 'json') {
    case 'json':
      return { body: JSON.stringify(nested(body)), headers: { 'content-type': 'application/json', ...headers } };
    case 'form': {
      const form = new FormData();
      for (const [name, value] of Object.entries(body)) if (value !== null) form.append(name, value);
      form.append('file', new Blob([new Uint8Array(await original.bytes())]), original.name);
      return { body: form, headers };
    }
    case 'original':
      return { body: new Uint8Array(await original.bytes()), headers: { 'content-type': 'application/octet-stream', ...headers } };
  }
}

/** `bill.number` makes an object within an object; a text that is JSON of a list or an object goes as what it is. */
export function nested(values: Given): Record<string, unknown> {
  const made: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(values)) {
    const parts = name.split('.');
    let place = made;
    for (const part of parts.slice(0, -1)) {
      if (FORBIDDEN.has(part)) throw new StepFailure('value-failed', `“${name}” cannot be the name of a value that is sent`);
      place = (place[part] ??= {}) as Record<string, unknown>;
      if (typeof place !== 'object') throw new StepFailure('value-failed', `“${name}” and a shorter name are both sent; one of them must go`);
    }
    const last = parts.at(-1) ?? name;
    if (FORBIDDEN.has(last)) throw new StepFailure('value-failed', `“${name}” cannot be the name of a value that is sent`);
    place[last] = structured(value);
  }
  return made;
}

/** Names that reach into the machinery of objects. */
const FORBIDDEN = new Set(['__proto__', 'constructor', 'prototype']);

function structured(value: string | null): unknown {
  if (value === null || !/^[[{]/.test(value)) return value;
  try {
    return JSON.parse(value);
  } catch {
    return value;
  }
}

/** Take from an answer what the step names. */
export async function takeFrom(answer: unknown, take: HttpRequest['take']): Promise<Given> {
  const taken: [string, string | null][] = [];
  for (const [name, place] of Object.entries(take ?? {})) {
    const computed = await compute(place, answer ?? {});
    if (!computed.ok) throw new StepFailure('value-failed', `“${name}” cannot be taken from the answer by “${place}”: ${computed.why}`);
    taken.push([name, computed.value]);
  }
  return Object.fromEntries(taken);
}
