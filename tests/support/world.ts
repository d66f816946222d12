import { typedReading } from '@/core/reading/edit';
import type { KindDefinition } from '@/core/reading/kind';
import type { DocumentReading } from '@/core/reading/reading';
import { StepFailure } from '@/core/resilience/failure';
import type { Outside } from '@/engine/outside';
import type { Chance } from '@/settings/random';

/** What befalls a call to the outside. */
const FATES = ['well', 'busy', 'full', 'drops', 'falls silent', 'resting', 'refused', 'no key', 'crash before', 'crash after', 'stall'] as const;
type Fate = (typeof FATES)[number];
/** Out of a hundred; the rest goes well. */
const ODDS: Readonly<Partial<Record<Fate, number>>> = { busy: 8, full: 4, drops: 6, 'falls silent': 8, resting: 6, refused: 3, 'no key': 3, 'crash before': 5, 'crash after': 5, stall: 4 };

/** As when the process is killed: the engine takes it for the loss of its database, and records nothing. */
const crash = () => Object.assign(new Error('killed'), { code: 'ECONNRESET' });

/**
 * A world of simulated peers with books of its own. One application keeps idempotency keys; a database keeps none, but can be asked what is
 * there; the post office does neither.
 * Every call may go wrong in every way that a network and a killed process allow.
 */
export class World {
  /** Key of a delivery → how often it took effect. */
  readonly effects = new Map<string, number>();
  readonly #held: (() => void)[] = [];
  #onStall: () => void = () => undefined;
  /** After this many mishaps the weather is calm: each history must come to an end. */
  #mishaps: number;

  constructor(
    private readonly chance: Chance,
    mishaps: number,
  ) {
    this.#mishaps = mishaps;
  }

  get stalled(): number {
    return this.#held.length;
  }

  /** Resolves when the next call stalls. */
  nextStall(): Promise<void> {
    return new Promise((resolve) => (this.#onStall = resolve));
  }

  /** Let a stalled call go on; its worker has long been given up. */
  letGo(): void {
    this.#held.shift()?.();
  }

  #fate(): Fate {
    if (this.#mishaps <= 0) return 'well';
    let draw = this.chance() * 100;
    for (const fate of FATES) {
      const odds = ODDS[fate] ?? 0;
      if (draw < odds) {
        this.#mishaps -= 1;
        return fate;
      }
      draw -= odds;
    }
    return 'well';
  }

  /** One call; `effect` is what the peer does when it gets that far. */
  async call(effect: () => void, insteadOfStall: Fate = 'stall'): Promise<void> {
    const fate = this.#fate();
    switch (fate === 'stall' ? insteadOfStall : fate) {
      case 'well':
        return effect();
      case 'busy':
        throw new StepFailure('service-busy', 'come again', { retryAfterMs: 1, untouched: true });
      case 'full':
        throw new StepFailure('connection-full', 'others come first', { retryAfterMs: 1, untouched: true });
      case 'resting':
        throw new StepFailure('service-resting', 'the breaker is open', { retryAfterMs: 2, untouched: true });
      case 'refused':
        throw new StepFailure('service-refused', 'not like this', { untouched: true });
      case 'no key':
        throw new StepFailure('no-credential', 'who are you', { untouched: true, about: 'connection:peer' });
      case 'drops':
        throw new StepFailure('service-down', 'the line broke');
      case 'falls silent':
        effect();
        throw new StepFailure('service-down', 'no answer');
      case 'crash before':
        throw crash();
      case 'crash after':
        effect();
        throw crash();
      case 'stall':
        await new Promise<void>((resolve) => {
          this.#held.push(resolve);
          this.#onStall();
        });
        return effect();
    }
  }

  readonly #once = (key: string): void => void (this.effects.has(key) || this.effects.set(key, 1));
  readonly #again = (key: string): void => void this.effects.set(key, (this.effects.get(key) ?? 0) + 1);

  /** `base`: the real thing for what the histories do not use. */
  outside(base: Outside): Outside {
    return {
      ...base,
      keepsKeys: async () => true,
      http: async (_request, _scope, _original, key) => {
        await this.call(() => {
          if (key !== null) this.#once(key);
        });
        return { id: 'B-1' };
      },
      // A call that was given up may still write later, and no question can see that coming: a database's calls break off instead.
      insertRows: async ({ key, rows }) => {
        await this.call(() => this.#again(key), 'drops');
        return { rows: rows.length, left: 0 };
      },
      rowsThere: async ({ key, rows }) => {
        await this.call(() => undefined, 'drops');
        return this.effects.has(key) ? { rows: rows.length, left: 0 } : null;
      },
      mail: async (message) => this.call(() => this.#again(message.id)),
      find: async () => {
        await this.call(() => undefined);
        return { row: { Number: 'H-101' } };
      },
    };
  }
}

const text = (value: string) => typedReading({ key: 'item', label: 'Item', type: 'text' }, value, { decimal: '.', dates: 'dmy' }, null);

export const NOTHING_KIND: KindDefinition = { leadline: 'kind/1', key: 'slip', name: 'Slip', fields: [{ key: 'number', label: 'Number', type: 'text' }], tables: [{ key: 'items', label: 'Items', columns: [{ key: 'item', label: 'Item', type: 'text' }] }], layouts: [], checks: [] };

/** A reading with so many rows, made without a page. */
export const readingOf = (rows: number): DocumentReading => ({ kind: 'slip', layout: null, fields: { number: text('4711') }, tables: { items: Array.from({ length: rows }, (_, index) => ({ item: text(`item ${index}`) })) }, misses: [], bands: [], alternatives: {}, tried: {} });
