import type { CheckDefinition, FieldReaderSettings, KindDefinition, PageChoice } from '@/core/reading/kind';

/** How a field is found, layout by layout, as it would be said. */
export function readersText(kind: KindDefinition, field: string): string {
  const ways = kind.layouts.map((layout) => (layout.fields[field] ?? []).map(readerText).join(', else '));
  return [...new Set(ways.filter((way) => way !== ''))].join(' · ') || 'from its description';
}

/** A reader as it would be said. */
export function readerText(reader: FieldReaderSettings): string {
  switch (reader.reader) {
    case 'pattern':
      return `${reader.pattern === undefined ? betweenText(reader) : `pattern ${reader.pattern}`}${pageText(reader.page)}`;
    case 'anchor':
      return `${reader.direction === 'right' ? 'right of' : 'below'} “${reader.anchors.join('” or “')}”${pageText(reader.page)}`;
    case 'zone':
      return `in a rectangle of the layout${pageText(reader.page)}`;
    case 'learned': {
      const beside = [...new Set(reader.spots.map((spot) => spot.anchors[0]?.text ?? (spot.constant === undefined ? 'its place' : `“${spot.constant}”`)))];
      return `learned from ${reader.spots.length} ${reader.spots.length === 1 ? 'sample' : 'samples'}: at ${beside.slice(0, 2).join(', ')}`;
    }
    case 'described':
      return 'from its description';
  }
}

const pageText = (page: PageChoice | undefined): string => (page === 'first' ? ', first page' : page === 'last' ? ', last page' : '');
const betweenText = ({ after, before }: { readonly after?: string; readonly before?: string }): string => [after ? `after “${after}”` : '', before ? `before “${before}”` : ''].filter(Boolean).join(', ');

/** A check as it would be said. */
export function checkText(kind: KindDefinition, check: CheckDefinition): string {
  const field = (key: string) => kind.fields.find((candidate) => candidate.key === key)?.label.toLowerCase() ?? key;
  const column = (table: string, key: string) => kind.tables.find((candidate) => candidate.key === table)?.columns.find((candidate) => candidate.key === key)?.label.toLowerCase() ?? key;
  switch (check.check) {
    case 'line-amount':
      return `On every row, ${column(check.table, check.quantity)} × ${column(check.table, check.price)} = ${column(check.table, check.amount)}.`;
    case 'reconcile':
      return `${[`The sum of ${column(check.lines.table, check.lines.column)}s`, ...(check.minus ?? []).map((key) => `− ${field(key)}`), ...(check.plus ?? []).map((key) => `+ ${field(key)}`)].join(' ')} = ${field(check.equals)}.`;
    case 'in-list':
      return `The ${field(check.field)} stands in the list ${check.list}.`;
    case 'duplicate':
      return `No earlier document has the same ${check.fields.map(field).join(', ')}.`;
    case 'range':
      return `The ${field(check.field)} is ${[check.min === undefined ? '' : `at least ${check.min}`, check.max === undefined ? '' : `at most ${check.max}`].filter(Boolean).join(' and ')}.`;
    case 'pattern':
      return `The ${field(check.field)} is written as ${check.says ?? check.pattern}.`;
    case 'check-digits':
      return `The check digits of the ${field(check.field)} fit (${check.scheme}).`;
    case 'date-order':
      return `The ${field(check.then)} is not before the ${field(check.first)}.`;
    case 'formula':
      return `${check.holds}.`;
  }
}
