import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { openServices } from '@/services/context';
import { publish } from '@/services/definitions';
import { saveConnection } from '@/services/connections';
import { saveSource } from '@/services/sources';
import { resolveSettings } from '@/settings/settings';
import { migrate } from '@/store/migrate';
import { findDefinition } from '@/store/queries/definitions';
import { loadArchive } from './archive';
import { loadLedger } from './harbour-ledger';
import { loadLists } from './lists';
import { loadSamples } from './samples';
import { STANDIN_USER } from './standin-user';
import { trays } from './trays';

/** Bring the database up to date and load the scenario. Argument: where everything is, as JSON. Can be run again at any time. */
interface Whereabouts {
  readonly imapPort: number;
  readonly smtpPort: number;
  /** Watched folder; the trays stand beside it. */
  readonly folder: string;
  readonly readingPort: number;
  readonly readingKey: string;
  readonly ledgerPort: number;
  readonly ledgerKey: string;
  /** Signs the events it is told. */
  readonly hookSecret: string;
}

const { imapPort, smtpPort, folder, readingPort, readingKey, ledgerPort, ledgerKey, hookSecret } = JSON.parse(process.argv[2] ?? '{}') as Whereabouts;
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
const lens = `http://127.0.0.1:${readingPort}`;
await loadLists(services, ACTOR, { url: lens, key: readingKey });
await loadLedger(services, ACTOR, { url: `http://127.0.0.1:${ledgerPort}`, key: ledgerKey, hookSecret });
await saveConnection(services, ACTOR, { key: 'office-post', name: 'Outgoing mail of the office', connector: 'mail', settings: { host: '127.0.0.1', port: smtpPort, from: STANDIN_USER.name }, secret: null });
mkdirSync(services.workbookFolder, { recursive: true });
await saveSource(services, ACTOR, { key: 'office-mail', name: 'Office mailbox', connector: 'mailbox', settings: { host: '127.0.0.1', port: imapPort, secure: false, user: STANDIN_USER.name, after: 'move', moveTo: 'Taken', pollSeconds: 20 }, secret: STANDIN_USER.password, pipeline: 'haulage-to-ledger', enabled: true });
for (const tray of trays(folder)) {
  mkdirSync(tray.path, { recursive: true });
  await saveSource(services, ACTOR, { key: tray.key, name: tray.name, connector: 'folder', settings: { path: path.resolve(tray.path), pollSeconds: 2 }, secret: null, pipeline: tray.pipeline, enabled: true });
}
await loadArchive(services, ACTOR, folder);
await loadSamples(services, lens);
await services.store.close();
