import { createHash } from 'node:crypto';
import Joi from 'joi';
import { FAILURES, StepFailure } from '@/core/resilience/failure';
import { MOST_IN_BATCH, type BatchPlace } from '../batch';
import { download, nameOf } from '../http/download';
import type { Arrival } from '../source';

interface Addresses {
  readonly addresses: readonly string[];
}

const FETCH_MS = 60_000;

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
    const file = await download(address, {}, { base: PLACE, withinMs: FETCH_MS });
    // The same bytes at the same address are the same document, whoever lists it again.
    const dedupeKey = createHash('sha256').update(address).update('\n').update(file.bytes).digest('hex');
    return { dedupeKey, type: 'leadline.address.fetched', sender: null, subject: null, occurredAt: null, files: [file], problem: null, data: { address } };
  } catch (error) {
    return sentenceOf(error);
  }
}

const PLACE = 'the address';

/** Why nothing came, for somebody who looks at a list of addresses. */
function sentenceOf(error: unknown): string {
  if (!(error instanceof StepFailure)) return `The address could not be read (${(error as Error).message.slice(0, 150)}).`;
  const detail = error.message.slice(FAILURES[error.failure.code].text.length + 2);
  const said = error.failure.code === 'service-down' ? detail.replace(PLACE, `${PLACE} could not be reached`) : detail;
  return `${said.charAt(0).toUpperCase()}${said.slice(1)}.`;
}
