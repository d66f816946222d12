/**
 * The calculation rules of EN 16931-1:2017, 6.4: BR-CO-10 (sum of line net amounts), BR-CO-13 (total without tax = lines − allowances +
 * charges), BR-CO-15 (total with tax = total without + tax). The figures are made here to follow or break the rules; values from memory of
 * the rules' wording.
 */
import Decimal from 'decimal.js';
import fc from 'fast-check';
import { checkDocument } from '@/core/checking/check';
import { typedReading } from '@/core/reading/edit';
import type { KindDefinition } from '@/core/reading/kind';

const money = (key: string) => ({ key, label: key, type: 'money' as const });
const kind: KindDefinition = {
  leadline: 'kind/1', key: 'invoice', name: 'Invoice', layouts: [],
  fields: ['allowances', 'charges', 'tax', 'payable'].map(money),
  tables: [{ key: 'lines', label: 'Lines', columns: [money('net')] }],
  checks: [{ check: 'reconcile', lines: { table: 'lines', column: 'net' }, minus: ['allowances'], plus: ['charges', 'tax'], equals: 'payable', tolerance: '0' }],
};

const reading = (cents: number) => typedReading(money('x'), new Decimal(cents).div(100).toFixed(2), { decimal: '.', dates: 'dmy' }, null);
const amount = fc.integer({ min: 0, max: 10_000_000 });

function differenceFound(lines: readonly number[], [allowances, charges, tax]: readonly [number, number, number], payable: number): string | null {
  const readings = { fields: { allowances: reading(allowances), charges: reading(charges), tax: reading(tax), payable: reading(payable) }, tables: { lines: lines.map((net) => ({ net: reading(net) })) } };
  return checkDocument({ kind, layout: null, readings, pages: [] })[0]?.gap?.difference ?? null;
}

test('totals that follow BR-CO-10, -13 and -15 pass, to the cent', () => {
  fc.assert(fc.property(fc.array(amount, { minLength: 1, maxLength: 40 }), fc.tuple(amount, amount, amount), (lines, [allowances, charges, tax]) => {
    const payable = lines.reduce((sum, net) => sum + net, 0) - allowances + charges + tax;
    expect(differenceFound(lines, [allowances, charges, tax], payable)).toBeNull();
  }));
});

test('a total that breaks them by any amount is found with exactly that difference', () => {
  fc.assert(fc.property(fc.array(amount, { minLength: 1, maxLength: 10 }), fc.integer({ min: -99_999, max: 99_999 }).filter((slip) => slip !== 0), (lines, slip) => {
    const payable = lines.reduce((sum, net) => sum + net, 0) + slip;
    expect(differenceFound(lines, [0, 0, 0], payable)).toBe(new Decimal(slip).div(100).toFixed(2));
  }));
});

// Common practice, no source: a forgotten discount shows as a gap of exactly its amount.
test('a forgotten discount is a gap of exactly its amount', () => {
  expect(differenceFound([10_000, 5_000], [0, 0, 3_000], 17_500)).toBe('-5.00');
});
