import ExcelJS from 'exceljs';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pLimit from 'p-limit';
import type { Exclusive } from '../disk';
import { appendOnce, confirmInWorkbook, KEY_COLUMN, type TabWrite } from './workbook';

let folder = '';
let file = '';
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-workbook-'));
  file = path.join(folder, 'Ledger.xlsx');
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const one = pLimit(1);
const exclusive: Exclusive = (_name, work) => one(() => work(async () => true));
const tab = (bill: string, changes: Partial<TabWrite> = {}): TabWrite => ({ tab: 'Bills', columns: ['Bill', 'Total'], numeric: ['Total'], rows: [{ values: { Bill: bill, Total: '12.50' }, link: 'http://x' }], ...changes });

async function rowsOf(sheet: string): Promise<string[][]> {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load(readFileSync(file) as never);
  const rows: string[][] = [];
  workbook.getWorksheet(sheet)?.eachRow((row) => rows.push([1, 2, 3].map((column) => row.getCell(column).text)));
  return rows;
}

describe(appendOnce, () => {
  test('makes the file with its headings and adds to it', async () => {
    await appendOnce(file, 'k1', [tab('A')], exclusive);
    await appendOnce(file, 'k2', [tab('B')], exclusive);
    expect(await rowsOf('Bills')).toEqual([['Bill', 'Total', KEY_COLUMN], ['A', '12.5', 'k1'], ['B', '12.5', 'k2']]);
  });
  test('writes a key once, however often it is asked to', async () => {
    await appendOnce(file, 'k1', [tab('A')], exclusive);
    const before = readFileSync(file);
    expect(await appendOnce(file, 'k1', [tab('A')], exclusive)).toEqual({ file: 'Ledger.xlsx', rows: 1, left: 0 });
    expect(readFileSync(file).equals(before)).toBe(true);
  });
  test('twenty writers at once lose nothing and double nothing', async () => {
    await Promise.all(Array.from({ length: 20 }, (_, index) => appendOnce(file, `k${index % 10}`, [tab(`B${index % 10}`)], exclusive)));
    expect((await rowsOf('Bills')).slice(1).map(([bill]) => bill).sort()).toEqual(Array.from({ length: 10 }, (_, index) => `B${index}`).sort());
  });
  test('leaves out a row whose value is there already, on that tab only', async () => {
    const hauliers = (name: string) => tab(name, { tab: 'Hauliers', columns: ['Bill'], numeric: [], rows: [{ values: { Bill: name }, link: 'http://x' }], unless: 'Bill' });
    await appendOnce(file, 'k1', [tab('A'), hauliers('Merrow')], exclusive);
    expect(await appendOnce(file, 'k2', [tab('B'), hauliers('Merrow')], exclusive)).toMatchObject({ rows: 1, left: 1 });
    expect(await rowsOf('Hauliers')).toHaveLength(2);
  });
  test('keeps what people changed: other columns, other sheets, another order of headings', async () => {
    const workbook = new ExcelJS.Workbook();
    workbook.addWorksheet('Bills').addRow([KEY_COLUMN, 'Mine', 'Total', 'Bill']);
    workbook.addWorksheet('Notes').addRow(['do not touch']);
    await workbook.xlsx.writeFile(file);
    await appendOnce(file, 'k1', [tab('A')], exclusive);
    expect(await rowsOf('Bills')).toEqual([[KEY_COLUMN, 'Mine', 'Total'], ['k1', '', '12.5']]);
    expect((await rowsOf('Notes'))[0]?.[0]).toBe('do not touch');
  });
  test('waits while an office program has the workbook open', async () => {
    await appendOnce(file, 'k1', [tab('A')], exclusive);
    writeFileSync(path.join(folder, '.~lock.Ledger.xlsx#'), '');
    await expect(appendOnce(file, 'k2', [tab('B')], exclusive)).rejects.toMatchObject({ failure: { code: 'file-locked' } });
  });
  test('refuses a file that is no workbook and leaves it as it is', async () => {
    writeFileSync(file, 'this is not a workbook');
    await expect(appendOnce(file, 'k1', [tab('A')], exclusive)).rejects.toMatchObject({ failure: { code: 'damaged-workbook' } });
    expect(readFileSync(file, 'utf8')).toBe('this is not a workbook');
  });
  test('names a heading that somebody took away', async () => {
    await appendOnce(file, 'k1', [tab('A', { columns: ['Bill'], rows: [] })], exclusive);
    await expect(appendOnce(file, 'k2', [tab('B')], exclusive)).rejects.toThrow('“Bills” in Ledger.xlsx has no column “Total”');
  });
  test('writes nothing when the lock was lost meanwhile', async () => {
    const lost: Exclusive = (_name, work) => work(async () => false);
    await expect(appendOnce(file, 'k1', [tab('A')], lost)).rejects.toMatchObject({ failure: { code: 'connection-lost' } });
    expect(await confirmInWorkbook(file, 'k1', exclusive)).toBeNull();
  });
});
