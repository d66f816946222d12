import mysql from 'mysql2/promise';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { runChild } from '../../bin/lib/children.mjs';
import { freePort, noteDatabase, systemIn } from '../../bin/lib/system.mjs';

const USER = { name: 'office@skarrow.example', password: 'herring' };

/** The whole system as the demo starts it, on a database of its own; nothing arrives by itself. */
export default async function start(): Promise<() => Promise<void>> {
  const server = new URL(process.env['LEADLINE_DATABASE_URL'] ?? 'missing:');
  const connection = await mysql.createConnection(server.href);
  await connection.query('DROP DATABASE IF EXISTS leadline_browser');
  await connection.query('CREATE DATABASE leadline_browser CHARACTER SET utf8mb4');
  await connection.end();
  server.pathname = '/leadline_browser';
  const dataFolder = mkdtempSync(path.join(os.tmpdir(), 'leadline-browser-'));
  const folder = path.join(dataFolder, 'bills');
  mkdirSync(folder);
  noteDatabase(dataFolder, server.href);
  const [port, demo, smtpPort, imapPort, control, readingPort, ledgerPort] = [await freePort(), await freePort(), await freePort(), await freePort(), await freePort(), await freePort(), await freePort()];
  const system = systemIn({ root: process.cwd(), dataFolder, databaseUrl: server.href, port, demo, smtpPort, imapPort, readingPort, ledgerPort });
  const children = [await system.mail(control, USER), await system.reading(), await system.ledger()];
  const { args, env } = system.loaded(folder);
  await runChild(process.execPath, args, { env });
  children.push(await system.web(), await system.worker(1));
  Object.assign(process.env, { LEADLINE_TEST_URL: `http://127.0.0.1:${port}`, LEADLINE_TEST_SMTP: String(smtpPort), LEADLINE_TEST_FOLDER: folder, LEADLINE_TEST_LEDGER: `http://127.0.0.1:${ledgerPort}` });
  return async () => {
    for (const child of children.reverse()) await child.stop();
    rmSync(dataFolder, { recursive: true, force: true });
  };
}
