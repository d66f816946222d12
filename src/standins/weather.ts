import http from 'node:http';

/** How badly a simulated service behaves. */
export const WEATHERS = ['calm', 'choppy', 'storm'] as const;
export type Weather = (typeof WEATHERS)[number];

/** One fault that is wanted exactly: the next calls whose path begins with `path` fare so. */
export interface ExactFault {
  readonly path: string;
  readonly answer: Mishap;
  /** How many calls. */
  count: number;
}

/** `falls silent`: it does what it is asked and breaks off before it says so. */
export type Mishap = 'busy' | 'refuses for now' | 'breaks' | 'drops' | 'falls silent' | 'talks nonsense';

interface Odds {
  /** Longest delay, ms. */
  readonly delayMs: number;
  readonly mishaps: Readonly<Partial<Record<Mishap, number>>>;
}

const ODDS: Readonly<Record<Weather, Odds>> = {
  calm: { delayMs: 0, mishaps: {} },
  choppy: { delayMs: 400, mishaps: { busy: 0.08, breaks: 0.04, drops: 0.02, 'falls silent': 0.02 } },
  storm: { delayMs: 1500, mishaps: { busy: 0.15, 'refuses for now': 0.08, breaks: 0.12, drops: 0.05, 'falls silent': 0.05, 'talks nonsense': 0.04 } },
};

/** The weather of one stand-in: seeded, so that a bad day can be had again. */
export class Skies {
  state: Weather = 'calm';
  exact: ExactFault[] = [];
  /** What befell callers, by mishap. */
  readonly log: Record<string, number> = {};
  private readonly chance: () => number;

  constructor(seed: number) {
    this.chance = seededChance(seed);
  }

  /** What befalls this call; null when it goes well. */
  async befalls(path: string): Promise<Mishap | null> {
    const wanted = this.exact.find((fault) => fault.count > 0 && path.startsWith(fault.path));
    if (wanted) {
      wanted.count -= 1;
      return this.note(wanted.answer);
    }
    const { delayMs, mishaps } = ODDS[this.state];
    if (delayMs > 0) await new Promise((resolve) => setTimeout(resolve, this.chance() * delayMs));
    let draw = this.chance();
    for (const [mishap, odds] of Object.entries(mishaps) as [Mishap, number][]) {
      if (draw < odds) return this.note(mishap);
      draw -= odds;
    }
    return null;
  }

  private note(mishap: Mishap): Mishap {
    this.log[mishap] = (this.log[mishap] ?? 0) + 1;
    return mishap;
  }
}

/** Let a mishap befall an answer. */
export function suffer(mishap: Exclude<Mishap, 'falls silent'>, response: http.ServerResponse): void {
  switch (mishap) {
    case 'busy':
      return problem(response, 429, 'Too many requests', 'Come again in a second.', { 'retry-after': '1' });
    case 'refuses for now':
      return problem(response, 503, 'Not available', 'Come again soon.', { 'retry-after': new Date(Date.now() + 1500).toUTCString() });
    case 'breaks':
      return problem(response, 500, 'Something broke', 'Nobody knows what.');
    case 'drops':
      response.socket?.destroy();
      return;
    case 'talks nonsense':
      response.writeHead(200, { 'content-type': 'application/json' }).end('{"job": 7, "state": "per');
  }
}

/** RFC 9457. */
export function problem(response: http.ServerResponse, status: number, title: string, detail: string, headers: Record<string, string> = {}): void {
  response.writeHead(status, { 'content-type': 'application/problem+json', ...headers }).end(JSON.stringify({ type: 'about:blank', status, title, detail }));
}

/** mulberry32: small, quick, repeatable. */
export function seededChance(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}
