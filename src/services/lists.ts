import { stringify } from 'csv-stringify/sync';
import ExcelJS from 'exceljs';
import { readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { harmless } from '@/core/value/harmless';
import type { ListRowView, ListView, PageOf, WorkbookView } from '@/contracts/api';
import { isoMoment } from '@/store/database';
import type { PageOfList } from '@/store/queries/documents';
import { allLists, listByKey, listRows, type ListHead, type RowQuery } from '@/store/queries/lists';
import { referenceRows } from '@/store/queries/reference';
import { Refusal, type Services } from './context';

/** Rows in one export; more is a job for the database itself. */
const MOST_EXPORTED = 50_000;

export const describeLists = (services: Services): Promise<ListView[]> => allLists(services.store.db);

async function requireList(services: Services, key: string): Promise<ListHead> {
  const head = await listByKey(services.store.db, key);
  if (!head) throw new Refusal('not-found', `There is no list “${key}”.`);
  return head;
}

export async function rowsOfList(services: Services, key: string, query: RowQuery, page: PageOfList): Promise<PageOf<ListRowView> & { list: ListView }> {
  const head = await requireList(services, key);
  if (head.keyColumn !== null) {
    const { rows, total } = await referenceRows(services.store.db, head, query, page);
    return { list: { ...head, rows: total }, total, offset: page.offset, rows: rows.map((row) => ({ id: row.number, cells: row.cells, places: {}, document: null, runId: null, writtenAt: null })) };
  }
  const { rows, total } = await listRows(services.store.db, head, query, page);
  return { list: { ...head, rows: total }, total, offset: page.offset, rows: rows.map((row) => ({ id: row.id, cells: row.cells, places: row.places, document: { id: row.documentId, fileName: row.fileName }, runId: row.runId, writtenAt: isoMoment(row.writtenAt) })) };
}

export interface Export {
  readonly fileName: string;
  readonly mediaType: string;
  readonly bytes: Buffer;
}

/** The filtered rows as a file, with a last column that leads back to the page. */
export async function exportList(services: Services, key: string, query: RowQuery, format: 'csv' | 'xlsx'): Promise<Export> {
  const head = await requireList(services, key);
  const { rows } = await rowsOfList(services, key, query, { offset: 0, limit: MOST_EXPORTED });
  const names = head.columns.map((column) => column.name);
  const links = head.keyColumn === null ? rows.map((row) => `${services.settings.url}/documents/${row.document?.id ?? ''}`) : null;
  const cells = rows.map((row) => head.columns.map((column) => ({ value: row.cells[column.name] ?? '', figure: column.type === 'money' || column.type === 'number' })));
  if (format === 'xlsx') return { fileName: `${head.key}.xlsx`, mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', bytes: await asWorkbook(head, names, cells, links) };
  const lines = cells.map((row, index) => [...row.map(({ value, figure }) => (figure ? value : harmless(value))), ...(links ? [links[index] ?? ''] : [])]);
  return asCsv(head.key, [[...names, ...(links ? ['Document'] : [])], ...lines]);
}

/** RFC 4180: CRLF between records, quotes doubled. Texts must be harmless already. */
export const asCsv = (name: string, rows: readonly (readonly string[])[]): Export => ({ fileName: `${name}.csv`, mediaType: 'text/csv; charset=utf-8; header=present', bytes: Buffer.from(stringify(rows as string[][], { record_delimiter: '\r\n' }), 'utf8') });

type ExportCell = { readonly value: string; readonly figure: boolean };

async function asWorkbook(head: ListHead, names: readonly string[], rows: readonly (readonly ExportCell[])[], links: readonly string[] | null): Promise<Buffer> {
  const workbook = new ExcelJS.Workbook();
  const sheet = workbook.addWorksheet(head.name.replace(/[*?:\\/[\]]/g, ' ').slice(0, 31), { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.addRow([...names, ...(links ? ['Document'] : [])]).font = { bold: true };
  for (const [index, row] of rows.entries()) {
    const added = sheet.addRow(row.map(({ value, figure }) => (figure && value !== '' ? Number(value) : value)));
    for (const [column, { figure }] of row.entries()) if (figure) added.getCell(column + 1).numFmt = '#,##0.00';
    if (links) added.getCell(row.length + 1).value = { text: 'page', hyperlink: links[index] ?? '' };
  }
  sheet.columns.forEach((column) => (column.width = 18));
  return Buffer.from(await workbook.xlsx.writeBuffer());
}

/** The workbooks that pipelines write to. */
export async function listWorkbooks(services: Services): Promise<WorkbookView[]> {
  const names = await readdir(services.workbookFolder).catch(() => []);
  const found = names.filter((name) => name.endsWith('.xlsx') && !name.startsWith('~') && !name.startsWith('.')).sort();
  return Promise.all(found.map(async (name) => {
    const { size, mtime } = await stat(path.join(services.workbookFolder, name));
    return { name, size, changedAt: mtime.toISOString() };
  }));
}

export async function readWorkbook(services: Services, name: string): Promise<Export> {
  const known = await listWorkbooks(services);
  if (!known.some((workbook) => workbook.name === name)) throw new Refusal('not-found', `There is no workbook “${name}”.`);
  return { fileName: name, mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', bytes: await readFile(path.join(services.workbookFolder, name)) };
}
