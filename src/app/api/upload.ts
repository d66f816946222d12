import type { ArrivedFile } from '@/connectors/source';
import { safeFileName } from '@/connectors/limits';
import { LIMITS } from '@/digitise/limits';
import { Refusal } from '@/services/context';
import { readBounded } from './dispatch';

/** Files in one request. */
const MOST_FILES = 40;
const MOST_BYTES = 2 * LIMITS.fileBytes;

/** The files of a request: a form with any number, or one raw body. */
export async function filesFrom(request: Request, name: string | undefined): Promise<ArrivedFile[]> {
  const bytes = await readBounded(request, MOST_BYTES);
  const type = request.headers.get('content-type') ?? 'application/octet-stream';
  if (!/^multipart\/form-data/i.test(type)) return request.body === null ? [] : [{ name: safeFileName(name, 'document.pdf'), mediaType: type.split(';')[0] ?? type, bytes }];
  const form = await new Response(new Uint8Array(bytes), { headers: { 'content-type': type } }).formData().catch((error: unknown) => Promise.reject(new Refusal('bad-request', `The form could not be taken apart: ${(error as Error).message.slice(0, 120)}.`)));
  const parts = [...form.values()].filter((value): value is File => typeof value !== 'string');
  if (parts.length > MOST_FILES) throw new Refusal('bad-request', `${parts.length} files came at once; up to ${MOST_FILES} are taken.`);
  return Promise.all(parts.map(async (part) => ({ name: safeFileName(part.name, 'document.pdf'), mediaType: part.type || 'application/octet-stream', bytes: Buffer.from(await part.arrayBuffer()) })));
}
