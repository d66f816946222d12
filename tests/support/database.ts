import mysql from 'mysql2/promise';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { openServices, type Services } from '@/services/context';
import { resolveSettings } from '@/settings/settings';
import { migrate } from '@/store/migrate';

export interface TestBed {
  readonly services: Services;
  readonly dataFolder: string;
  readonly databaseUrl: string;
  close(): Promise<void>;
}

/** A fresh database of its own on the test server, or on another one, and a fresh data folder. */
export async function openTestBed(name: string, server = process.env['LEADLINE_DATABASE_URL']): Promise<TestBed> {
  if (!server) throw new Error('These tests need the test database: run them with “node bin/test.mjs --only database”.');
  const database = `leadline_${name}_${process.pid}`;
  // A connection for each, since the server may be stopped and started in between.
  const govern = async (...statements: string[]) => {
    const connection = await mysql.createConnection(server);
    for (const statement of statements) await connection.query(statement);
    await connection.end();
  };
  const gone = `DROP DATABASE IF EXISTS \`${database}\``;
  await govern(gone, `CREATE DATABASE \`${database}\` CHARACTER SET utf8mb4`);
  const url = new URL(server);
  url.pathname = `/${database}`;
  const dataFolder = mkdtempSync(path.join(os.tmpdir(), 'leadline-bed-'));
  const services = openServices(resolveSettings({ LEADLINE_DATABASE_URL: url.href, LEADLINE_DATA: dataFolder, LEADLINE_URL: 'http://127.0.0.1:1' }), 8);
  await migrate(services.store.pool);
  return {
    services,
    dataFolder,
    databaseUrl: url.href,
    async close() {
      await services.store.close();
      await govern(gone);
      rmSync(dataFolder, { recursive: true, force: true });
    },
  };
}
