import type { KindDefinition } from '@/core/reading/kind';
import { cellPath, type DocumentReading, type Reading, type Readings } from '@/core/reading/reading';
import type { PageMark } from './PageView';

/** Everything that was read of a document as marks on its pages; the active value with its landmark is stronger. */
export function marksOf(kind: KindDefinition, reading: DocumentReading, readings: Readings, active: string | null): PageMark[] {
  const fields = kind.fields.flatMap((field) => marksFor(field.key, field.label, readings.fields[field.key], active));
  const cells = kind.tables.flatMap((table) => (readings.tables[table.key] ?? []).flatMap((row, index) => table.columns.flatMap((column) => marksFor(cellPath(table.key, index, column.key), `${column.label}, row ${index + 1}`, row[column.key], active).filter((mark) => mark.active))));
  const label = (key: string) => kind.tables.flatMap((table) => table.columns).find((column) => column.key === key)?.label ?? key;
  const columns = reading.bands.map((band): PageMark => ({ key: `${band.page}-${band.column}`, kind: 'column', place: { page: band.page, box: band.box }, label: label(band.column) }));
  return [...columns, ...fields, ...cells];
}

function marksFor(key: string, label: string, reading: Reading | undefined, active: string | null): PageMark[] {
  if (!reading) return [];
  const isActive = key === active;
  const value: PageMark[] = reading.place ? [{ key, kind: 'value', place: reading.place, active: isActive, label }] : [];
  const anchor: PageMark[] = reading.anchor ? [{ key, kind: 'anchor', place: reading.anchor, active: isActive }] : [];
  return [...anchor, ...value];
}
