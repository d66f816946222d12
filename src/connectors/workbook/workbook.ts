import ExcelJS from 'exceljs';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { columnsMissing, StepFailure } from '@/core/resilience/failure';
import { writeWhole } from '@/store/blobs';
import { alone, diskFailure, insist, type Exclusive } from '../disk';

/** One row for a tab: values by column heading, and the address that leads back to the page. */
export interface TabRow {
  readonly values: Readonly<Record<string, string | null>>;
  readonly link: string;
}

export interface TabWrite {
  readonly tab: string;
  /** Headings in order, used where the tab has to be made. */
  readonly columns: readonly string[];
  /** Headings whose values are numbers in the sheet. */
  readonly numeric: readonly string[];
  readonly rows: readonly TabRow[];
  /** Leave out a row whose value under this heading is there already. */
  readonly unless?: string;
}

/** What shows that a write has happened. */
export interface WorkbookProof {
  readonly file: string;
  readonly rows: number;
  /** Rows that were there already under `unless`. */
  readonly left: number;
}

/** Heading of the column that holds the delivery's key and the way back to the page. */
export const KEY_COLUMN = 'Leadline';
/** Largest workbook that is opened: it is held in memory whole. */
const MOST_BYTES = 100_000_000;

/**
 * Append rows to a workbook, once per key. The whole change, on all tabs, is made in memory and put in place by one rename, so
 * a crash leaves the old file or the new one. The key stands in each row: whoever comes again, comes to an end at once.
 */
export async function appendOnce(file: string, key: string, tabs: readonly TabWrite[], exclusive: Exclusive): Promise<WorkbookProof> {
  return alone(file, exclusive, async (held) => {
    const workbook = await openWorkbook(file);
    const before = proofIn(workbook, file, key);
    if (before) return before;
    let [rows, left] = [0, 0];
    for (const tab of tabs) {
      const written = appendTab(workbook, tab, key, file);
      rows += written;
      left += tab.rows.length - written;
    }
    const bytes = Buffer.from(await workbook.xlsx.writeBuffer());
    await insist(held, file);
    await writeWhole(file, bytes).catch((error: unknown) => Promise.reject(diskFailure(file, error)));
    return { file: path.basename(file), rows, left };
  });
}

/** Ask the workbook whether a delivery has arrived. Null: it has not. */
export function confirmInWorkbook(file: string, key: string, exclusive: Exclusive): Promise<WorkbookProof | null> {
  return alone(file, exclusive, async () => proofIn(await openWorkbook(file), file, key));
}

/** Headings of each tab, without ours. */
export async function workbookHeadings(file: string): Promise<{ readonly tab: string; readonly columns: readonly string[] }[]> {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load((await readFile(file)) as never);
  return workbook.worksheets.map((sheet) => ({ tab: sheet.name, columns: [...headingsOf(sheet).keys()].filter((heading) => heading !== KEY_COLUMN && heading !== '') }));
}

async function openWorkbook(file: string): Promise<ExcelJS.Workbook> {
  const workbook = new ExcelJS.Workbook();
  if (!existsSync(file)) return workbook;
  refuseIfOpen(file);
  const bytes = await readFile(file);
  if (bytes.length > MOST_BYTES) throw new StepFailure('damaged-workbook', `${path.basename(file)} has ${Math.round(bytes.length / 1e6)} MB; up to ${MOST_BYTES / 1e6} MB can be added to. Start a new one by moving it away`);
  try {
    await workbook.xlsx.load(bytes as never);
  } catch (error) {
    throw new StepFailure('damaged-workbook', `${path.basename(file)} is no workbook any more (${(error as Error).message.slice(0, 100)}). Put a good copy in its place, then refloat`, { cause: error });
  }
  return workbook;
}

/** Office programs leave a mark beside a workbook that somebody has open; saving there would overwrite what we write. */
function refuseIfOpen(file: string): void {
  const { dir, base } = path.parse(file);
  const mark = [`.~lock.${base}#`, `~$${base}`].find((name) => existsSync(path.join(dir, name)));
  if (mark) throw new StepFailure('file-locked', `${base} is open somewhere; close it there and it goes on by itself`);
}

function proofIn(workbook: ExcelJS.Workbook, file: string, key: string): WorkbookProof | null {
  let rows = 0;
  for (const sheet of workbook.worksheets) {
    const column = headingsOf(sheet).get(KEY_COLUMN);
    if (column === undefined) continue;
    sheet.getColumn(column).eachCell((cell) => {
      if (cell.text === key) rows += 1;
    });
  }
  return rows > 0 ? { file: path.basename(file), rows, left: 0 } : null;
}

function headingsOf(sheet: ExcelJS.Worksheet): Map<string, number> {
  const headings = new Map<string, number>();
  sheet.getRow(1).eachCell((cell, column) => headings.set(cell.text, column));
  return headings;
}

/** Returns the number of rows added. */
function appendTab(workbook: ExcelJS.Workbook, tab: TabWrite, key: string, file: string): number {
  const sheet = workbook.getWorksheet(tab.tab) ?? newTab(workbook, tab);
  const headings = headingsOf(sheet);
  const missing = [...tab.columns, KEY_COLUMN].filter((column) => !headings.has(column));
  if (missing.length > 0) throw columnsMissing(`workbook:${path.basename(file)}:${tab.tab}`, `“${tab.tab}” in ${path.basename(file)}`, missing, 'Put the heading back in row 1, or change the mapping of the pipeline');
  const there = tab.unless === undefined ? new Set<string>() : valuesUnder(sheet, headings.get(tab.unless));
  const rows = tab.rows.filter((row) => tab.unless === undefined || !there.has(row.values[tab.unless] ?? ''));
  for (const row of rows) appendRow(sheet, headings, row, tab, key);
  return rows.length;
}

function newTab(workbook: ExcelJS.Workbook, tab: TabWrite): ExcelJS.Worksheet {
  const sheet = workbook.addWorksheet(tab.tab, { views: [{ state: 'frozen', ySplit: 1 }] });
  const row = sheet.addRow([...tab.columns, KEY_COLUMN]);
  row.font = { bold: true };
  sheet.columns.forEach((column, index) => (column.width = Math.max(12, Math.min(48, (tab.columns[index]?.length ?? 10) + 8))));
  return sheet;
}

function valuesUnder(sheet: ExcelJS.Worksheet, column: number | undefined): Set<string> {
  const values = new Set<string>();
  if (column !== undefined) sheet.getColumn(column).eachCell((cell, row) => row > 1 && values.add(cell.text));
  return values;
}

function appendRow(sheet: ExcelJS.Worksheet, headings: ReadonlyMap<string, number>, row: TabRow, tab: TabWrite, key: string): void {
  const added = sheet.addRow([]);
  for (const [heading, value] of Object.entries(row.values)) {
    const cell = added.getCell(headings.get(heading) ?? 1);
    const numeric = value !== null && tab.numeric.includes(heading) && value.replace(/\D/g, '').length <= 15;
    cell.value = numeric ? Number(value) : value;
    if (numeric && /\.\d\d$/.test(value)) cell.numFmt = '#,##0.00';
  }
  const back = added.getCell(headings.get(KEY_COLUMN) ?? 1);
  back.value = { text: key, hyperlink: row.link };
  back.font = { color: { argb: 'FF1F5F6B' }, underline: true };
}
