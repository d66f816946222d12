import type { CheckDefinition, FieldReaderSettings, KindDefinition } from '@/core/reading/kind';

/** How a field is found, layout by layout, as it would be said. */
export function readersText(kind: KindDefinition, field: string): string {
  const ways = kind.layouts.map((layout) => (layout.fields[field] ?? []).map(readerText).join(', else '));
  return [...new Set(ways.filter((way) => way !== ''))].join(' · ') || 'no reader yet';
}

function readerText(reader: FieldReaderSettings): string {
  const where = reader.page === 'first' ? ', first page' : reader.page === 'last' ? ', last page' : '';
  if (reader.reader === 'pattern') return `pattern ${reader.pattern}${where}`;
  return `${reader.direction === 'right' ? 'right of' : 'below'} “${reader.anchors.join('” or “')}”${where}`;
}

export function checkText(kind: KindDefinition, check: CheckDefinition): string {
  const field = (key: string) => kind.fields.find((candidate) => candidate.key === key)?.label.toLowerCase() ?? key;
  const column = (table: string, key: string) => kind.tables.find((candidate) => candidate.key === table)?.columns.find((candidate) => candidate.key === key)?.label.toLowerCase() ?? key;
  if (check.check === 'line-amount') return `On every row, ${column(check.table, check.quantity)} × ${column(check.table, check.price)} = ${column(check.table, check.amount)}.`;
  const parts = [`the sum of ${column(check.lines.table, check.lines.column)}s`, ...(check.minus ?? []).map((key) => `− ${field(key)}`), ...(check.plus ?? []).map((key) => `+ ${field(key)}`)];
  return `${parts.join(' ').replace(/^t/, 'T')} = ${field(check.equals)}.`;
}
