import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { pause } from '@/settings/clock';
import { makeBill, type Oddity } from './bills/bill';
import { printBill } from './bills/print';
import { billLetter, damagedLetter, emptyLetter, postman } from './mail';
import { AT_THE_START, FIRST_FREE_SEED, LATER, type Arrival } from './scenario';

/**
 * Lets the scenario's documents arrive, by real mail and real files. Arguments: SMTP port, control port, watched folder, state file,
 * seconds between two documents. Control: POST /send/KIND sends one now.
 */
const [smtpPort = '', controlPort = '', folder = '', stateFile = '', everySeconds = '30'] = process.argv.slice(2);
const post = postman(Number(smtpPort));

interface State {
  /** How many of the scenario's documents have been sent. */
  sent: number;
  nextSeed: number;
}

const state: State = existsSync(stateFile) ? (JSON.parse(readFileSync(stateFile, 'utf8')) as State) : { sent: 0, nextSeed: FIRST_FREE_SEED };

function keepState(): void {
  writeFileSync(`${stateFile}.part`, JSON.stringify(state));
  renameSync(`${stateFile}.part`, stateFile);
}

async function sendBill({ seed, oddity, by }: Arrival): Promise<string> {
  const bill = makeBill(seed, oddity);
  const pdf = await printBill(bill);
  const letter = billLetter(bill, pdf);
  if (by === 'mail') {
    await post(letter);
    return `Bill ${bill.number} by mail`;
  }
  mkdirSync(folder, { recursive: true });
  writeFileSync(path.join(folder, letter.attachments[0]?.filename ?? `${seed}.pdf`), pdf);
  return `Bill ${bill.number} into the watched folder`;
}

const ODDITIES: Readonly<Record<string, Oddity>> = { bill: 'none', 'bill-wrong': 'does not add up', 'bill-discount': 'discount elsewhere', 'bill-smudged': 'smudged label', 'bill-file': 'none' };

async function sendNow(kind: string): Promise<string | null> {
  if (kind === 'mail-without') return post(emptyLetter).then(() => 'A mail without attachment');
  const seed = state.nextSeed;
  state.nextSeed += 1;
  keepState();
  if (kind === 'damaged') return post(damagedLetter(await printBill(makeBill(seed)))).then(() => 'A mail whose attachment is cut off');
  const oddity = ODDITIES[kind];
  return oddity === undefined ? null : sendBill({ seed, oddity, by: kind === 'bill-file' ? 'folder' : 'mail' });
}

async function takeOrder(request: http.IncomingMessage, response: http.ServerResponse): Promise<void> {
  const kind = /^\/send\/([a-z-]+)$/.exec(request.url ?? '')?.[1];
  try {
    const sent = request.method === 'POST' && kind ? await sendNow(kind) : null;
    if (sent === null) response.writeHead(404).end(`Nothing is known as “${kind ?? ''}”.`);
    else response.end(JSON.stringify({ sent }));
  } catch (error) {
    response.writeHead(500).end((error as Error).message);
  }
}

http.createServer((request, response) => void takeOrder(request, response)).listen(Number(controlPort), '127.0.0.1');

while (state.sent < AT_THE_START.length) {
  await sendBill(AT_THE_START[state.sent] as Arrival);
  state.sent += 1;
  if (state.sent === 3) await post(emptyLetter);
  keepState();
}
console.log('ready');
while (state.sent < AT_THE_START.length + LATER.length) {
  await pause(Number(everySeconds) * 1000);
  await sendBill(LATER[state.sent - AT_THE_START.length] as Arrival);
  state.sent += 1;
  keepState();
}
