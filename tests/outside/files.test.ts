/** What we write, read back by programs that we did not write. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { tableFromFile } from '@/connectors/table-file';
import { importList } from '@/core/list/import';
import { appendOnce, type TabWrite } from '@/connectors/workbook/workbook';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';

let folder = '';
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-files-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const alone = <T>(_name: string, work: (held: () => Promise<boolean>) => Promise<T>) => work(async () => true);

const READ_BACK = `
import json, sys, openpyxl
book = openpyxl.load_workbook(sys.argv[1])
print(json.dumps({sheet.title: [[cell.value for cell in row] for row in sheet.iter_rows()] for sheet in book}))
print(json.dumps([cell.hyperlink.target for cell in book['Bills'][2] if cell.hyperlink]))
`;

// Independent reader: openpyxl (Debian's python3-openpyxl).
test('a workbook is read back equal by openpyxl: figures as figures, identifiers with their zeros, links', async () => {
  const file = path.join(folder, 'Ledger.xlsx');
  const tab = (bill: string, total: string): TabWrite => ({ tab: 'Bills', columns: ['Bill', 'Total', 'Remark'], numeric: ['Total'], rows: [{ values: { Bill: bill, Total: total, Remark: '=1+1' }, link: 'http://127.0.0.1/documents/1?page=1&at=1,2,3,4' }] });
  await appendOnce(file, 'r1/workbook', [tab('000417', '1234.50')], alone);
  await appendOnce(file, 'r2/workbook', [tab('000418', '-7.00')], alone);
  const [sheets = '', links = ''] = execFileSync('/usr/bin/python3', ['-c', READ_BACK, file], { encoding: 'utf8' }).trim().split('\n');
  expect(JSON.parse(sheets)).toEqual({ Bills: [['Bill', 'Total', 'Remark', 'Leadline'], ['000417', 1234.5, '=1+1', 'r1/workbook'], ['000418', -7, '=1+1', 'r2/workbook']] });
  expect(JSON.parse(links)).toEqual(['http://127.0.0.1/documents/1?page=1&at=1,2,3,4']);
});

// Independent checker: qpdf --check. The demo's papers must be sound PDF files, or reading them would prove little.
test.each([1, 2, 22])('the demo bill %i is a sound PDF for qpdf', async (seed) => {
  const file = path.join(folder, 'bill.pdf');
  writeFileSync(file, await printBill(makeBill(seed)));
  expect(execFileSync('qpdf', ['--check', file], { encoding: 'utf8' })).toContain('No syntax or stream encoding errors found');
});

describe('reference data as files', () => {
  // RFC 4180, section 2, rules 1 to 7, with the examples printed there.
  test.each([
    ['1: records end with CRLF', 'aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n', [['aaa', 'bbb', 'ccc'], ['zzz', 'yyy', 'xxx']]],
    ['2: the last record may go without', 'aaa,bbb,ccc\r\nzzz,yyy,xxx', [['aaa', 'bbb', 'ccc'], ['zzz', 'yyy', 'xxx']]],
    ['5: fields may stand in quotes', '"aaa","bbb","ccc"\r\nzzz,yyy,xxx', [['aaa', 'bbb', 'ccc'], ['zzz', 'yyy', 'xxx']]],
    ['6: breaks, quotes and commas stand in quotes', '"aaa","b\r\nbb","c,cc"\r\nzzz,yyy,xxx', [['aaa', 'b\r\nbb', 'c,cc'], ['zzz', 'yyy', 'xxx']]],
    ['7: a quote is doubled', '"aaa","b""bb","ccc"', [['aaa', 'b"bb', 'ccc']]],
  ])('rule %s', async (_, text, table) => expect(await tableFromFile('a.csv', Buffer.from(text))).toEqual(table));

  test('what spreadsheets make of it: a byte order mark, semicolons, Latin-1', async () => {
    expect(await tableFromFile('a.csv', Buffer.from('\ufeffA;B\n1;2\n'))).toEqual([['A', 'B'], ['1', '2']]);
    expect(await tableFromFile('a.csv', Buffer.from('Name\nJ\xf8rgen', 'latin1'))).toEqual([['Name'], ['Jørgen']]);
  });

  // Independent writer: openpyxl (Debian's python3-openpyxl).
  test('a workbook that openpyxl wrote becomes a typed list', async () => {
    const file = path.join(folder, 'meters.xlsx');
    execFileSync('/usr/bin/python3', ['-c', `
import sys, openpyxl, datetime
book = openpyxl.Workbook()
sheet = book.active
for row in [['Meter', 'Boat', 'Since', 'Limit', 'Power'], ['0071', 'Corrie', datetime.date(2024, 5, 3), 1250.5, True], ['0072', 'Osprey', datetime.date(2025, 11, 14), 90.25, False]]: sheet.append(row)
book.save(sys.argv[1])
`, file]);
    const imported = importList(await tableFromFile('meters.xlsx', readFileSync(file)));
    expect(imported.ok && imported.list).toEqual({
      keyColumn: 'Meter',
      columns: [{ name: 'Meter', type: 'identifier' }, { name: 'Boat', type: 'text' }, { name: 'Since', type: 'date' }, { name: 'Limit', type: 'number' }, { name: 'Power', type: 'yes-no' }],
      rows: [{ Meter: '0071', Boat: 'Corrie', Since: '2024-05-03', Limit: '1250.5', Power: 'yes' }, { Meter: '0072', Boat: 'Osprey', Since: '2025-11-14', Limit: '90.25', Power: 'no' }],
    });
  });
});
