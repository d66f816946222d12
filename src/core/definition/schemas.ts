import { SCHEMES } from '@/core/value/check-digits';

/** The published file formats, as JSON Schema 2020-12. `docs/schemas/` holds the same, written by `leadline schemas`. */

const text = { type: 'string', minLength: 1, maxLength: 400 } as const;
const key = { type: 'string', pattern: '^[a-z][a-z0-9-]{0,62}$', description: 'Lower-case letters, figures and hyphens.' } as const;
const valueKey = { type: 'string', pattern: '^[a-z][a-z0-9_]{0,62}$' } as const;
const wordings = { type: 'array', items: text, minItems: 1, maxItems: 30 } as const;
const share = { type: 'number', minimum: 0, maximum: 1 } as const;
const decimal = { type: 'string', pattern: '^\\d{1,12}(\\.\\d{1,6})?$' } as const;
const page = { enum: ['first', 'last', 'any'] } as const;
const object = (properties: Record<string, unknown>, required: readonly string[]) => ({ type: 'object', additionalProperties: false, properties, required });
const mapOf = (value: unknown, names: unknown = valueKey) => ({ type: 'object', additionalProperties: value, propertyNames: names, maxProperties: 200 });

const box = { type: 'array', items: { type: 'number', minimum: -2000, maximum: 20000 }, minItems: 4, maxItems: 4, description: 'x0, y0, x1, y1 in points from the top left of the upright page.' } as const;
const locale = (required: readonly string[]) => object({ decimal: { enum: ['.', ','] }, dates: { enum: ['dmy', 'mdy', 'ymd'] } }, required);
const field = object({ key: valueKey, label: text, type: { enum: ['text', 'number', 'money', 'date', 'identifier', 'choice', 'yes-no'] }, required: { type: 'boolean' }, description: text, synonyms: wordings, options: wordings, threshold: share, unsigned: { type: 'boolean' } }, ['key', 'label', 'type']);
const spot = object({ page, box, anchors: { type: 'array', items: object({ text, box }, ['text', 'box']), maxItems: 6 }, shape: { type: 'string', maxLength: 400 }, lines: { type: 'integer', minimum: 1, maximum: 50 }, constant: text }, ['page', 'box', 'anchors', 'shape', 'lines']);
const readers = {
  oneOf: [
    object({ reader: { const: 'pattern' }, pattern: text, after: text, before: text, page, enough: share }, ['reader']),
    object({ reader: { const: 'anchor' }, anchors: wordings, direction: { enum: ['right', 'below'] }, within: { type: 'number', exclusiveMinimum: 0, maximum: 2000 }, page, enough: share }, ['reader', 'anchors', 'direction']),
    object({ reader: { const: 'zone' }, box, page, enough: share }, ['reader', 'box']),
    object({ reader: { const: 'described' }, enough: share }, ['reader']),
    object({ reader: { const: 'learned' }, spots: { type: 'array', items: spot, minItems: 1, maxItems: 40 }, enough: share }, ['reader', 'spots']),
  ],
};
const tableReader = object({ reader: { const: 'table' }, headings: mapOf(wordings), end: wordings, skip: { ...wordings, minItems: 0 }, once: valueKey, wrapped: { enum: ['below', 'above'] }, bands: mapOf({ type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 }) }, ['reader', 'headings', 'end', 'once']);
const layout = object(
  { key, name: text, recognise: { ...wordings, minItems: 0 }, landmarks: { type: 'array', items: object({ text, page: { type: 'integer', minimum: 1 }, box }, ['text', 'page', 'box']), maxItems: 200 }, samples: { type: 'array', items: text, maxItems: 2000, description: 'Names of the samples from which the layout was learned.' }, locale: locale(['decimal', 'dates']), fields: mapOf({ type: 'array', items: readers, minItems: 1, maxItems: 20 }), tables: mapOf(tableReader) },
  ['key', 'name', 'recognise', 'locale', 'fields', 'tables'],
);
const severity = { enum: ['must fix', 'look'] } as const;
const signed = { type: 'string', pattern: '^-?\\d{1,12}(\\.\\d{1,6})?$' } as const;
const check = {
  oneOf: [
    object({ check: { const: 'line-amount' }, table: valueKey, quantity: valueKey, price: valueKey, amount: valueKey, tolerance: decimal }, ['check', 'table', 'quantity', 'price', 'amount']),
    object({ check: { const: 'reconcile' }, lines: object({ table: valueKey, column: valueKey }, ['table', 'column']), minus: { type: 'array', items: valueKey }, plus: { type: 'array', items: valueKey }, equals: valueKey, tolerance: decimal }, ['check', 'lines', 'equals']),
    object({ check: { const: 'range' }, field: valueKey, min: signed, max: signed, severity }, ['check', 'field']),
    object({ check: { const: 'pattern' }, field: valueKey, pattern: text, says: text, severity }, ['check', 'field', 'pattern']),
    object({ check: { const: 'check-digits' }, field: valueKey, scheme: { enum: SCHEMES }, severity }, ['check', 'field', 'scheme']),
    object({ check: { const: 'date-order' }, first: valueKey, then: valueKey, severity }, ['check', 'first', 'then']),
    object({ check: { const: 'formula' }, holds: text, says: text, concerns: { type: 'array', items: valueKey, maxItems: 20 }, severity }, ['check', 'holds', 'says']),
  ],
};

export const KIND_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Leadline document kind',
  ...object(
    {
      leadline: { const: 'kind/1' },
      key,
      name: text,
      description: text,
      fields: { type: 'array', items: field, maxItems: 200 },
      tables: { type: 'array', items: object({ key: valueKey, label: text, required: { type: 'boolean' }, columns: { type: 'array', items: field, minItems: 1, maxItems: 60 } }, ['key', 'label', 'columns']), maxItems: 20 },
      layouts: { type: 'array', items: layout, maxItems: 100 },
      checks: { type: 'array', items: check, maxItems: 100 },
      locale: locale([]),
    },
    // A kind may be nothing but fields with descriptions.
    ['leadline', 'key', 'name', 'fields'],
  ),
} as const;

const source = { type: 'string', pattern: '^[a-z][a-z0-9_]*(\\.[a-z][a-z0-9_]*)?$', description: 'field, row.column, note.name, or document.name|id|received|sender' } as const;
const columns = { type: 'object', additionalProperties: source, propertyNames: text, minProperties: 1, maxProperties: 100 } as const;
const steps = { type: 'array', items: { $ref: '#/$defs/step' }, maxItems: 200 } as const;
const condition = { $ref: '#/$defs/condition' } as const;

export const PIPELINE_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Leadline pipeline',
  ...object({ leadline: { const: 'pipeline/1' }, key, name: text, description: text, steps: { ...steps, minItems: 1 } }, ['leadline', 'key', 'name', 'steps']),
  $defs: {
    condition: {
      oneOf: [
        object({ trusted: { type: 'boolean' } }, ['trusted']),
        object({ value: source, is: { enum: ['above', 'at least', 'below', 'at most', 'equal to', 'not equal to', 'missing', 'present'] }, than: { type: 'string', maxLength: 400 } }, ['value', 'is']),
        object({ all: { type: 'array', items: condition, minItems: 1, maxItems: 20 } }, ['all']),
        object({ any: { type: 'array', items: condition, minItems: 1, maxItems: 20 } }, ['any']),
      ],
    },
    step: {
      type: 'object',
      required: ['id', 'do'],
      discriminator: { propertyName: 'do' },
      oneOf: [
        object({ id: key, do: { const: 'read' }, kind: key }, ['id', 'do', 'kind']),
        object({ id: key, do: { const: 'check' } }, ['id', 'do']),
        object({ id: key, do: { const: 'desk' }, when: condition, title: text }, ['id', 'do', 'when']),
        object({ id: key, do: { const: 'branch' }, ways: { type: 'array', items: object({ name: text, when: condition, steps }, ['name', 'when', 'steps']), minItems: 1, maxItems: 20 }, else: object({ name: text, steps }, ['steps']) }, ['id', 'do', 'ways']),
        object({ id: key, do: { const: 'set' }, values: mapOf(text) }, ['id', 'do', 'values']),
        object({ id: key, do: { const: 'write-list' }, list: key, each: valueKey, columns, unless: text }, ['id', 'do', 'list', 'columns']),
        object({ id: key, do: { const: 'write-workbook' }, file: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9 _-]{0,80}\\.xlsx$' }, tabs: { type: 'array', items: object({ tab: { type: 'string', minLength: 1, maxLength: 31 }, each: valueKey, columns, unless: text }, ['tab', 'columns']), minItems: 1, maxItems: 20 } }, ['id', 'do', 'file', 'tabs']),
        object({ id: key, do: { const: 'stop' }, reason: text }, ['id', 'do', 'reason']),
      ],
    },
  },
} as const;
