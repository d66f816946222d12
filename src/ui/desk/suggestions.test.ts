import { checkDocument } from '@/core/checking/check';
import { readDocument } from '@/core/reading/chain';
import { inspectFile } from '@/digitise/inspect';
import { makeBill, type Oddity } from '../../../demo/bills/bill';
import { printBill } from '../../../demo/bills/print';
import { billKind } from '../../../tests/support/definitions';
import { withReading } from '@/core/reading/edit';
import { suggestionsFor } from './suggestions';

const kind = billKind();

async function situation(seed: number, oddity: Oddity) {
  const { pages } = await inspectFile(await printBill(makeBill(seed, oddity)));
  const reading = readDocument(pages, kind);
  const check = (readings: Parameters<typeof checkDocument>[0]['readings']) => checkDocument({ kind, layout: reading.layout, readings, pages });
  return { kind, reading, readings: reading, findings: check(reading), check };
}

describe(suggestionsFor, () => {
  test('offers the discount of the remark first; taking it closes the gap', async () => {
    const now = await situation(4, 'discount elsewhere');
    const [first] = suggestionsFor('total', now);
    expect(first?.text).toMatch(/^Discount 29\.10, “Agreed harbour discount of”: then it adds up$/);
    expect(now.check(withReading(now.readings, first!.path, first!.reading))).toEqual([]);
  });
  test('offers what the parts come to where nothing on the page explains the gap', async () => {
    const now = await situation(7, 'does not add up');
    const [first] = suggestionsFor('total', now);
    expect(first?.text).toContain('what the parts come to');
    expect(now.check(withReading(now.readings, 'total', first!.reading))).toEqual([]);
  });
  test('on a row that does not multiply, each figure can follow from the other two', async () => {
    const now = await situation(6, 'wrong row');
    for (const column of ['price', 'amount'] as const) {
      const [first] = suggestionsFor(`lines.0.${column}`, now);
      expect(first?.text).toContain(column === 'price' ? 'amount ÷ quantity' : 'quantity × price');
    }
    const [price] = suggestionsFor('lines.0.price', now);
    expect(now.check(withReading(now.readings, price!.path, price!.reading))).toEqual([]);
  });
  test('offers nothing where nothing is wrong', async () => {
    expect(suggestionsFor('number', await situation(2, 'none'))).toEqual([]);
  });
});
