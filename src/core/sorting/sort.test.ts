import { typedPage } from '../../../tests/support/page';
import type { KindDefinition } from '@/core/reading/kind';
import { measureSorter, sortDocument, type NamedSortSample } from './sort';
import { trainSorter, wordSetOf } from './sorter';

const kind = (key: string, name: string, sorting?: KindDefinition['sorting']): KindDefinition => ({ leadline: 'kind/1', key, name, fields: [], tables: [], layouts: [], checks: [], ...(sorting ? { sorting } : {}) });
const BILL = kind('bill', 'Bill', { senders: ['@merrow.example'], never: ['Reminder'] });
const TICKET = kind('ticket', 'Ticket', { words: ['Weighbridge'] });
const KINDS = [BILL, TICKET];
const text = (of: 'bill' | 'ticket', name: string) => typedPage(of === 'bill' ? [`Invoice from ${name}`, 'Quantity Description Price Amount', 'Total due within thirty days'] : [`Weighbridge slip of ${name}`, 'Gross weight Tare weight Net weight', 'Vehicle and driver']);
const samples = (['bill', 'ticket'] as const).flatMap((of) => ['Ebb', 'Flow', 'Tide', 'Swell'].map((name): NamedSortSample => ({ kind: of, name: `${of} ${name}`, pages: [text(of, name)], words: wordSetOf([text(of, name)]) })));
const sorter = trainSorter(samples);
const sort = (page: ReturnType<typeof typedPage>, more: { sender?: string; subject?: string } = {}) => sortDocument({ pages: [page], sender: more.sender ?? null, subject: more.subject ?? null }, KINDS, sorter);

describe(sortDocument, () => {
  test('knows a paper like its samples, and says by which words', () => {
    const { kind: found, ranked } = sort(text('ticket', 'Somebody new'));
    expect([found, ranked[0]?.kind]).toEqual(['ticket', 'ticket']);
    expect(ranked[0]?.reasons.join()).toMatch(/“Weighbridge” stands on it|words as on its samples: .*weight/);
  });
  test('does not take a paper that is like none of them', () => {
    expect(sort(typedPage(['Dear neighbours', 'the annual picnic takes place on the green'])).kind).toBeNull();
    expect(sort(typedPage([])).kind).toBeNull();
  });
  test('a sender counts, but not against the paper', () => {
    const weak = typedPage(['Invoice Quantity Price', 'nothing else known here at all']);
    const share = (sender?: string) => sort(weak, sender ? { sender } : {}).ranked.find((one) => one.kind === 'bill')!.share;
    expect(share('office@merrow.example')).toBeGreaterThan(share());
    expect(sort(text('ticket', 'Ebb'), { sender: 'office@merrow.example' }).kind).toBe('ticket');
  });
  test('a wording that never stands on a kind rules it out', () => {
    const page = typedPage(['Reminder of invoice', 'Quantity Description Price Amount', 'Total due within thirty days']);
    expect(sort(page).ranked.find((one) => one.kind === 'bill')?.share).toBeLessThan(0.2);
  });
  test('the shares of all kinds and of none come to one', () => {
    expect(sort(text('bill', 'Ebb')).ranked.reduce((sum, one) => sum + one.share, 0)).toBeLessThanOrEqual(1.001);
  });
});

describe(measureSorter, () => {
  test('sorts each sample as if it had not been seen', () => {
    expect(measureSorter(samples, KINDS)).toMatchObject({ samples: 8, right: 8, wronglySure: 0 });
  });
  test('names the samples that it would have taken for another kind', () => {
    const odd: NamedSortSample = { ...samples[0]!, kind: 'ticket', name: 'a bill among tickets' };
    expect(measureSorter([...samples, odd], KINDS).mistakes).toEqual([{ sample: 'a bill among tickets', is: 'ticket', taken: 'bill' }]);
  });
});
