import { parse } from 'csv-parse/sync';
import ExcelJS from 'exceljs';

/** A list of fifty thousand rows is smaller; a workbook unpacks to many times its size. */
const MOST_BYTES = 15_000_000;
const MOST_CELLS = 2_000_000;

/** The rows of a CSV file or of the first sheet of a workbook, as texts. Throws a sentence. */
export async function tableFromFile(name: string, bytes: Buffer): Promise<string[][]> {
  if (bytes.length === 0) throw new Error(`“${name}” is empty.`);
  if (bytes.length > MOST_BYTES) throw new Error(`“${name}” has ${(bytes.length / 1e6).toFixed(1)} MB; up to ${MOST_BYTES / 1e6} MB are read.`);
  const isZip = bytes.subarray(0, 2).toString('latin1') === 'PK';
  if (isZip) return fromWorkbook(name, bytes);
  if (bytes.includes(0)) throw new Error(`“${name}” is neither a CSV file nor a workbook (xlsx). Save it as one of these.`);
  return fromCsv(name, bytes);
}

/** RFC 4180, and what spreadsheets make of it: semicolons or tabs, a byte order mark, Latin-1. */
function fromCsv(name: string, bytes: Buffer): string[][] {
  const text = decoded(bytes);
  const firstLine = text.slice(0, text.indexOf('\n') < 0 ? undefined : text.indexOf('\n'));
  const [delimiter = ','] = [',', ';', '\t'].sort((a, b) => firstLine.split(b).length - firstLine.split(a).length);
  try {
    return parse(text, { delimiter, bom: true, relax_column_count: true, skip_empty_lines: true, trim: true }) as string[][];
  } catch (error) {
    throw new Error(`“${name}” is not a proper CSV file: ${(error as Error).message}.`, { cause: error });
  }
}

function decoded(bytes: Buffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    // Not UTF-8: what older spreadsheets write, in which every byte is a letter.
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

async function fromWorkbook(name: string, bytes: Buffer): Promise<string[][]> {
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.load(bytes as never).catch((error: unknown) => Promise.reject(new Error(`“${name}” cannot be opened as a workbook: ${(error as Error).message.slice(0, 120)}.`)));
  const sheet = workbook.worksheets.find((candidate) => candidate.actualRowCount > 0);
  if (!sheet) throw new Error(`“${name}” has no sheet with anything in it.`);
  if (sheet.rowCount * sheet.columnCount > MOST_CELLS) throw new Error(`“${name}” has ${sheet.rowCount} rows and ${sheet.columnCount} columns; that is no list.`);
  const rows: string[][] = [];
  sheet.eachRow({ includeEmpty: false }, (row) => void rows.push(Array.from({ length: sheet.columnCount }, (_, index) => textOfCell(row.getCell(index + 1).value))));
  return rows;
}

function textOfCell(value: ExcelJS.CellValue): string {
  if (value === null || value === undefined) return '';
  if (value instanceof Date) return value.toISOString().slice(0, 10);
  if (typeof value === 'object') {
    if ('result' in value) return textOfCell(value.result as ExcelJS.CellValue);
    if ('richText' in value) return value.richText.map((part) => part.text).join('');
    if ('text' in value) return textOfCell(value.text as ExcelJS.CellValue);
    return '';
  }
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
}
