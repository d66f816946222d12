import { openServices, type Services } from '@/services/context';
import { resolveSettings } from '@/settings/settings';
import type { Actor } from '@/store/queries/audit';

/** Use cases against the running database; closes it afterwards. */
export async function withServices<T>(work: (services: Services, actor: Actor) => Promise<T>): Promise<T> {
  const services = openServices(resolveSettings(), 4);
  try {
    return await work(services, { name: 'Command line' });
  } finally {
    await services.store.close();
  }
}
