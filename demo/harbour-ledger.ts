import { saveConnection } from '@/services/connections';
import { saveListener } from '@/services/listeners';
import type { Services } from '@/services/context';
import type { Actor } from '@/store/queries/audit';
import { HAULIERS } from './lists';
import { ORDERS, SUPPLIERS } from './orders';

/** Fill the simulated business application with the vendors that the office knows and what it has ordered, connect to it, and tell it what happens. */
export async function loadLedger(services: Services, actor: Actor, { url, key, hookSecret }: { readonly url: string; readonly key: string; readonly hookSecret: string }): Promise<void> {
  await fill(`${url}/vendors`, [...HAULIERS.map(([id, name, account]) => ({ id, name, account })), ...SUPPLIERS.map(({ number, name }) => ({ id: number, name, account: '' }))]);
  await fill(`${url}/orders`, ORDERS);
  await saveConnection(services, actor, { key: 'harbour-ledger', name: 'Harbour Ledger', connector: 'http', settings: { url, checkPath: '/openapi.json', keepsKeys: true }, secret: key });
  await saveListener(services, actor, { key: 'harbour-ledger', name: 'Harbour Ledger', url: `${url}/hooks/leadline`, types: ['leadline.run.finished', 'leadline.run.stranded'], secret: hookSecret, enabled: true });
}

async function fill(url: string, records: readonly unknown[]): Promise<void> {
  const answer = await fetch(url, { method: 'PUT', body: JSON.stringify(records) });
  if (!answer.ok) throw new Error(`The simulated business application did not take its records at ${url}: ${answer.status}.`);
}
