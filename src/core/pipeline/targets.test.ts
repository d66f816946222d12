import { billKind, billPipeline } from '../../../tests/support/definitions';
import type { Surroundings } from './catalogue';
import type { Step, Value } from './definition';
import { complaintsAbout } from './static-checks';
import { fits, targetsOf } from './targets';

const around: Surroundings = {
  kinds: [billKind()], pipelines: [],
  lists: [{ key: 'ledger', name: 'Ledger', results: true, columns: ['Bill', 'Date', 'Total', 'Note'], types: { Bill: 'identifier', Date: 'date', Total: 'money', Note: 'text' } }],
  connections: [
    { key: 'db', name: 'Office', connector: 'database', tables: [{ name: 'bill', columns: [{ name: 'id', type: 'number' }, { name: 'number', needed: true }, { name: 'total', type: 'number', needed: true }, { name: 'leadline_key' }] }] },
    { key: 'app', name: 'App', connector: 'http', operations: [{ method: 'POST', path: '/bills/{id}/lines', summary: '', body: ['vendor', 'note'], needed: ['vendor'] }] },
    { key: 'tools', name: 'Tools', connector: 'mcp', tools: [{ name: 'enter', about: '', inputs: ['what'], needed: ['what'] }] },
  ],
  files: [{ file: 'Bills.csv', tab: null, columns: ['Bill'] }, { file: 'Bills.xlsx', tab: 'Open', columns: ['Bill', 'Total'] }],
};
const about = (step: Step): string[] => complaintsAbout({ ...billPipeline(), steps: [{ id: 'read', do: 'read', kind: 'haulage-bill' }, step] }, around).map(({ text }) => text);
const list = (columns: Record<string, Value>): Step => ({ id: 'w', do: 'write-list', list: 'ledger', columns });
const table = (changes: object): Step => ({ id: 'w', do: 'write-table', connection: 'db', table: 'bill', keyColumn: 'leadline_key', columns: { number: 'number', total: 'total' }, ...changes });

describe('what goes into a column of another type', () => {
  test('is said, with what to do', () => {
    expect(about(list({ Bill: 'number', Date: 'date', Total: 'total', Note: 'haulier' }))).toEqual([]);
    expect(about(list({ Date: 'total', Total: { pick: 'haulier' } }))).toEqual(['“Date” takes a date, and “Total” is an amount. Pick another value, or compute one.', '“Total” takes an amount, and “Haulier” is a text. Pick another value, or compute one.']);
  });
  test('is left to the run where it is computed or written', () => {
    expect(about(list({ Total: { expression: 'haulier' }, Date: { text: 'today' } }))).toEqual([]);
  });
  test('rows of a table have the types of its columns', () => {
    expect(about({ id: 'w', do: 'write-list', list: 'ledger', each: 'lines', columns: { Total: 'row.description' } })).toEqual(['“Total” takes an amount, and “Description” is a text. Pick another value, or compute one.']);
  });
  test.each([['money', 'number', true], ['date', 'text', true], ['text', 'money', false], ['identifier', 'date', false], ['yes-no', 'yes-no', true], ['text', 'choice', true]] as const)('%s into %s: %s', (from, to, expected) => expect(fits(from, to)).toBe(expected));
});

describe('what a target needs', () => {
  test('columns of a database table', () => {
    expect([about(table({})), about(table({ columns: { number: 'number' } }))]).toEqual([[], ['“bill” needs “total”. Give it a value.']]);
    expect(about(table({ keyColumn: 'delivery' }))[0]).toBe('“bill” has no column “delivery” for the delivery key. Add it there (text of at least 120 characters), or name another.');
    expect(about(table({ table: 'bills' }))[0]).toBe('The database shows no table “bills”. It shows bill. If it is new, try the connection again.');
  });
  test('members of a request, whatever stands in its path', () => {
    const send = (body: Record<string, Value>): Step => ({ id: 's', do: 'send', connection: 'app', method: 'POST', path: '/bills/{number}/lines', body });
    expect([about(send({ note: 'haulier' })), about(send({ 'vendor.id': 'haulier' }))]).toEqual([['“POST /bills/{number}/lines” needs “vendor”. Give it a value.'], []]);
  });
  test('inputs of a tool', () => {
    expect(about({ id: 't', do: 'tool', connection: 'tools', tool: 'enter', input: {} })).toEqual(['“enter” needs “what”. Give it a value.']);
  });
});

describe(targetsOf, () => {
  test('knows the headings of files that are there, and nothing of those that are not', () => {
    const workbook: Step = { id: 'w', do: 'write-workbook', file: 'Bills.xlsx', tabs: [{ tab: 'Open', columns: { Bill: 'number', Colour: 'haulier' } }, { tab: 'New', columns: { A: 'total' } }] };
    expect(targetsOf(workbook, around).map(({ columns }) => columns?.map(({ name }) => name) ?? null)).toEqual([['Bill', 'Total'], null]);
    expect(about(workbook)).toEqual(['“Open of Bills.xlsx” has no column “Colour”. It has Bill, Total.']);
    expect(about({ id: 'c', do: 'write-csv', file: 'Bills.csv', columns: { Total: 'total' } })).toEqual(['“Bills.csv” has no column “Total”. It has Bill.']);
  });
});
