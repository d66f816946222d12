import type { BatchResult, BatchResults } from '@/contracts/batches';
import type { KindDefinition } from '@/core/reading/kind';
import { harmless } from '@/core/value/harmless';
import { itemsOf } from '@/store/queries/batches';
import type { PageOfList } from '@/store/queries/documents';
import { requireBatch } from './batches';
import type { Services } from './context';
import { knownOf } from './documents';
import { asCsv, type Export } from './lists';

/** Documents of which the values are looked up at once. */
const MOST_EXPORTED = 5_000;

/** What came of a batch as one table: a row a document, a column a field, whatever the kind. */
export async function batchResults(services: Services, id: string, page: PageOfList): Promise<BatchResults> {
  const row = await requireBatch(services, id);
  const { found, total } = await itemsOf(services.store.db, row.id, page);
  const rows = await Promise.all(found.map((one) => resultOf(services, one)));
  const kinds = await Promise.all([...new Set(rows.flatMap(({ document }) => document?.kind ?? []))].map((key) => services.kind(key)));
  return { columns: columnsOf(kinds.filter((kind) => kind !== null)), rows, total, offset: page.offset };
}

async function resultOf(services: Services, { item, document, run }: Awaited<ReturnType<typeof itemsOf>>['found'][number]): Promise<BatchResult> {
  const known = run ? await knownOf(services, run) : null;
  const values = known ? Object.fromEntries(Object.entries(known.readings.fields).map(([key, reading]) => [key, reading.value])) : {};
  return {
    number: item.number, name: item.name, item: item.state, problem: item.problem ?? document?.problemText ?? null, values,
    document: document && { id: document.id, fileName: document.fileName, kind: document.kindKey, repeatOf: document.repeatOf, run: run && { id: run.id, state: run.state, stopped: run.stopped } },
  };
}

/** Fields of the same key stand in one column, under the name of the first kind that has it. */
function columnsOf(kinds: readonly KindDefinition[]): BatchResults['columns'] {
  const labels = new Map<string, string>();
  for (const { key, label } of kinds.flatMap(({ fields }) => fields)) if (!labels.has(key)) labels.set(key, label);
  return [...labels].map(([key, label]) => ({ key, label }));
}

/** The whole table as CSV, with a last column that leads back to the page. */
export async function exportBatch(services: Services, id: string): Promise<Export> {
  const { columns, rows } = await batchResults(services, id, { offset: 0, limit: MOST_EXPORTED });
  const lines = rows.map((row) => [harmless(row.name), row.document?.run?.stopped ?? row.document?.run?.state ?? row.problem ?? row.item, ...columns.map(({ key }) => harmless(row.values[key] ?? '')), row.document ? `${services.settings.url}/documents/${row.document.id}` : '']);
  return asCsv(`batch-${id}`, [['Name', 'State', ...columns.map(({ label }) => label), 'Document'], ...lines]);
}
