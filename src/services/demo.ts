import type { DemoWeather, WeatherReport } from '@/contracts/reading-service';
import type { Settings } from '@/settings/settings';
import { Refusal } from './context';

/** Invented documents that can be let arrive: by mail, or into the watched folder. */
export const SAMPLE_KINDS = ['bill', 'bill-wrong', 'bill-discount', 'bill-smudged', 'bill-file', 'mail-without', 'damaged', 'ticket', 'power', 'certificate', 'delivery', 'e-invoice', 'booking', 'stranger'] as const;
export type SampleKind = (typeof SAMPLE_KINDS)[number];

/** Ask the demo's sender, a process of its own, to send one now. Returns what it sent, in words. */
export async function sendSample(settings: Settings, kind: SampleKind): Promise<string> {
  if (settings.demoControl === null) throw new Refusal('conflict', 'The demo that sends documents is not running. Start it with “npm run demo”.');
  const answer = await fetch(`${settings.demoControl}/send/${kind}`, { method: 'POST', signal: AbortSignal.timeout(15_000) }).catch((error: unknown) => Promise.reject(new Refusal('conflict', `The demo's sender does not answer (${(error as Error).message}).`)));
  if (!answer.ok) throw new Refusal('conflict', `The demo's sender could not send it: ${(await answer.text()).slice(0, 200)}`);
  return ((await answer.json()) as { sent: string }).sent;
}

/** The weather of every simulated service; set first where one is given. One that does not answer is left out. */
export async function demoWeather(settings: Settings, wish?: { readonly service: string; readonly state: WeatherReport['state'] }): Promise<DemoWeather[]> {
  const wanted = settings.demoServices.find(({ key }) => key === wish?.service);
  if (wish && !wanted) throw new Refusal('not-found', `There is no simulated service “${wish.service}” whose weather could be set.`);
  if (wish && wanted) await weatherOf(wanted.url, { method: 'PUT', body: JSON.stringify({ state: wish.state }) }).catch((error: unknown) => Promise.reject(new Refusal('conflict', `${wanted.name} does not answer (${(error as Error).message}).`)));
  const reports = await Promise.all(settings.demoServices.map(({ key, name, url }) => weatherOf(url, { method: 'GET' }).then((report) => [{ service: key, name, ...report }], () => [])));
  return reports.flat();
}

async function weatherOf(url: string, init: RequestInit): Promise<WeatherReport> {
  const answer = await fetch(`${url}/weather`, { ...init, signal: AbortSignal.timeout(5_000) });
  return (await answer.json()) as WeatherReport;
}
