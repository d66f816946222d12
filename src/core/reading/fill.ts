import type { Lists } from '@/core/list/list';
import type { KindDefinition } from './kind';
import { rowFor } from './looked-up';
import { NOTHING_READ, type Readings } from './reading';

/** When a person has given the key of a bound list, the fields that its row answers follow. */
export function withRowOf(kind: KindDefinition, readings: Readings, path: string, lists: Lists): Readings {
  const binding = kind.bindings?.find((candidate) => candidate.field === path && candidate.fill !== undefined);
  const row = binding ? rowFor(binding, lists, readings.fields[path]?.value ?? null) : null;
  if (!binding || !row) return readings;
  const filled = Object.entries(binding.fill ?? {}).map(([field, column]) => [field, { ...NOTHING_READ, value: row[column] ?? null, anchor: readings.fields[path]?.place ?? null, reader: 'person' as const, confidence: 1, evidence: [{ what: `${column} of ${readings.fields[path]?.value ?? ''}`, factor: 1 }] }]);
  return { ...readings, fields: { ...readings.fields, ...Object.fromEntries(filled) } };
}
