import { checkDocument } from '@/core/checking/check';
import { isTrusted } from '@/core/checking/trust';
import { readDocument } from '@/core/reading/chain';
import type { KindDefinition } from '@/core/reading/kind';
import type { DocumentReading } from '@/core/reading/reading';
import { inspectFile } from '@/digitise/inspect';
import { readFileSync } from 'node:fs';
import { makeBill, truthOf, type Oddity } from './bills/bill';
import { printBill } from './bills/print';
import { parseKind } from '@/core/definition/parse';

const parsed = parseKind(readFileSync('demo/kinds/haulage-bill.yaml', 'utf8'));
if (!parsed.ok) throw new Error(JSON.stringify(parsed.mistakes));
const kind: KindDefinition = parsed.definition;

async function readBill(seed: number, oddity: Oddity = 'none') {
  const bill = makeBill(seed, oddity);
  const { pages, problem } = await inspectFile(await printBill(bill));
  expect(problem).toBeNull();
  const reading = readDocument(pages, kind);
  const findings = checkDocument({ kind, layout: reading.layout, readings: reading, pages });
  return { bill, pages, reading, findings, trusted: isTrusted(kind, reading, findings) };
}

/** Values as a truth file has them; a discount is printed with a minus and kept without one. */
function valuesOf(reading: DocumentReading) {
  const value = (text: string | null) => text;
  return {
    fields: Object.fromEntries(Object.entries(reading.fields).map(([key, cell]) => [key, value(cell.value)])),
    tables: { lines: (reading.tables['lines'] ?? []).map((row) => Object.fromEntries(Object.entries(row).map(([key, cell]) => [key, value(cell.value)]))) },
  };
}

describe('reading the bills of the scenario', () => {
  test.each(Array.from({ length: 40 }, (_, index) => index + 1))('finds every field and every cell of bill %i, and nothing else', async (seed) => {
    const { bill, reading, findings, trusted } = await readBill(seed);
    expect(valuesOf(reading)).toEqual(truthOf(bill));
    expect(findings).toEqual([]);
    expect(trusted).toBe(true);
  });

  test('the generated bills have from one to three pages', async () => {
    const counts = await Promise.all(Array.from({ length: 40 }, async (_, index) => (await readBill(index + 1)).pages.length));
    expect([...new Set(counts)].sort()).toEqual([1, 2, 3]);
  });

  test.each([2, 3])('explains bill %i by the discount that only its remark mentions', async (seed) => {
    const { bill, findings } = await readBill(seed, 'discount elsewhere');
    expect(findings).toHaveLength(1);
    expect(findings[0]?.gap?.difference).toBe(bill.remarkedDiscount?.neg().toFixed(2));
    expect(findings[0]?.gap?.explanations[0]?.mend).toMatchObject({ field: 'discount', value: bill.remarkedDiscount?.toFixed(2) });
  });

  test.each([4, 5])('does not let bill %i pass, whose total is wrong', async (seed) => {
    const { findings, trusted } = await readBill(seed, 'does not add up');
    expect(findings.map((finding) => finding.check)).toEqual(['reconcile']);
    expect(trusted).toBe(false);
  });

  test('names the row whose price is wrong', async () => {
    const { findings } = await readBill(6, 'wrong row');
    expect(findings[0]).toMatchObject({ check: 'line-amount', paths: ['lines.0.quantity', 'lines.0.price', 'lines.0.amount'] });
  });

  test('sends a bill with a smudged label to the desk although everything adds up', async () => {
    const { findings, trusted, reading } = await readBill(8, 'smudged label');
    expect([findings, trusted]).toEqual([[], false]);
    expect(reading.fields['total']?.confidence).toBeLessThan(0.9);
  });
});
