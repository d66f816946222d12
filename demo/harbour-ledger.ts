import { saveConnection } from '@/services/connections';
import { saveListener } from '@/services/listeners';
import type { Services } from '@/services/context';
import type { Actor } from '@/store/queries/audit';
import { HAULIERS } from './lists';

/** Fill the simulated business application with the vendors that the office knows, connect to it, and tell it what happens. */
export async function loadLedger(services: Services, actor: Actor, { url, key, hookSecret }: { readonly url: string; readonly key: string; readonly hookSecret: string }): Promise<void> {
  const vendors = HAULIERS.map(([id, name, account]) => ({ id, name, account }));
  const answer = await fetch(`${url}/vendors`, { method: 'PUT', body: JSON.stringify(vendors) });
  if (!answer.ok) throw new Error(`The simulated business application did not take its vendors: ${answer.status}.`);
  await saveConnection(services, actor, { key: 'harbour-ledger', name: 'Harbour Ledger', connector: 'http', settings: { url, checkPath: '/openapi.json', keepsKeys: true }, secret: key });
  await saveListener(services, actor, { key: 'harbour-ledger', name: 'Harbour Ledger', url: `${url}/hooks/leadline`, types: ['leadline.run.finished', 'leadline.run.stranded'], secret: hookSecret, enabled: true });
}
