import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { columnsMissing, StepFailure } from '@/core/resilience/failure';
import { harmless } from '@/core/value/harmless';
import { writeWhole } from '@/store/blobs';
import { alone, diskFailure, insist, type Exclusive } from '../disk';

/** Rows for a CSV file (RFC 4180, UTF-8, commas), once per key. */
export interface CsvWrite {
  readonly file: string;
  readonly key: string;
  readonly columns: readonly string[];
  readonly rows: readonly Readonly<Record<string, string | null>>[];
  /** Leave out a row whose value in this column is there already. */
  readonly unless?: string;
}

interface CsvProof {
  readonly rows: number;
  readonly left: number;
}

/** Heading of the last column, which holds the delivery's key. */
export const KEY_COLUMN = 'Leadline';
/** Larger files are not rewritten for every document. */
const MOST_BYTES = 50_000_000;

/** Append rows. The whole file is put in place by one rename; the key in each row tells whoever comes again that it is done. */
export function appendToCsv(write: CsvWrite, exclusive: Exclusive): Promise<CsvProof> {
  const { file, key, columns, rows, unless } = write;
  return alone(file, exclusive, async (held) => {
    const { text, headings, records } = await open(file);
    const before = proofIn(headings, records, key);
    if (before) return before;
    const wanted = headings ?? [...columns, KEY_COLUMN];
    const missing = [...columns, KEY_COLUMN].filter((column) => !wanted.includes(column));
    if (missing.length > 0) throw columnsMissing(`csv:${path.basename(file)}`, path.basename(file), missing, 'Put the heading back in its first line, or change the mapping of the pipeline');
    const at = unless === undefined ? -1 : wanted.indexOf(unless);
    const there = new Set(records.map((record) => record[at]));
    const fresh = rows.filter((row) => unless === undefined || !there.has(row[unless] ?? ''));
    const added = stringify([...(headings ? [] : [wanted]), ...fresh.map((row) => wanted.map((column) => (column === KEY_COLUMN ? key : harmless(row[column] ?? ''))))], { record_delimiter: 'windows' });
    await insist(held, file);
    await writeWhole(file, Buffer.from(text + (text === '' || text.endsWith('\n') ? '' : '\r\n') + added)).catch((error: unknown) => Promise.reject(diskFailure(file, error)));
    return { rows: fresh.length, left: rows.length - fresh.length };
  });
}

/** Has a delivery arrived? Null: it has not. */
export const confirmInCsv = (file: string, key: string, exclusive: Exclusive): Promise<CsvProof | null> =>
  alone(file, exclusive, async () => {
    const { headings, records } = await open(file);
    return proofIn(headings, records, key);
  });

/** The headings of a file, without ours. */
export const csvHeadings = async (file: string): Promise<readonly string[]> => ((await open(file)).headings ?? []).filter((heading) => heading !== KEY_COLUMN);

async function open(file: string): Promise<{ text: string; headings: string[] | null; records: string[][] }> {
  if (!existsSync(file)) return { text: '', headings: null, records: [] };
  const bytes = await readFile(file);
  if (bytes.length > MOST_BYTES) throw new StepFailure('damaged-workbook', `${path.basename(file)} has ${Math.round(bytes.length / 1e6)} MB; up to ${MOST_BYTES / 1e6} MB can be added to. Start a new one by moving it away`);
  try {
    const [headings, ...records] = parse(bytes, { bom: true, relax_column_count: true, skip_empty_lines: true });
    return { text: bytes.toString('utf8'), headings: headings ?? null, records };
  } catch (error) {
    throw new StepFailure('damaged-workbook', `${path.basename(file)} is no CSV file any more (${(error as Error).message.slice(0, 100)}). Put a good copy in its place, then refloat`, { cause: error });
  }
}

function proofIn(headings: readonly string[] | null, records: readonly (readonly string[])[], key: string): CsvProof | null {
  const column = headings?.indexOf(KEY_COLUMN) ?? -1;
  const rows = column < 0 ? 0 : records.filter((record) => record[column] === key).length;
  return rows > 0 ? { rows, left: 0 } : null;
}
