import type { BatchView } from '@/contracts/batches';
import type { Forecast } from '@/core/measuring/forecast';

/** A time that people plan with: 40 s, 12 min, 3.5 h. */
export function roughTime(ms: number): string {
  const seconds = Math.max(1, Math.round(ms / 1000));
  if (seconds < 90) return `${seconds} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  return `${(seconds / 3600).toFixed(1)} h`;
}

/** What a forecast says, in parts of a sentence. */
export function forecastWords({ ms, costs, asked }: Forecast): string[] {
  return [
    `about ${roughTime(ms)} of work`,
    costs.length === 0 ? 'no service is paid' : `about ${costs.map(({ amount, currency }) => `${amount} ${currency}`).join(' and ')} for services`,
    asked === 0 ? 'nobody is likely to be asked' : `somebody is asked about ${asked} of them`,
  ];
}

export const STATE_WORDS: Readonly<Record<BatchView['state'], string>> = { 'under way': 'under way', paused: 'paused', done: 'done', ended: 'ended' };

/** How a batch stands, in a sentence. */
export function standing({ state, released, items }: Pick<BatchView, 'state' | 'released' | 'items'>): string {
  const of = `${items.all - items.waiting} of ${items.all} taken`;
  if (state === 'paused' && released < items.all && items.all - items.waiting >= released) return `${of}; the first ${released} are through`;
  if (state === 'ended') return `${of}; the rest was left where it is`;
  return of;
}
