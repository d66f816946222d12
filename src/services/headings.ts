import { readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { csvHeadings } from '@/connectors/csv/csv';
import { workbookHeadings } from '@/connectors/workbook/workbook';
import type { Surroundings } from '@/core/pipeline/catalogue';

type Headings = NonNullable<Surroundings['files']>;

/** Files that are looked into, the newest first, and how large each may be: a workbook is read whole. */
const MOST_FILES = 20;
const MOST_BYTES = 2_000_000;

/** Asked at every change of a draft; a file is read again only when it has changed. */
const known = new Map<string, { readonly mtimeMs: number; readonly headings: Headings }>();

/** Headings of the workbooks and CSV files in a folder. What cannot be read is left out: the step that writes to it says why. */
export async function headingsIn(folder: string): Promise<Headings> {
  const names = (await readdir(folder).catch(() => [])).filter((name) => /\.(xlsx|csv)$/.test(name));
  const files = await Promise.all(names.map(async (file) => ({ file, ...(await stat(path.join(folder, file)).then(({ mtimeMs, size }) => ({ mtimeMs, size }), () => ({ mtimeMs: 0, size: Infinity }))) })));
  const chosen = files.filter(({ size }) => size <= MOST_BYTES).sort((a, b) => b.mtimeMs - a.mtimeMs).slice(0, MOST_FILES);
  return (await Promise.all(chosen.map(({ file, mtimeMs }) => headingsOf(folder, file, mtimeMs)))).flat();
}

async function headingsOf(folder: string, file: string, mtimeMs: number): Promise<Headings> {
  const place = path.join(folder, file);
  const before = known.get(place);
  if (before?.mtimeMs === mtimeMs) return before.headings;
  const read = file.endsWith('.csv') ? csvHeadings(place).then((columns) => [{ tab: null, columns }]) : workbookHeadings(place);
  const headings = await read.then((found) => found.map(({ tab, columns }) => ({ file, tab, columns })), () => []);
  if (known.size > MOST_FILES * 10) known.clear();
  known.set(place, { mtimeMs, headings });
  return headings;
}
