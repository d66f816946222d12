import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { openServices } from '@/services/context';
import { publish } from '@/services/definitions';
import { saveSource } from '@/services/sources';
import { resolveSettings } from '@/settings/settings';
import { migrate } from '@/store/migrate';
import { putList } from '@/store/queries/lists';
import { findDefinition } from '@/store/queries/definitions';
import { LEDGER } from './ledger';
import { loadSamples } from './samples';
import { STANDIN_USER } from './standin-user';

/** Bring the database up to date and load the scenario. Arguments: IMAP port of the stand-in, watched folder. Can be run again at any time. */
const [imapPort = '', folder = ''] = process.argv.slice(2);
const ACTOR = { name: 'Demo' };

const services = openServices(resolveSettings());
await migrate(services.store.pool);
for (const type of ['kind', 'pipeline'] as const) {
  const from = path.join('demo', `${type}s`);
  for (const name of readdirSync(from).filter((file) => file.endsWith('.yaml'))) {
    // A kind that was taught or changed since stays as it is.
    if (!(await findDefinition(services.store.db, type, name.replace('.yaml', '')))) await publish(services, ACTOR, type, readFileSync(path.join(from, name), 'utf8'), 'Part of the demo');
  }
}
await putList(services.store.db, LEDGER);
mkdirSync(folder, { recursive: true });
mkdirSync(services.workbookFolder, { recursive: true });
await saveSource(services, ACTOR, { key: 'office-mail', name: 'Office mailbox', connector: 'mailbox', settings: { host: '127.0.0.1', port: Number(imapPort), secure: false, user: STANDIN_USER.name, after: 'move', moveTo: 'Taken', pollSeconds: 20 }, secret: STANDIN_USER.password, pipeline: 'haulage-to-ledger', enabled: true });
await saveSource(services, ACTOR, { key: 'scan-folder', name: 'Folder “bills”', connector: 'folder', settings: { path: path.resolve(folder), pollSeconds: 2 }, secret: null, pipeline: 'haulage-to-ledger', enabled: true });
await loadSamples(services);
await services.store.close();
