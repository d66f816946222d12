import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { pause } from '@/settings/clock';
import { makeBill, type Oddity } from './bills/bill';
import { printBill } from './bills/print';
import { billLetter, damagedLetter, emptyLetter, postman } from './mail';
import { tellLens } from './lens';
import { AT_THE_START, FIRST_FREE_SEED, LATER, TRAY_PAPERS, type Arrival, type BillArrival, type TrayPaper } from './scenario';
import { TRAYS } from './tray-papers';
import { trays } from './trays';

/**
 * Lets the scenario's documents arrive, by real mail and real files. Arguments: SMTP port, control port, watched folder, state file,
 * seconds between two documents, port of the simulated reading service. Control: POST /send/KIND sends one now.
 */
const [smtpPort = '', controlPort = '', folder = '', stateFile = '', everySeconds = '30', readingPort = ''] = process.argv.slice(2);
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

const send = (arrival: Arrival): Promise<string> => (arrival.what === 'bill' ? sendBill(arrival) : putIntoTray(arrival.what, arrival.seed));

/** Written under another name first: a watched folder must not see half a file. */
async function putIntoTray(what: TrayPaper, seed: number): Promise<string> {
  const { tray, named, kind, make } = TRAYS[what];
  const made = await make(seed);
  await tellLens(`http://127.0.0.1:${readingPort}`, kind, made);
  const place = trays(folder).find((candidate) => candidate.key === tray)?.path ?? folder;
  mkdirSync(place, { recursive: true });
  writeFileSync(path.join(place, `.${made.name}.part`), made.bytes);
  renameSync(path.join(place, `.${made.name}.part`), path.join(place, made.name));
  return `${named} into the folder “${path.basename(place)}”`;
}

async function sendBill({ seed, oddity, by }: BillArrival): Promise<string> {
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
  const paper = TRAY_PAPERS.find((candidate) => candidate === kind);
  if (paper) return putIntoTray(paper, seed);
  const oddity = ODDITIES[kind];
  return oddity === undefined ? null : sendBill({ what: 'bill', seed, oddity, by: kind === 'bill-file' ? 'folder' : 'mail' });
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
  await send(AT_THE_START[state.sent] as Arrival);
  state.sent += 1;
  if (state.sent === 3) await post(emptyLetter);
  keepState();
}
console.log('ready');
while (state.sent < AT_THE_START.length + LATER.length) {
  await pause(Number(everySeconds) * 1000);
  await send(LATER[state.sent - AT_THE_START.length] as Arrival);
  state.sent += 1;
  keepState();
}
