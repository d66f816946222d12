import { sql } from 'drizzle-orm';
import { mkdirSync, utimesSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { openTestBed, type TestBed } from '../../tests/support/database';
import { TESTER } from '../../tests/support/scenario';
import { saveConnection } from './connections';
import { surroundingsOf } from './surroundings';

let bed: TestBed;
beforeAll(async () => {
  bed = await openTestBed('around');
  mkdirSync(bed.services.workbookFolder, { recursive: true });
});
afterAll(() => bed.close());

test('a database shows its tables with their columns, and a file its headings, to be chosen from and checked against', async () => {
  const { hostname, port, username, password, pathname } = new URL(bed.databaseUrl);
  const settings = { host: hostname, port: Number(port), user: username, database: pathname.slice(1) };
  await bed.services.store.db.execute(sql`CREATE TABLE IF NOT EXISTS office_bill (id INT AUTO_INCREMENT PRIMARY KEY, number VARCHAR(40) NOT NULL, total DECIMAL(12, 2) NOT NULL DEFAULT 0, day DATE, leadline_key VARCHAR(120))`);
  await saveConnection(bed.services, TESTER, { key: 'office', name: 'Office', connector: 'database', settings, secret: decodeURIComponent(password) });
  writeFileSync(path.join(bed.services.workbookFolder, 'Headed.csv'), 'Bill,Total,Leadline\r\n');
  const { connections, files } = await surroundingsOf(bed.services);
  expect(connections.find(({ key }) => key === 'office')?.tables?.find(({ name }) => name === 'office_bill')?.columns).toEqual([{ name: 'id', type: 'number' }, { name: 'number', needed: true }, { name: 'total', type: 'number' }, { name: 'day', type: 'date' }, { name: 'leadline_key' }]);
  expect(files?.filter(({ file }) => file === 'Headed.csv')).toEqual([{ file: 'Headed.csv', tab: null, columns: ['Bill', 'Total'] }]);
  // Changed since, it is looked into again.
  writeFileSync(path.join(bed.services.workbookFolder, 'Headed.csv'), 'Bill,Sum,Leadline\r\n');
  utimesSync(path.join(bed.services.workbookFolder, 'Headed.csv'), new Date(), new Date(Date.now() + 5_000));
  expect((await surroundingsOf(bed.services)).files?.filter(({ file }) => file === 'Headed.csv')[0]?.columns).toEqual(['Bill', 'Sum']);
});
