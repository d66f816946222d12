import { systemClock } from '@/settings/clock';
import { Refusal, type Services } from './context';
import { requirePapers } from './documents';

/** A service may fetch the original for so long, seconds. */
const LASTS_SECONDS = 3_600;

/**
 * An address on our own server under which a service that wants an address instead of bytes fetches the original of a document. It needs
 * no key, holds for an hour, and leads to this one document.
 */
export function passFor(services: Services, documentId: string): string {
  const until = Math.floor(systemClock.nowMs() / 1000) + LASTS_SECONDS;
  return `${services.settings.url.replace(/\/+$/, '')}/api/v1/originals/${documentId}?until=${until}&proof=${services.secrets().proof(textOf(documentId, until))}`;
}

const textOf = (documentId: string, until: number): string => `original ${documentId} until ${until}`;

export async function originalByPass(services: Services, documentId: string, { until, proof }: { readonly until: number; readonly proof: string }): Promise<{ bytes: Buffer; mediaType: string; fileName: string }> {
  // Whether it is forged or over is nobody's business.
  if (!services.secrets().proves(proof, textOf(documentId, until)) || until * 1000 < systemClock.nowMs()) throw new Refusal('not-found', 'This address holds no longer. Ask for a new one.');
  const { sha256, mediaType, fileName } = await requirePapers(services, documentId);
  return { bytes: await services.blobs.get(sha256), mediaType, fileName };
}
