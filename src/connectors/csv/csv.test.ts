import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pLimit from 'p-limit';
import type { Exclusive } from '../disk';
import { putFile } from '../result-file/result-file';
import { appendToCsv, confirmInCsv } from './csv';

let folder = '';
let file = '';
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-csv-'));
  file = path.join(folder, 'Bills.csv');
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const one = pLimit(1);
const exclusive: Exclusive = (_name, work) => one(() => work(async () => true));
const lost: Exclusive = (_name, work) => work(async () => false);
const write = (key: string, rows: Record<string, string | null>[], more: { unless?: string } = {}) => appendToCsv({ file, key, columns: ['Bill', 'Text'], rows, ...more }, exclusive);

describe(appendToCsv, () => {
  test('writes headings once, quotes what needs it, and keeps the key in each row', async () => {
    await write('K1', [{ Bill: '1', Text: 'a, "b"' }]);
    await write('K2', [{ Bill: '2', Text: null }]);
    expect(readFileSync(file, 'utf8')).toBe('Bill,Text,Leadline\r\n1,"a, ""b""",K1\r\n2,,K2\r\n');
  });
  test('the same key again writes nothing, however often and at once', async () => {
    const all = await Promise.all([1, 2, 3].map(() => write('K1', [{ Bill: '1', Text: 'x' }, { Bill: '2', Text: 'y' }])));
    expect([all, readFileSync(file, 'utf8').split('\r\n').length]).toEqual([Array(3).fill({ rows: 2, left: 0 }), 4]);
    expect([await confirmInCsv(file, 'K1', exclusive), await confirmInCsv(file, 'K2', exclusive)]).toEqual([{ rows: 2, left: 0 }, null]);
  });
  test('columns that somebody has put in another order are found by their names', async () => {
    writeFileSync(file, 'Leadline,Text,Bill,Mine\r\n');
    await write('K1', [{ Bill: '1', Text: 'x' }]);
    expect(readFileSync(file, 'utf8')).toBe('Leadline,Text,Bill,Mine\r\nK1,x,1,\r\n');
  });
  test('a heading that is gone, and a file that is none, are told and left as they are', async () => {
    writeFileSync(file, 'Bill,Leadline\r\n');
    await expect(write('K1', [{ Bill: '1', Text: 'x' }])).rejects.toThrow('Bills.csv has no column “Text”');
    writeFileSync(file, 'Bill,"Text\r\n');
    await expect(write('K1', [{ Bill: '1', Text: 'x' }])).rejects.toThrow('is no CSV file any more');
    expect(readFileSync(file, 'utf8')).toBe('Bill,"Text\r\n');
  });
  test('a text that a spreadsheet would run gets an apostrophe; figures keep their sign', async () => {
    await write('K1', [{ Bill: '-12.50', Text: '=HYPERLINK("x")' }, { Bill: '+1', Text: '-rm' }]);
    expect(readFileSync(file, 'utf8').split('\r\n').slice(1, 3)).toEqual([`-12.50,"'=HYPERLINK(""x"")",K1`, `+1,'-rm,K1`]);
  });
  test('a row whose value is there already is left out', async () => {
    await write('K1', [{ Bill: '1', Text: 'x' }]);
    expect(await write('K2', [{ Bill: '1', Text: 'y' }, { Bill: '2', Text: 'z' }], { unless: 'Bill' })).toEqual({ rows: 1, left: 1 });
  });
  test('where the lock went away nothing is changed', async () => {
    await expect(appendToCsv({ file, key: 'K', columns: ['Bill'], rows: [{ Bill: '1' }] }, lost)).rejects.toThrow('went away while it was written; nothing was changed');
    expect(() => readFileSync(file)).toThrow();
  });
});

describe(putFile, () => {
  const put = (text: string) => putFile(path.join(folder, 'in'), 'a.pdf', Buffer.from(text), exclusive);
  test('the same bytes under the same name are one file; others get a number', async () => {
    expect([await put('one'), await put('one'), await put('two'), await put('two'), await put('one')]).toEqual(['a.pdf', 'a.pdf', 'a (2).pdf', 'a (2).pdf', 'a.pdf']);
    expect(readFileSync(path.join(folder, 'in/a.pdf'), 'utf8')).toBe('one');
  });
});
