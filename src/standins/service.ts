import http from 'node:http';
import { problem, suffer, WEATHERS, type ExactFault, type Skies, type Weather } from './weather';

/** One call to a stand-in, taken apart. */
export interface Call {
  readonly method: string;
  readonly url: URL;
  /** Parts of the path. */
  readonly parts: readonly string[];
  readonly headers: http.IncomingHttpHeaders;
  readonly body: () => Promise<Buffer>;
}

export interface StandIn {
  readonly port: number;
  /** Bearer token that calls must carry. */
  readonly secret: string;
  readonly skies: Skies;
  /** Calls for the demo and the tests, without key and without weather; true when it was one. */
  readonly control: (call: Call, response: http.ServerResponse) => Promise<boolean>;
  readonly serve: (call: Call, response: http.ServerResponse) => Promise<void>;
}

const MOST_BYTES = 40_000_000;

export const answer = (response: http.ServerResponse, status: number, body: unknown, headers: Record<string, string> = {}): void => void response.writeHead(status, { 'content-type': 'application/json', ...headers }).end(JSON.stringify(body));

/** Serve on loopback; `GET|PUT /weather` tells and sets how badly it behaves. Prints “ready”. */
export function standUp(standIn: StandIn): void {
  http.createServer((request, response) => void take(standIn, request, response).catch((error: unknown) => problem(response, 400, 'Bad request', (error as Error).message))).listen(standIn.port, '127.0.0.1', () => console.log('ready'));
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
}

async function take({ secret, skies, control, serve }: StandIn, request: http.IncomingMessage, response: http.ServerResponse): Promise<void> {
  const url = new URL(request.url ?? '/', 'http://stand-in');
  const call: Call = { method: request.method ?? 'GET', url, parts: url.pathname.split('/').slice(1), headers: request.headers, body: () => bodyOf(request) };
  if (url.pathname === '/weather') return weather(skies, call, response);
  if (await control(call, response)) return;
  if (request.headers.authorization !== `Bearer ${secret}`) return problem(response, 401, 'Unknown key', 'The key is not known here.');
  const mishap = await skies.befalls(url.pathname);
  if (mishap && mishap !== 'falls silent') return suffer(mishap, response);
  // It does what it is asked and breaks off before it says so: the caller cannot know.
  if (mishap === 'falls silent') {
    const { socket } = response;
    response.end = () => {
      socket?.destroy();
      return response;
    };
  }
  await serve(call, response);
}

async function weather(skies: Skies, call: Call, response: http.ServerResponse): Promise<void> {
  if (call.method === 'PUT') {
    const { state, exact } = JSON.parse((await call.body()).toString('utf8')) as { state?: Weather; exact?: ExactFault[] };
    if (state !== undefined && !WEATHERS.includes(state)) return problem(response, 400, 'No such weather', `Weathers are ${WEATHERS.join(', ')}.`);
    if (state) skies.state = state;
    if (exact) skies.exact = exact;
  }
  answer(response, 200, { state: skies.state, exact: skies.exact, log: skies.log });
}

async function bodyOf(request: http.IncomingMessage): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    size += part.length;
    if (size > MOST_BYTES) throw new Error('too large');
    parts.push(part);
  }
  return Buffer.concat(parts);
}
