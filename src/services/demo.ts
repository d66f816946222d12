import type { Settings } from '@/settings/settings';
import { Refusal } from './context';

/** Invented documents that can be let arrive: by mail, or into the watched folder. */
export const SAMPLE_KINDS = ['bill', 'bill-wrong', 'bill-discount', 'bill-smudged', 'bill-file', 'mail-without', 'damaged'] as const;
export type SampleKind = (typeof SAMPLE_KINDS)[number];

/** Ask the demo's sender, a process of its own, to send one now. Returns what it sent, in words. */
export async function sendSample(settings: Settings, kind: SampleKind): Promise<string> {
  if (settings.demoControl === null) throw new Refusal('conflict', 'The demo that sends documents is not running. Start it with “npm run demo”.');
  const answer = await fetch(`${settings.demoControl}/send/${kind}`, { method: 'POST', signal: AbortSignal.timeout(15_000) }).catch((error: unknown) => Promise.reject(new Refusal('conflict', `The demo's sender does not answer (${(error as Error).message}).`)));
  if (!answer.ok) throw new Refusal('conflict', `The demo's sender could not send it: ${(await answer.text()).slice(0, 200)}`);
  return ((await answer.json()) as { sent: string }).sent;
}
