import Decimal from 'decimal.js';
import jsonata, { type Expression } from 'jsonata';
import { RE2JS } from 're2js';
import { decimalOf } from '@/core/value/amount';

/** Limits of one expression: longest text, deepest nesting, most evaluations, most matches of a pattern. People write a line or two. */
const MOST_CHARACTERS = 2_000;
const MOST_DEPTH = 200;
const MOST_EVALUATIONS = 100_000;
const MOST_MATCHES = 10_000;
/** Longest result that is kept, characters. */
const MOST_RESULT = 100_000;

/** An expression that can be asked, or what is wrong with it and where, counted from 0. */
export type Parsed = { readonly ok: true; readonly expression: Expression } | { readonly ok: false; readonly why: string; readonly at: number | null };
export type Computed = { readonly ok: true; readonly value: string | null } | { readonly ok: false; readonly why: string };

const parsed = new Map<string, Parsed>();

/** Parse a JSONata expression (jsonata.org, version 2); the same text is parsed once. Never throws. */
export function expressionFrom(text: string): Parsed {
  const known = parsed.get(text);
  if (known) return known;
  const made = parse(text);
  if (parsed.size > 500) parsed.clear();
  parsed.set(text, made);
  return made;
}

function parse(text: string): Parsed {
  if (text.length > MOST_CHARACTERS) return { ok: false, why: `The expression has ${text.length} characters; at most ${MOST_CHARACTERS} are read`, at: MOST_CHARACTERS };
  try {
    return { ok: true, expression: prepared(jsonata(text, { RegexEngine: LinearPattern as unknown as RegExpConstructor })) };
  } catch (error) {
    const { message, position } = error as { message?: string; position?: number };
    return { ok: false, why: message ?? 'This is no expression', at: position ?? null };
  }
}

/** Amounts are decimals and stay so: these compute without binary fractions, and give text. */
const DECIMALS: Readonly<Record<string, (a: Decimal, b: Decimal) => Decimal>> = {
  plus: (a, b) => a.plus(b),
  minus: (a, b) => a.minus(b),
  times: (a, b) => a.times(b),
  over: (a, b) => a.div(b),
  rounded: (a, b) => a.toDecimalPlaces(b.toNumber(), Decimal.ROUND_HALF_UP),
};

function prepared(expression: Expression): Expression {
  for (const [name, compute] of Object.entries(DECIMALS)) {
    expression.registerFunction(name, (a: unknown, b: unknown) => {
      const [left, right] = [decimalOf(String(a ?? '')), decimalOf(String(b ?? ''))];
      if (!left || !right) return undefined;
      const result = compute(left, right);
      // $rounded keeps its places: 5.00, not 5.
      return name === 'rounded' ? result.toFixed(right.toNumber()) : result.toFixed();
    });
  }
  expression.registerFunction('total', (list: unknown) => [list].flat(2).reduce<Decimal>((sum, item) => sum.plus(decimalOf(String(item ?? '')) ?? 0), new Decimal(0)).toFixed());
  return expression;
}

/**
 * Ask an expression about data. Bounded in depth and in steps, so that it always ends; patterns run in linear time. The result is text,
 * as values are kept; nothing, an empty text, and a list without members give null.
 */
export async function compute(text: string, data: unknown): Promise<Computed> {
  const made = expressionFrom(text);
  if (!made.ok) return made;
  try {
    return { ok: true, value: asText(await bounded(made.expression, data)) };
  } catch (error) {
    return { ok: false, why: (error as Error).message ?? 'The expression failed' };
  }
}

async function bounded(expression: Expression, data: unknown): Promise<unknown> {
  let [depth, evaluations] = [0, 0];
  const hooks = expression as unknown as { assign(name: symbol, hook: () => void): void };
  // Two evaluations of one expression at once count into the newer one's figures; the sum of the steps stays bounded.
  hooks.assign(Symbol.for('jsonata.__evaluate_entry'), () => {
    depth += 1;
    evaluations += 1;
    if (depth > MOST_DEPTH) throw new Error(`The expression goes deeper than ${MOST_DEPTH} levels; does it call itself?`);
    if (evaluations > MOST_EVALUATIONS) throw new Error(`The expression was not done after ${MOST_EVALUATIONS} steps`);
  });
  hooks.assign(Symbol.for('jsonata.__evaluate_exit'), () => {
    depth -= 1;
  });
  return expression.evaluate(data);
}

function asText(value: unknown): string | null {
  if (value === undefined || value === null || value === '' || (Array.isArray(value) && value.length === 0)) return null;
  if (typeof value === 'function') throw new Error('The expression gives a function, not a value');
  const text = typeof value === 'object' ? JSON.stringify(value) : typeof value === 'number' ? new Decimal(value).toFixed() : String(value);
  if (text.length > MOST_RESULT) throw new Error(`The result has ${text.length} characters; at most ${MOST_RESULT} are kept`);
  return text;
}

/** What the expressions need of a regular expression, in linear time whatever the pattern: people's patterns must never hang. */
class LinearPattern {
  lastIndex = 0;
  readonly #pattern: RE2JS;
  #matches = 0;
  constructor(pattern: RegExp | string) {
    const [source, flags] = pattern instanceof RegExp ? [pattern.source, pattern.flags] : [pattern, ''];
    this.#pattern = RE2JS.compile(source, (flags.includes('i') ? RE2JS.CASE_INSENSITIVE : 0) | (flags.includes('m') ? RE2JS.MULTILINE : 0));
  }
  exec(text: string): RegExpExecArray | null {
    const matcher = this.#pattern.matcher(text);
    this.#matches += 1;
    if (this.#matches > MOST_MATCHES || this.lastIndex > text.length || !matcher.find(this.lastIndex)) return null;
    const groups = Array.from({ length: matcher.groupCount() + 1 }, (_, group) => matcher.group(group) ?? '');
    this.lastIndex = matcher.end();
    return Object.assign(groups, { index: matcher.start(), input: text }) as unknown as RegExpExecArray;
  }
}
