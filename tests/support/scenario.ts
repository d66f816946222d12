import type { Services } from '@/services/context';
import { publish } from '@/services/definitions';
import { putList } from '@/store/queries/lists';
import { LEDGER } from '../../demo/ledger';
import { KIND_YAML, PIPELINE_YAML } from './definitions';

export const TESTER = { name: 'Tester' };

/** The demo's kind, pipeline and list in a test bed. */
export async function loadScenario(services: Services): Promise<void> {
  await publish(services, TESTER, 'kind', KIND_YAML, 'test');
  await publish(services, TESTER, 'pipeline', PIPELINE_YAML, 'test');
  await putList(services.store.db, LEDGER);
}
