import { stringify } from 'csv-stringify/sync';
import mysql from 'mysql2/promise';
import { saveConnection } from '@/services/connections';
import type { Services } from '@/services/context';
import { importFile, importQuery } from '@/services/reference-lists';
import type { Actor } from '@/store/queries/audit';
import { listByKey, putList } from '@/store/queries/lists';
import { RESULT_LISTS } from './ledger';
import { SUPPLIERS } from './orders';
import { METERS } from './papers/harbour';

/** The office's own database, from which the list of hauliers is synced. */
const OFFICE = 'leadline_office';
export const HAULIERS = [['H-101', 'Merrow Haulage', 'SQ-4471', 14], ['H-102', 'Tollan & Daughters Reefer Lines', '00733', 30], ['H-103', 'Castley Bulk', 'SKAR-9', 14], ['H-104', 'Ormstad Carriers', '5521-C', 21]] as const;

/** Lists of results, reference data from a file and from a database, and the reading service. Can be run again: what is there stays. */
export async function loadLists(services: Services, actor: Actor, reading: { readonly url: string; readonly key: string }): Promise<void> {
  const { db } = services.store;
  for (const list of RESULT_LISTS) await putList(db, list);
  await saveConnection(services, actor, { key: 'harbour-lens', name: 'Harbour Lens', connector: 'reading-service', settings: { url: reading.url }, secret: reading.key });
  await makeOffice(services);
  const { host, port, user, password } = services.settings.database;
  await saveConnection(services, actor, { key: 'office-database', name: 'Office database', connector: 'database', settings: { host, port, user, database: OFFICE }, secret: password });
  if (!(await listByKey(db, 'berth-meters'))) await importFile(services, actor, { key: 'berth-meters', name: 'Berth meters', description: 'Which meter belongs to which berth and boat.', keyColumn: 'Meter' }, { name: 'berth-meters.csv', bytes: Buffer.from(stringify([['Meter', 'Berth', 'Boat'], ...METERS.map(({ meter, berth, boat }) => [meter, berth, boat])])) });
  if (!(await listByKey(db, 'suppliers'))) await importFile(services, actor, { key: 'suppliers', name: 'Suppliers', description: 'Who delivers to the chandlery.', keyColumn: 'Number' }, { name: 'suppliers.csv', bytes: Buffer.from(stringify([['Number', 'Name'], ...SUPPLIERS.map(({ number, name }) => [number, name])])) });
  if (!(await listByKey(db, 'hauliers'))) await importQuery(services, actor, { key: 'hauliers', name: 'Hauliers', description: 'Hauliers as the office keeps them.', connection: 'office-database', query: 'SELECT number AS Number, name AS Name, account AS Account, terms AS `Terms (days)` FROM haulier ORDER BY number', every: 60 });
}

async function makeOffice(services: Services): Promise<void> {
  const { host, port, user, password } = services.settings.database;
  const office = await mysql.createConnection({ host, port, user, password });
  await office.query(`CREATE DATABASE IF NOT EXISTS ${OFFICE} CHARACTER SET utf8mb4`);
  await office.query(`CREATE TABLE IF NOT EXISTS ${OFFICE}.haulier (number VARCHAR(20) PRIMARY KEY, name VARCHAR(100) NOT NULL, account VARCHAR(40) NOT NULL, terms INT NOT NULL)`);
  await office.query(`INSERT IGNORE INTO ${OFFICE}.haulier (number, name, account, terms) VALUES ?`, [HAULIERS.map((row) => [...row])]);
  await office.end();
}
