import { saveConnection } from '@/services/connections';
import type { Services } from '@/services/context';
import type { Actor } from '@/store/queries/audit';
import { HAULIERS } from './lists';

/** Fill the simulated business application with the vendors that the office knows, and connect to it. */
export async function loadLedger(services: Services, actor: Actor, { url, key }: { readonly url: string; readonly key: string }): Promise<void> {
  const vendors = HAULIERS.map(([id, name, account]) => ({ id, name, account }));
  const answer = await fetch(`${url}/vendors`, { method: 'PUT', body: JSON.stringify(vendors) });
  if (!answer.ok) throw new Error(`The simulated business application did not take its vendors: ${answer.status}.`);
  await saveConnection(services, actor, { key: 'harbour-ledger', name: 'Harbour Ledger', connector: 'http', settings: { url, checkPath: '/openapi.json', keepsKeys: true }, secret: key });
}
