import { createHash } from 'node:crypto';
import Joi from 'joi';
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
    const file = await download(address, {}, { base: 'The address', withinMs: FETCH_MS });
    // The same bytes at the same address are the same document, whoever lists it again.
    const dedupeKey = createHash('sha256').update(address).update('\n').update(file.bytes).digest('hex');
    return { dedupeKey, type: 'leadline.address.fetched', sender: null, subject: null, occurredAt: null, files: [file], problem: null, data: { address } };
  } catch (error) {
    return `${(error as Error).message}.`;
  }
}
