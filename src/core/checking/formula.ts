import Decimal from 'decimal.js';
import type { Readings } from '@/core/reading/reading';
import { decimalOf } from '@/core/value/amount';

/**
 * Formulas of checks: fields, decimals, + − × ÷, brackets, comparisons, `and`, `or`, `not`, `sum(table.column)`, `count(table)`.
 * A language of our own rather than a general one: it computes with decimals, has no loops and no names but those of the kind, so a
 * formula always ends, and what it says can be shown beside its numbers.
 */

/** Longest formula and deepest nesting; people write one line. */
const MOST_CHARACTERS = 400;
const MOST_DEPTH = 30;

type Node =
  | { readonly is: 'number'; readonly value: Decimal }
  | { readonly is: 'text'; readonly value: string }
  | { readonly is: 'field'; readonly key: string }
  | { readonly is: 'sum' | 'count'; readonly table: string; readonly column: string | null }
  | { readonly is: 'not' | 'minus'; readonly of: Node }
  | { readonly is: 'pair'; readonly by: string; readonly left: Node; readonly right: Node };

type Result = Decimal | string | boolean | null;

/** A formula that can be asked, or a sentence that says what is wrong with it. */
export type Formula = { readonly ok: true; readonly node: Node; readonly names: readonly string[] } | { readonly ok: false; readonly why: string };

const TOKEN = /\s*(?:(\d+(?:\.\d+)?)|"([^"]*)"|([a-z][a-z0-9_]*(?:\.[a-z][a-z0-9_]*)?)|(<=|>=|!=|[-+*/()=<>]))/y;
/** Binds looser the lower the number. */
const BINDING: Readonly<Record<string, number>> = { or: 1, and: 2, '=': 3, '!=': 3, '<': 3, '<=': 3, '>': 3, '>=': 3, '+': 4, '-': 4, '*': 5, '/': 5 };

interface Token {
  readonly kind: 'number' | 'text' | 'name' | 'mark';
  readonly text: string;
  readonly at: number;
}

const parsed = new Map<string, Formula>();

/** Parse a formula; the same text is parsed once. */
export function formulaFrom(text: string): Formula {
  const known = parsed.get(text);
  if (known) return known;
  const formula = parse(text);
  if (parsed.size > 500) parsed.clear();
  parsed.set(text, formula);
  return formula;
}

class Wrong extends Error {}

function parse(text: string): Formula {
  if (text.length > MOST_CHARACTERS) return { ok: false, why: `The formula has ${text.length} characters; at most ${MOST_CHARACTERS} are read` };
  try {
    const reader = new Parser(tokensOf(text));
    const node = reader.expression(0, 0);
    reader.end();
    return { ok: true, node, names: reader.names };
  } catch (error) {
    if (error instanceof Wrong) return { ok: false, why: error.message };
    throw error;
  }
}

function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.trimEnd().length) {
    const begin = TOKEN.lastIndex;
    const at = begin + (/^\s*/.exec(text.slice(begin))?.[0].length ?? 0);
    const found = TOKEN.exec(text);
    if (!found) throw new Wrong(`At character ${at + 1}, “${text.slice(at, at + 12).trim()}” cannot be read`);
    const [, number, quoted, name, mark] = found;
    tokens.push(number !== undefined ? { kind: 'number', text: number, at } : quoted !== undefined ? { kind: 'text', text: quoted, at } : name !== undefined ? { kind: name === 'and' || name === 'or' ? 'mark' : 'name', text: name, at } : { kind: 'mark', text: mark ?? '', at });
  }
  return tokens;
}

class Parser {
  readonly names: string[] = [];
  private at = 0;

  constructor(private readonly tokens: readonly Token[]) {}

  end(): void {
    const rest = this.tokens[this.at];
    if (rest) throw new Wrong(`“${rest.text}” at character ${rest.at + 1} does not belong there`);
  }

  /** Operator precedence climbing (Pratt 1973). */
  expression(least: number, depth: number): Node {
    if (depth > MOST_DEPTH) throw new Wrong(`The formula is nested deeper than ${MOST_DEPTH}`);
    let left = this.operand(depth);
    for (;;) {
      const mark = this.tokens[this.at];
      const binding = mark?.kind === 'mark' ? BINDING[mark.text] : undefined;
      if (!mark || binding === undefined || binding <= least) return left;
      this.at += 1;
      left = { is: 'pair', by: mark.text, left, right: this.expression(binding, depth + 1) };
    }
  }

  private operand(depth: number): Node {
    const token = this.tokens[this.at];
    if (!token) throw new Wrong('The formula breaks off');
    this.at += 1;
    if (token.kind === 'number') return { is: 'number', value: new Decimal(token.text) };
    if (token.kind === 'text') return { is: 'text', value: token.text };
    if (token.text === '-') return { is: 'minus', of: this.expression(5, depth + 1) };
    if (token.text === '(') {
      const inner = this.expression(0, depth + 1);
      this.expect(')');
      return inner;
    }
    if (token.kind === 'mark') throw new Wrong(`“${token.text}” at character ${token.at + 1} does not belong there`);
    if (token.text === 'not') return { is: 'not', of: this.expression(2, depth + 1) };
    // A field may be called “sum” too; with a bracket behind it is the sum over rows.
    if ((token.text === 'sum' || token.text === 'count') && this.tokens[this.at]?.text === '(') return this.overRows(token.text);
    this.names.push(token.text);
    return { is: 'field', key: token.text };
  }

  private overRows(is: 'sum' | 'count'): Node {
    this.expect('(');
    const [table = '', column = null] = (this.tokens[this.at]?.text ?? '').split('.');
    this.at += 1;
    this.expect(')');
    if (is === 'sum' && column === null) throw new Wrong('sum wants a column, as in sum(lines.amount)');
    this.names.push(column === null ? table : `${table}.${column}`);
    return { is, table, column };
  }

  private expect(mark: string): void {
    if (this.tokens[this.at]?.text !== mark) throw new Wrong(`“${mark}” is missing`);
    this.at += 1;
  }
}

/** True or false; null where a value that it needs is not there, so that nothing can be said. */
export function holds(node: Node, readings: Readings): boolean | null {
  const result = valueOf(node, readings);
  return typeof result === 'boolean' ? result : null;
}

function valueOf(node: Node, readings: Readings): Result {
  switch (node.is) {
    case 'number':
    case 'text':
      return node.value;
    case 'field': {
      const value = readings.fields[node.key]?.value ?? null;
      return decimalOf(value) ?? value;
    }
    case 'count':
      return new Decimal(readings.tables[node.table]?.length ?? 0);
    case 'sum':
      return sumOf(readings, node.table, node.column ?? '');
    case 'minus': {
      const value = valueOf(node.of, readings);
      return value instanceof Decimal ? value.neg() : null;
    }
    case 'not': {
      const value = valueOf(node.of, readings);
      return typeof value === 'boolean' ? !value : null;
    }
    case 'pair':
      return pairOf(node.by, valueOf(node.left, readings), valueOf(node.right, readings));
  }
}

function sumOf(readings: Readings, table: string, column: string): Decimal | null {
  const cells = (readings.tables[table] ?? []).map((row) => decimalOf(row[column]?.value));
  return cells.every((cell): cell is Decimal => cell !== null) ? cells.reduce((sum, cell) => sum.plus(cell), new Decimal(0)) : null;
}

function pairOf(by: string, left: Result, right: Result): Result {
  if (by === 'and') return left === false || right === false ? false : left === true && right === true ? true : null;
  if (by === 'or') return left === true || right === true ? true : left === false && right === false ? false : null;
  if (left === null || right === null) return null;
  if (left instanceof Decimal && right instanceof Decimal) return figures(by, left, right);
  const order = String(left) < String(right) ? -1 : String(left) > String(right) ? 1 : 0;
  return compared(by, order);
}

function figures(by: string, left: Decimal, right: Decimal): Result {
  switch (by) {
    case '+':
      return left.plus(right);
    case '-':
      return left.minus(right);
    case '*':
      return left.times(right);
    case '/':
      return right.isZero() ? null : left.div(right);
    default:
      return compared(by, left.comparedTo(right));
  }
}

function compared(by: string, order: number): boolean | null {
  switch (by) {
    case '=':
      return order === 0;
    case '!=':
      return order !== 0;
    case '<':
      return order < 0;
    case '<=':
      return order <= 0;
    case '>':
      return order > 0;
    case '>=':
      return order >= 0;
    default:
      return null;
  }
}
