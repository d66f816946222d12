import Decimal from 'decimal.js';
import { decimalOf } from '@/core/value/amount';
import type { FoundTable } from './described-table';
import type { FieldDefinition } from './kind';
import { confidenceOf, wasRecognised, type Reading } from './reading';
import { CONCEPTS, type Concept } from './wordings';

interface TotalsInput {
  readonly tables: readonly (FoundTable | null)[];
  readonly candidates: (field: FieldDefinition, wordings: readonly string[], concept: Concept) => Reading[];
}

interface DescribedField {
  readonly field: FieldDefinition;
  readonly concept: Concept | null;
}

type Sought = 'net total' | 'tax total' | 'grand total';

const CENT = new Decimal('0.011');

/**
 * Net, tax and total support each other: of all candidates those that add up are taken (EN 16931, BR-CO-15: total with tax = total
 * without tax + tax). What the kind does not ask for is sought all the same, because it tells which total is the total.
 */
export function describedTotals(found: Map<string, Reading[]>, fields: readonly DescribedField[], input: TotalsInput): void {
  const keys = new Map<Sought, string>();
  for (const { field, concept } of fields) if ((concept === 'net total' || concept === 'tax total' || concept === 'grand total') && field.type === 'money') keys.set(concept, field.key);
  if (!keys.has('grand total') && !keys.has('net total')) return;
  const listOf = (concept: Sought): readonly Reading[] => found.get(keys.get(concept) ?? '') ?? input.candidates({ key: concept, label: concept, type: 'money' }, CONCEPTS[concept], concept);
  const lists = { net: listOf('net total').slice(0, 5), tax: listOf('tax total').slice(0, 6), total: listOf('grand total').slice(0, 6) };
  const sum = sumOfLines(input.tables);
  const chosen = addingUp(lists) ?? (sum ? fromLines(lists, sum) : null);
  const take = (concept: Sought, reading: Reading | undefined, what: string) => {
    const key = keys.get(concept);
    const list = key === undefined ? undefined : found.get(key);
    if (!key || !reading || !list) return;
    const supported: Reading = { ...reading, confidence: Math.max(reading.confidence, 0.975), evidence: [...reading.evidence, { what, factor: 1 }] };
    found.set(key, [supported, ...list.filter((other) => other !== reading)]);
  };
  if (chosen) {
    take('net total', chosen.net, chosen.what);
    take('tax total', chosen.tax, chosen.what);
    take('grand total', chosen.total, chosen.what);
  } else if (computeMissing(found, keys, lists)) return;
  else if (lists.net[0] && lists.tax[0] && lists.total[0]) {
    for (const key of keys.values()) {
      const [best, ...rest] = found.get(key) ?? [];
      if (!best) continue;
      const evidence = [...best.evidence, { what: 'net, tax and total do not add up', factor: 0.72 }];
      found.set(key, [{ ...best, evidence, confidence: confidenceOf(evidence) }, ...rest]);
    }
  }
}

/** Surer than this, two of the three may give the third. */
const SURE = 0.85;

/** On a recognised page a total that could not be read is the sum of the other two, or their difference. Doubtful enough to be looked at. */
function computeMissing(found: Map<string, Reading[]>, keys: ReadonlyMap<Sought, string>, { net, tax, total }: Record<'net' | 'tax' | 'total', readonly Reading[]>): boolean {
  const [n, t, g] = [net[0], tax[0], total[0]];
  const sure = (reading: Reading | undefined): Decimal | null => (reading && reading.confidence >= SURE && wasRecognised(reading) ? decimalOf(reading.value) : null);
  const [a, b, c] = [sure(n), sure(t), sure(g)];
  const offer: [Sought, Decimal] | null = a && b && !c ? ['grand total', a.plus(b)] : b && c && !a ? ['net total', c.minus(b)] : a && c && !b ? ['tax total', c.minus(a)] : null;
  const key = offer && keys.get(offer[0]);
  if (!offer || !key || offer[1].isNegative()) return false;
  const [unsure] = found.get(key) ?? [];
  const evidence = [{ what: `${unsure ? `recognised as “${unsure.text}”` : 'not recognised'}, computed from the other two of net, tax and total`, factor: 0.75 }];
  found.set(key, [{ text: unsure?.text ?? '', value: offer[1].toFixed(2), place: unsure?.place ?? null, anchor: unsure?.anchor ?? null, reader: 'described', confidence: confidenceOf(evidence), evidence }, ...(found.get(key) ?? [])]);
  return true;
}

interface Chosen {
  readonly net?: Reading;
  readonly tax?: Reading;
  readonly total?: Reading;
  readonly what: string;
}

function addingUp({ net, tax, total }: Record<'net' | 'tax' | 'total', readonly Reading[]>): Chosen | null {
  let best: (Chosen & { worth: number }) | null = null;
  for (const n of net) for (const t of tax) for (const g of total) {
    const [a, b, c] = [n, t, g].map((reading) => decimalOf(reading.value));
    if (!a || !b || !c || b.isZero() || !a.plus(b).minus(c).abs().lte(CENT)) continue;
    const worth = n.confidence * t.confidence * g.confidence;
    if (worth > (best?.worth ?? 0)) best = { net: n, tax: t, total: g, worth, what: 'net + tax = total' };
  }
  return best;
}

/** Where one of the three is not printed, the sum of the rows is the net or the total. */
function fromLines({ net, total }: Record<'net' | 'tax' | 'total', readonly Reading[]>, sum: Decimal): Chosen | null {
  const same = (reading: Reading): boolean => decimalOf(reading.value)?.minus(sum).abs().lte(CENT) === true;
  const [n, g] = [net.find(same), total.find(same)];
  return n || g ? { ...(n ? { net: n } : {}), ...(g ? { total: g } : {}), what: 'the sum of the rows' } : null;
}

function sumOfLines(tables: readonly (FoundTable | null)[]): Decimal | null {
  for (const table of tables) {
    const once = table?.settings.once;
    if (!table || !once || table.rows.length === 0) continue;
    const cells = table.rows.map((row) => decimalOf(row[once]?.value));
    if (cells.every((cell): cell is Decimal => cell !== null)) return cells.reduce((total, cell) => total.plus(cell), new Decimal(0));
  }
  return null;
}
