import { mkdirSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { startChild } from './children.mjs';
import { freePort } from './database.mjs';

const canListen = (port) =>
  new Promise((resolve) => {
    const probe = net.createServer().once('error', () => resolve(false)).once('listening', () => probe.close(() => resolve(true)));
    probe.listen(port, '127.0.0.1');
  });

/** The first free port from `wanted` on; a given one must be free. */
export async function webPort(wanted, isGiven) {
  for (let port = wanted; port < wanted + 30; port += 1) {
    if (await canListen(port)) return port;
    if (isGiven) throw new Error(`Port ${port} is used by another program. Choose another with “npm run demo -- --port NUMBER”.`);
  }
  throw new Error(`The ports from ${wanted} to ${wanted + 29} are all used by other programs. Choose one with “npm run demo -- --port NUMBER”.`);
}

/** Of the stand-in, which nobody else can reach; a real service gives a real one. */
const READING_KEY = 'lens-of-the-quay';
const LEDGER_KEY = 'ledger-of-the-quay';
const HOOK_SECRET = `whsec_${Buffer.from('the harbour ledger hears of it').toString('base64')}`;

/** The processes of a whole running system in one data folder. Each returns a child that can be stopped. */
export function systemIn({ root, dataFolder, databaseUrl, host = '127.0.0.1', port, demo, smtpPort, imapPort, readingPort, ledgerPort }) {
  const logs = path.join(dataFolder, 'logs');
  mkdirSync(logs, { recursive: true });
  const env = { LEADLINE_DATA: dataFolder, LEADLINE_DATABASE_URL: databaseUrl, LEADLINE_URL: `http://127.0.0.1:${port}`, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1', ...(demo ? { LEADLINE_DEMO: '1', LEADLINE_DEMO_CONTROL: `http://127.0.0.1:${demo}`, ...(readingPort ? { LEADLINE_DEMO_READING: `http://127.0.0.1:${readingPort}` } : {}), ...(ledgerPort ? { LEADLINE_DEMO_LEDGER: `http://127.0.0.1:${ledgerPort}` } : {}) } : {}) };
  const tsx = (file, ...args) => ['--import', 'tsx', path.join(root, file), ...args.map(String)];
  const log = (name) => path.join(logs, `${name}.log`);
  return {
    env,
    log,
    mail: (control, user) => startChild({ name: 'The stand-in mail server', args: tsx('src/standins/mail/main.ts', imapPort, smtpPort, control, user.name, user.password), env, log: log('mail'), ready: /^ready/m }),
    reading: () => startChild({ name: 'The stand-in reading service', args: tsx('src/standins/reading/main.ts', readingPort, READING_KEY, path.join(dataFolder, 'reading-service')), env, log: log('reading-service'), ready: /^ready/m }),
    ledger: () => startChild({ name: 'The stand-in business application', args: tsx('src/standins/ledger/main.ts', ledgerPort, LEDGER_KEY, path.join(dataFolder, 'harbour-ledger'), HOOK_SECRET), env, log: log('harbour-ledger'), ready: /^ready/m }),
    web: () => startChild({ name: 'The web server', args: [path.join(root, 'node_modules/next/dist/bin/next'), 'start', '--hostname', host, '--port', String(port)], env, log: log('web'), ready: `http://127.0.0.1:${port}/api/v1/counts` }),
    worker: (number, leaseMs = 20_000) => startChild({ name: 'The worker', args: tsx('src/worker/main.ts', leaseMs), env, log: log(`worker-${number}`), ready: /ready$/m }),
    sender: (folder, seconds) => startChild({ name: "The demo's sender", args: tsx('demo/sender.ts', smtpPort, demo, folder, path.join(dataFolder, 'demo.json'), seconds, readingPort), env, log: log('sender'), ready: /^ready/m, seconds: 120 }),
    loaded: (folder) => ({ args: tsx('demo/load.ts', JSON.stringify({ imapPort, smtpPort, folder, readingPort, readingKey: READING_KEY, ledgerPort, ledgerKey: LEDGER_KEY, hookSecret: HOOK_SECRET })), env }),
  };
}

/** Write where the database is, for the command line. */
export function noteDatabase(dataFolder, url) {
  mkdirSync(dataFolder, { recursive: true });
  writeFileSync(path.join(dataFolder, 'database.json'), JSON.stringify({ url }), { mode: 0o600 });
}

export { freePort };
