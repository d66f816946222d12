import { createHash } from 'node:crypto';
import Joi from 'joi';
import { MOST_IN_BATCH, type BatchPlace } from '../batch';
import { safeFileName } from '../limits';
import type { Arrival } from '../source';

interface Addresses {
  readonly addresses: readonly string[];
}

const FETCH_MS = 60_000;
const MOST_BYTES = 50_000_000;

/** A list of addresses (HTTP), each of which is a document. Nothing is changed there. */
export const addressesPlace: BatchPlace<Addresses> = {
  key: 'addresses',
  schema: Joi.object<Addresses>({ addresses: Joi.array().items(Joi.string().trim().uri({ scheme: ['http', 'https'] }).max(1000)).min(1).max(MOST_IN_BATCH).unique().required().label('Addresses') }),
  waiting: async ({ addresses }) => addresses.map((address) => ({ ref: address, name: nameOf(address, null), size: null, at: null })),
  async take({ refs, emit, fail, signal }) {
    for (const address of refs) {
      if (signal.aborted) return;
      const found = await fetched(address);
      if (typeof found === 'string') await fail(address, found);
      else await emit(address, found);
    }
  },
};

/** What stands at an address, or why it could not be had. */
async function fetched(address: string): Promise<Arrival | string> {
  try {
    const answer = await fetch(address, { signal: AbortSignal.timeout(FETCH_MS) });
    if (!answer.ok) return `The address answered with ${answer.status}.`;
    const bytes = await bodyOf(answer);
    if (bytes === null) return `What stands there has more than ${MOST_BYTES / 1e6} MB.`;
    const mediaType = (answer.headers.get('content-type') ?? 'application/octet-stream').split(';')[0]?.trim() ?? '';
    // The same bytes at the same address are the same document, whoever lists it again.
    const dedupeKey = createHash('sha256').update(address).update('\n').update(bytes).digest('hex');
    return { dedupeKey, type: 'leadline.address.fetched', sender: null, subject: null, occurredAt: null, files: [{ name: nameOf(address, answer.headers.get('content-disposition')), mediaType, bytes }], problem: null, data: { address } };
  } catch (error) {
    const { name, message, cause } = error as Error & { cause?: { code?: string } };
    return name === 'TimeoutError' ? `Nothing came from the address within ${FETCH_MS / 1000} s.` : `The address could not be reached (${(cause?.code ?? message).slice(0, 150)}).`;
  }
}

/** Null when there is more than is taken. */
async function bodyOf(answer: Response): Promise<Buffer | null> {
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of answer.body ?? []) {
    size += part.length;
    if (size > MOST_BYTES) return null;
    parts.push(part);
  }
  return Buffer.concat(parts);
}

/** The name the server gives (RFC 6266, its plain form), else the last part of the path. */
function nameOf(address: string, disposition: string | null): string {
  const given = /filename="?([^";]+)"?/i.exec(disposition ?? '')?.[1];
  const url = new URL(address);
  const last = decodeURIComponent(url.pathname.split('/').filter(Boolean).at(-1) ?? '');
  return safeFileName(given ?? last, url.hostname);
}
