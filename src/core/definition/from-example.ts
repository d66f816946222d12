import type { FieldDefinition, KindDefinition, TableDefinition } from '@/core/reading/kind';
import type { ValueType } from '@/core/value/normalise';

/** Fields of an example; one with more is a data dump. */
const MOST_FIELDS = 200;

/**
 * A kind from an example of what is wanted, as JSON: plain members become fields, lists of objects become tables, nested objects are
 * flattened. Types are guessed from the values. A sentence when it cannot be used.
 */
export function kindFromExample(text: string): KindDefinition | string {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return `The example is not JSON: ${(error as Error).message.slice(0, 120)}. Paste an object such as { "number": "4711", "total": "120.00" }.`;
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return 'The example must be an object such as { "number": "4711", "total": "120.00" }.';
  const fields: FieldDefinition[] = [];
  const tables: TableDefinition[] = [];
  collect(value as Record<string, unknown>, '', fields, tables);
  if (fields.length > MOST_FIELDS) return `The example has ${fields.length} members; a kind has at most ${MOST_FIELDS} fields. Leave out what is not printed on the paper.`;
  return { leadline: 'kind/1', key: 'new', name: 'New kind', fields, tables, layouts: [], checks: [] };
}

function collect(value: Readonly<Record<string, unknown>>, before: string, fields: FieldDefinition[], tables: TableDefinition[]): void {
  for (const [name, member] of Object.entries(value)) {
    const key = keyFrom(before === '' ? name : `${before}_${name}`);
    const label = labelFrom(name);
    if (Array.isArray(member)) {
      const row = member.find((each): each is Record<string, unknown> => typeof each === 'object' && each !== null);
      if (row) tables.push({ key, label, columns: Object.entries(row).map(([column, cell]) => ({ key: keyFrom(column), label: labelFrom(column), type: typeOf(cell, column) })) });
      else fields.push({ key, label, type: 'text' });
    } else if (typeof member === 'object' && member !== null) collect(member as Record<string, unknown>, key, fields, tables);
    else fields.push({ key, label, type: typeOf(member, name) });
  }
}

const keyFrom = (name: string): string => name.replace(/([a-z0-9])([A-Z])/g, '$1_$2').toLowerCase().replace(/[^a-z0-9]+/g, '_').replace(/^[^a-z]+|_+$/g, '').slice(0, 60) || 'field';

function labelFrom(name: string): string {
  const words = name.replace(/([a-z0-9])([A-Z])/g, '$1 $2').replace(/[_-]+/g, ' ').trim().toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function typeOf(value: unknown, name: string): ValueType {
  if (typeof value === 'boolean') return 'yes-no';
  const text = String(value ?? '');
  if (/^\d{4}-\d{2}-\d{2}/.test(text) || /date|_on$/i.test(name)) return 'date';
  if (/amount|total|price|sum|net|tax|cost|balance|fee/i.test(name) && /^-?[\d.,]*$/.test(text)) return 'money';
  if (/(?:^|[_\s])(?:no|nr|number|id|code|ref|reference|iban)$/i.test(name.replace(/([a-z])([A-Z])/g, '$1_$2'))) return 'identifier';
  if (/^-?\d+[.,]\d{2}$/.test(text)) return 'money';
  return typeof value === 'number' || /^-?\d{1,9}(?:\.\d+)?$/.test(text) ? 'number' : 'text';
}
