import { thresholdOf, type FieldDefinition, type KindDefinition } from '@/core/reading/kind';
import { cellPath, type Reading, type Readings, type ValuePath } from '@/core/reading/reading';
import type { Finding } from './finding';

/** One value that somebody should look at, and why. */
export interface Doubt {
  readonly path: ValuePath;
  readonly label: string;
  readonly reason: string;
}

/**
 * The values that cannot go on alone: those a finding that must be fixed is about, and those below their field's threshold.
 * An empty optional field is no doubt. An empty list means: straight through.
 */
export function doubtsOf(kind: KindDefinition, readings: Readings, findings: readonly Finding[]): Doubt[] {
  const doubts = new Map<ValuePath, Doubt>();
  for (const finding of findings) {
    for (const path of finding.severity === 'must fix' ? finding.paths : []) {
      if (!doubts.has(path)) doubts.set(path, { path, label: labelOf(kind, path), reason: finding.text });
    }
  }
  for (const { path, field, reading } of everyValue(kind, readings)) {
    const low = reading.reader !== 'person' && reading.value !== null && reading.confidence < thresholdOf(field);
    if (low && !doubts.has(path)) doubts.set(path, { path, label: labelOf(kind, path), reason: lowReason(field, reading) });
  }
  return [...doubts.values()];
}

/** May the document go on without a person? */
export function isTrusted(kind: KindDefinition, readings: Readings, findings: readonly Finding[]): boolean {
  return findings.every((finding) => finding.severity !== 'must fix') && doubtsOf(kind, readings, findings).length === 0;
}

function lowReason(field: FieldDefinition, reading: Reading): string {
  const weakest = [...reading.evidence].sort((a, b) => a.factor - b.factor)[0];
  return `${Math.round(reading.confidence * 100)} sure, ${Math.round(thresholdOf(field) * 100)} wanted${weakest ? `: ${weakest.what}` : ''}.`;
}

function* everyValue(kind: KindDefinition, readings: Readings) {
  for (const field of kind.fields) {
    const reading = readings.fields[field.key];
    if (reading) yield { path: field.key, field, reading };
  }
  for (const table of kind.tables) {
    for (const [row, cells] of (readings.tables[table.key] ?? []).entries()) {
      for (const field of table.columns) {
        const reading = cells[field.key];
        if (reading) yield { path: cellPath(table.key, row, field.key), field, reading };
      }
    }
  }
}

/** "Total", or "Amount, row 3". */
export function labelOf(kind: KindDefinition, path: ValuePath): string {
  const [first = '', row, column] = path.split('.');
  if (row === undefined) return kind.fields.find((field) => field.key === first)?.label ?? kind.tables.find((table) => table.key === first)?.label ?? first;
  const label = kind.tables.find((table) => table.key === first)?.columns.find((field) => field.key === column)?.label ?? column ?? '';
  return `${label}, row ${Number(row) + 1}`;
}
