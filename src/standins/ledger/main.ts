import { createHash } from 'node:crypto';
import type http from 'node:http';
import Decimal from 'decimal.js';
import { Webhook } from 'standardwebhooks';
import { answer, standUp, type Call } from '../service';
import { problem, Skies, suffer } from '../weather';
import { openBooks, type Bill, type Order, type Receipt, type Vendor } from './books';
import { OPENAPI } from './openapi';
import { plainPage } from './page';

/**
 * A simulated business application: vendors, orders, receipts, bills with attachments. Arguments: port, key, folder of its records, secret
 * of the events that it takes at `POST /hooks/leadline`.
 * It keeps idempotency keys: the same request under the same key is done once (IETF draft, The Idempotency-Key HTTP Header Field).
 * Without a key: `GET /` a page with its records, `GET /openapi.json`, `GET /records`, `PUT /vendors`, `PUT /orders`, `GET|PUT /weather`.
 */
const [port = '', secret = '', folder = '', hookSecret = ''] = process.argv.slice(2);
const { records, keep } = openBooks(folder);
const skies = new Skies(1871);

async function control(call: Call, response: http.ServerResponse): Promise<boolean> {
  const { method, parts, body } = call;
  switch (`${method} ${parts.join('/')}`) {
    case 'GET ':
      response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(plainPage(records));
      return true;
    case 'GET openapi.json':
      answer(response, 200, OPENAPI);
      return true;
    case 'GET records':
      answer(response, 200, { ...records, answered: Object.keys(records.answered).length });
      return true;
    case 'PUT vendors':
      replace(records.vendors, JSON.parse((await body()).toString('utf8')) as Vendor[]);
      response.writeHead(204).end();
      return true;
    case 'PUT orders':
      replace(records.orders, JSON.parse((await body()).toString('utf8')) as Order[]);
      response.writeHead(204).end();
      return true;
    case 'POST hooks/leadline':
      await hear(call, response);
      return true;
    default:
      return false;
  }
}

/** Events carry no key but a signature; a receiver that falls silent or talks nonsense has heard all the same. */
async function hear({ headers, body, url }: Call, response: http.ServerResponse): Promise<void> {
  const bytes = await body();
  const mishap = await skies.befalls(url.pathname);
  const heardAllTheSame = mishap === 'falls silent' || mishap === 'talks nonsense';
  if (mishap && !heardAllTheSame) return suffer(mishap, response);
  try {
    const event = new Webhook(hookSecret).verify(bytes.toString('utf8'), headers as Record<string, string>) as { id: string; type: string; subject: string };
    const known = records.heard.find(({ id }) => id === event.id);
    if (known) known.times += 1;
    else records.heard.push({ id: event.id, type: event.type, subject: event.subject, times: 1 });
    keep();
  } catch {
    return problem(response, 401, 'Not signed', 'The signature of the event does not fit.');
  }
  if (mishap === 'falls silent') response.socket?.destroy();
  else if (mishap === 'talks nonsense') suffer(mishap, response);
  else response.writeHead(204).end();
}

function replace<T>(list: T[], by: readonly T[]): void {
  list.splice(0, list.length, ...by);
  keep();
}

async function serve(call: Call, response: http.ServerResponse): Promise<void> {
  const { method, parts, url } = call;
  const [, collection = '', id, part] = parts;
  if (method === 'GET') return read(collection, id, url, response);
  if (method === 'POST' && collection === 'bills' && id === undefined) return once(call, response, (body) => addBill(body, call));
  if (method === 'POST' && collection === 'bills' && part === 'attachments') return once(call, response, (_body, bytes) => attach(String(id), bytes, url.searchParams.get('name') ?? 'attachment'));
  if (method === 'POST' && collection === 'receipts') return once(call, response, (body) => addReceipt(body, call));
  return problem(response, 404, 'Nothing here', `${method} ${url.pathname} is not known.`);
}

function read(collection: string, id: string | undefined, url: URL, response: http.ServerResponse): void {
  const list = ({ vendors: records.vendors, orders: records.orders.map(withOpen), bills: records.bills, receipts: records.receipts } as Record<string, readonly { id: string }[]>)[collection];
  if (!list) return problem(response, 404, 'Nothing here', `${url.pathname} is not known.`);
  if (id !== undefined) {
    const found = list.find((record) => record.id === decodeURIComponent(id));
    return found ? answer(response, 200, found) : problem(response, 404, 'Not found', `There is no ${collection.slice(0, -1)} ${id}.`);
  }
  const wanted = [...url.searchParams];
  answer(response, 200, { items: list.filter((record) => wanted.every(([name, value]) => String((record as Record<string, unknown>)[name] ?? '') === value)) });
}

/** An order with what of each line has not come yet. */
function withOpen(order: Order) {
  const came = (line: number): Decimal => Decimal.sum(0, ...records.receipts.flatMap((receipt) => receipt.lines.filter((received) => received.order === order.id && received.line === line).map(({ quantity }) => quantity)));
  return { ...order, lines: order.lines.map((line) => ({ ...line, open: Decimal.max(0, new Decimal(line.quantity).minus(came(line.line))).toNumber() })) };
}

type Made = { readonly status: number; readonly body: unknown };

/** Done once per key; the same key for another request is refused, as the draft wants. */
async function once(call: Call, response: http.ServerResponse, work: (body: Record<string, unknown>, bytes: Buffer) => Made): Promise<void> {
  const bytes = await call.body();
  const key = typeof call.headers['idempotency-key'] === 'string' ? call.headers['idempotency-key'] : null;
  const request = createHash('sha256').update(`${call.method} ${call.url.pathname}\n`).update(bytes).digest('hex');
  const before = key === null ? undefined : records.answered[key];
  if (before && before.request !== request) return problem(response, 422, 'Key used before', 'This idempotency key belongs to another request.');
  if (before) return answer(response, before.status, before.body, { 'idempotency-replayed': 'true' });
  const json = /json/.test(call.headers['content-type'] ?? '') ? (JSON.parse(bytes.toString('utf8')) as Record<string, unknown>) : {};
  const made = work(json, bytes);
  if (key !== null && made.status < 400) records.answered[key] = { request, ...made };
  keep();
  answer(response, made.status, made.body);
}

const refuse = (detail: string): Made => ({ status: 422, body: { type: 'about:blank', status: 422, title: 'Not accepted', detail } });
const text = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value).trim() : '');
const keyOf = (call: Call): string | null => (typeof call.headers['idempotency-key'] === 'string' ? call.headers['idempotency-key'] : null);

function addBill(body: Record<string, unknown>, call: Call): Made {
  const vendor = records.vendors.find((candidate) => candidate.id === text(body['vendor']));
  if (!vendor) return refuse(`There is no vendor “${text(body['vendor'])}”.`);
  if (text(body['number']) === '') return refuse('A bill needs a number.');
  if (!/^-?\d+(\.\d+)?$/.test(text(body['total']))) return refuse(`“${text(body['total'])}” is no amount.`);
  const bill: Bill = { id: `B-${1001 + records.bills.length}`, vendor: vendor.id, number: text(body['number']), date: text(body['date']) || null, total: text(body['total']), note: text(body['note']) || null, lines: Array.isArray(body['lines']) ? body['lines'] : [], attachments: [], key: keyOf(call) };
  records.bills.push(bill);
  return { status: 201, body: bill };
}

function attach(id: string, bytes: Buffer, name: string): Made {
  const bill = records.bills.find((candidate) => candidate.id === id);
  if (!bill) return { status: 404, body: { type: 'about:blank', status: 404, title: 'Not found', detail: `There is no bill ${id}.` } };
  bill.attachments.push({ name, size: bytes.length });
  return { status: 201, body: { bill: id, name, size: bytes.length } };
}

function addReceipt(body: Record<string, unknown>, call: Call): Made {
  const given = (Array.isArray(body['lines']) ? body['lines'] : []) as readonly Record<string, unknown>[];
  if (given.length === 0) return refuse('A receipt needs at least one line.');
  const lines: Receipt['lines'] = given.map((line) => ({ order: text(line['order'] ?? body['order']), line: Number(line['line']), quantity: text(line['quantity']) }));
  for (const { order: id, line, quantity } of lines) {
    const order = records.orders.find((candidate) => candidate.id === id);
    if (!order) return refuse(`There is no order “${id}”.`);
    if (!order.lines.some((ordered) => ordered.line === line)) return refuse(`Order ${id} has no line ${line}.`);
    if (!/^\d+(\.\d+)?$/.test(quantity)) return refuse(`“${quantity}” is no quantity.`);
  }
  const receipt: Receipt = { id: `R-${1001 + records.receipts.length}`, supplier: text(body['supplier']) || null, note: text(body['note']), date: text(body['date']) || null, lines, key: keyOf(call) };
  records.receipts.push(receipt);
  return { status: 201, body: receipt };
}

standUp({ port: Number(port), secret, skies, control, serve });
