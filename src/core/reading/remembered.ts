import type { FieldDefinition, KindDefinition } from './kind';
import type { Reading, Readings } from './reading';

/** What a person said once and for all: "always this account for this haulier". */
export interface Remembered {
  readonly field: string;
  readonly value: string;
  readonly whenField: string;
  readonly whenValue: string;
}

/** A person said so, of another paper. */
const SURE = 0.97;

/** Put in what was remembered, where its condition stands on the page; what was read there stays a suggestion. */
export function withRemembered<R extends Readings & { readonly alternatives: Readonly<Record<string, readonly Reading[]>> }>(reading: R, kind: KindDefinition, remembered: readonly Remembered[]): R {
  const fields = { ...reading.fields };
  const alternatives = { ...reading.alternatives };
  for (const { field, value, whenField, whenValue } of remembered) {
    const own = reading.fields[field];
    if (!kind.fields.some((each) => each.key === field) || !sameText(reading.fields[whenField]?.value, whenValue) || own?.value === value) continue;
    const label = kind.fields.find((each) => each.key === whenField)?.label.toLowerCase() ?? whenField;
    const condition = reading.fields[whenField];
    fields[field] = { text: '', value, place: null, anchor: condition?.place ?? null, reader: 'remembered', confidence: Math.min(SURE, condition?.confidence ?? SURE), evidence: [{ what: `remembered for ${label} ${whenValue}`, factor: SURE }] };
    if (own?.value != null) alternatives[field] = [own, ...(alternatives[field] ?? [])].slice(0, 4);
  }
  return { ...reading, fields, alternatives };
}

const sameText = (a: string | null | undefined, b: string): boolean => a != null && a.trim().toLowerCase() === b.trim().toLowerCase();

/** Amounts and dates belong to one paper; names, numbers and choices may belong to whoever sent it. */
const LASTING: ReadonlySet<FieldDefinition['type']> = new Set(['text', 'identifier', 'choice', 'yes-no']);

/** The field that says whose paper it is: the first text that every paper must have. */
export const senderField = (kind: KindDefinition): FieldDefinition | undefined => kind.fields.find((field) => field.type === 'text' && field.required) ?? kind.fields.find((field) => field.type === 'text');

/**
 * What may be worth remembering of a correction: a value that a person typed because it does not stand on the page, on a paper of a
 * known sender. What was clicked on the page is a matter of reading, and is taught by samples.
 */
export function worthRemembering(kind: KindDefinition, readings: Readings, changed: readonly string[]): Remembered[] {
  const sender = senderField(kind);
  const whenValue = sender ? readings.fields[sender.key]?.value : null;
  if (!sender || whenValue == null) return [];
  return kind.fields.flatMap((field) => {
    const reading = readings.fields[field.key];
    const typed = reading?.reader === 'person' && reading.place === null && reading.value !== null;
    return changed.includes(field.key) && field.key !== sender.key && typed && LASTING.has(field.type) ? [{ field: field.key, value: reading.value ?? '', whenField: sender.key, whenValue }] : [];
  });
}
