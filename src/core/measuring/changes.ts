import type { KindDefinition } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';

/** A value that another definition reads differently. */
export interface CellChange {
  readonly path: string;
  readonly label: string;
  readonly before: string | null;
  readonly after: string | null;
}

/** Every field and cell whose value is another after than before. Rows are compared in their order; added and missing rows are changes of their cells. */
export function changesBetween(kind: KindDefinition, before: Readings, after: Readings): CellChange[] {
  const fields = kind.fields.map((field) => ({ path: field.key, label: field.label, before: before.fields[field.key]?.value ?? null, after: after.fields[field.key]?.value ?? null }));
  const cells = kind.tables.flatMap((table) => {
    const [was, is] = [before.tables[table.key] ?? [], after.tables[table.key] ?? []];
    return Array.from({ length: Math.max(was.length, is.length) }, (_, row) =>
      table.columns.map((column) => ({ path: `${table.key}.${row}.${column.key}`, label: `${column.label}, row ${row + 1}`, before: was[row]?.[column.key]?.value ?? null, after: is[row]?.[column.key]?.value ?? null })),
    ).flat();
  });
  return [...fields, ...cells].filter((cell) => cell.before !== cell.after);
}
