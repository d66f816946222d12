import { StepFailure } from '@/core/resilience/failure';
import { safeFileName } from '../limits';
import type { ArrivedFile } from '../source';
import { expectOk, request } from './exchange';

const MOST_BYTES = 50_000_000;

/** Fetch a file. `base`: what to call the place in sentences. Every failure is a {@link StepFailure}. */
export async function download(address: string, headers: Readonly<Record<string, string>>, { base, about, withinMs }: { readonly base: string; readonly about?: string; readonly withinMs?: number }): Promise<ArrivedFile> {
  const answer = await expectOk(await request(address, { headers: { ...headers } }, base, withinMs), base, about);
  const bytes = await bodyOf(answer, base);
  const mediaType = (answer.headers.get('content-type') ?? 'application/octet-stream').split(';')[0]?.trim() ?? '';
  return { name: nameOf(address, answer.headers.get('content-disposition')), mediaType, bytes };
}

async function bodyOf(answer: Response, base: string): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  let size = 0;
  try {
    for await (const part of answer.body ?? []) {
      size += part.length;
      if (size > MOST_BYTES) throw new StepFailure('service-refused', `what stands at ${base} has more than ${MOST_BYTES / 1e6} MB`);
      parts.push(part);
    }
  } catch (error) {
    throw error instanceof StepFailure ? error : new StepFailure('service-down', `${base} (the answer broke off)`, { cause: error });
  }
  return Buffer.concat(parts);
}

/** The name the server gives (RFC 6266, its plain form), else the last part of the path. */
export function nameOf(address: string, disposition: string | null): string {
  const given = /filename="?([^";]+)"?/i.exec(disposition ?? '')?.[1];
  const url = new URL(address);
  return safeFileName(given ?? lastPart(url.pathname), url.hostname);
}

/** The last part of a path, as it is read; what is wrongly encoded stays as it is. */
export function lastPart(path: string): string {
  const last = path.split(/[?#]/)[0]?.split('/').filter(Boolean).at(-1) ?? '';
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}
