#!/usr/bin/env node
// Everything from nothing: packages, build, database, scenario, stand-ins, web server, worker. Needs only Node 20 and npm.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { runChild } from './lib/children.mjs';
import { startDatabase } from './lib/database.mjs';
import { ensurePackages } from './lib/packages.mjs';
import { ensureBuild, ensureModules } from './lib/prepare.mjs';
import { stage } from './lib/stage.mjs';
import { freePort, noteDatabase, systemIn, webPort } from './lib/system.mjs';

const root = path.resolve(import.meta.dirname, '..');
process.chdir(root);
const DEFAULT_PORT = 4780;
const MAIL_USER = { name: 'office@skarrow.example', password: 'herring' };

const { values: options } = parseArgs({ options: { reset: { type: 'boolean' }, port: { type: 'string' }, host: { type: 'string', default: '127.0.0.1' }, every: { type: 'string', default: '30' }, data: { type: 'string', default: 'data' } } });
const dataFolder = path.resolve(options.data);
const runningFile = path.join(dataFolder, 'running.json');
const started = [];

function refuseSecondStart() {
  if (!existsSync(runningFile)) return;
  const { pid, url } = JSON.parse(readFileSync(runningFile, 'utf8'));
  let command = '';
  try {
    command = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    // That process is gone: the last start was killed. Its children ended with it, its database is used again.
  }
  if (pid !== process.pid && command.includes('demo.mjs')) throw new Error(`The demo is running already, at ${url}. Stop it with Ctrl-C where it was started (process ${pid}).`);
  rmSync(runningFile);
}

async function reset() {
  if (!existsSync(dataFolder)) return 'nothing was there';
  if (existsSync(path.join(dataFolder, 'mariadb/made'))) await (await startDatabase(path.join(dataFolder, 'mariadb'))).stop();
  rmSync(dataFolder, { recursive: true, force: true });
  return `${dataFolder} is empty again`;
}

async function start() {
  console.log('Leadline demo\n');
  refuseSecondStart();
  await stage('Debian packages', () => {
    const installed = ensurePackages('run');
    return installed.length > 0 ? `installed ${installed.join(', ')}` : 'already there';
  });
  await stage('npm packages', () => ensureModules(root));
  await stage('Web application', () => ensureBuild(root));
  if (options.reset) await stage('Start over', reset);
  let database;
  await stage('Database', async () => {
    database = await startDatabase(path.join(dataFolder, 'mariadb'));
    started.push(database);
    noteDatabase(dataFolder, database.url('leadline'));
    return `port ${database.port}${database.reused ? ', still running from a start that was killed' : ''}`;
  });
  const port = await webPort(Number(options.port ?? DEFAULT_PORT), options.port !== undefined);
  const [imapPort, smtpPort, mailControl, demo, readingPort, ledgerPort] = [await freePort(), await freePort(), await freePort(), await freePort(), await freePort(), await freePort()];
  const system = systemIn({ root, dataFolder, databaseUrl: database.url('leadline'), host: options.host, port, demo, smtpPort, imapPort, readingPort, ledgerPort });
  const folder = path.join(dataFolder, 'bills');
  const begin = async (name, child) => stage(name, async () => void started.push(await child()));
  await begin('Stand-in mail server', () => system.mail(mailControl, MAIL_USER));
  await begin('Stand-in reading service', () => system.reading());
  await begin('Stand-in business application', () => system.ledger());
  await stage('Scenario', async () => {
    const { args, env } = system.loaded(folder);
    await runChild(process.execPath, args, { env, cwd: root });
  });
  await begin('Web server', () => system.web());
  await begin('Worker', () => system.worker(1));
  await begin('Documents', () => system.sender(folder, options.every));
  const url = `http://127.0.0.1:${port}`;
  writeFileSync(runningFile, JSON.stringify({ pid: process.pid, url, control: `http://127.0.0.1:${demo}` }));
  console.log(`\n  ${url}\n\n  The simulated business application: http://127.0.0.1:${ledgerPort}
  A document arrives every ${options.every} s for a while. Send one now: bin/leadline demo send bill\n  Files can be dropped into ${folder}. Stop with Ctrl-C; the data stays.\n`);
}

let stopping = false;
async function stop(code) {
  if (stopping) return;
  stopping = true;
  console.log('\nStopping …');
  for (const child of started.reverse()) await child.stop().catch((error) => console.error(error.message));
  rmSync(runningFile, { force: true });
  console.log('Stopped. Everything is kept for the next start.');
  process.exit(code);
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));
try {
  await start();
} catch (error) {
  console.error(`\n${error.message}`);
  await stop(1);
}
setInterval(() => undefined, 1 << 30);
