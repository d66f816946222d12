/** What we write, read back by programs that we did not write. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
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
