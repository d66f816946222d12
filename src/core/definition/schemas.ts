import { CATALOGUE, STEP_KINDS } from '@/core/pipeline/catalogue';
import * as parts from '@/core/pipeline/catalogue/schema-parts';
import { COMPARISONS } from '@/core/pipeline/definition';
import { CLEAN_UP_STEPS } from '@/core/reading/outside';
import { SCHEMES } from '@/core/value/check-digits';

/** The published file formats, as JSON Schema 2020-12. `docs/schemas/` holds the same, written by `leadline schemas`. */

const { text, key, valueKey, share, object, mapOf } = parts;
const wordings = { type: 'array', items: text, minItems: 1, maxItems: 30 } as const;
const decimal = { type: 'string', pattern: '^\\d{1,12}(\\.\\d{1,6})?$' } as const;
const page = { enum: ['first', 'last', 'any'] } as const;

const box = { type: 'array', items: { type: 'number', minimum: -2000, maximum: 20000 }, minItems: 4, maxItems: 4, description: 'x0, y0, x1, y1 in points from the top left of the upright page.' } as const;
const locale = (required: readonly string[]) => object({ decimal: { enum: ['.', ','] }, dates: { enum: ['dmy', 'mdy', 'ymd'] } }, required);
const field = object({ key: valueKey, label: text, type: { enum: ['text', 'number', 'money', 'date', 'identifier', 'choice', 'yes-no'] }, required: { type: 'boolean' }, description: text, synonyms: wordings, options: wordings, threshold: share, unsigned: { type: 'boolean' }, cross: { type: 'boolean', description: 'Two independent readings must agree.' } }, ['key', 'label', 'type']);
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
const tableReader = object({ reader: { const: 'table' }, headings: mapOf(wordings), end: wordings, skip: { ...wordings, minItems: 0 }, once: valueKey, wrapped: { enum: ['below', 'above'] }, carry: { type: 'array', items: valueKey, maxItems: 60 }, bands: mapOf({ type: 'array', items: { type: 'number' }, minItems: 2, maxItems: 2 }) }, ['reader', 'headings', 'end', 'once']);
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
    object({ check: { const: 'in-list' }, field: valueKey, list: key, column: text, severity }, ['check', 'field', 'list']),
    object({ check: { const: 'duplicate' }, fields: { type: 'array', items: valueKey, minItems: 1, maxItems: 10 }, alike: { type: 'boolean' }, severity }, ['check', 'fields']),
    object({ check: { const: 'formula' }, holds: text, says: text, concerns: { type: 'array', items: valueKey, maxItems: 20 }, severity }, ['check', 'holds', 'says']),
  ],
};

const binding = object({ list: key, field: valueKey, fill: mapOf(text) }, ['list', 'field']);
const service = object({ service: key, tier: text, price: decimal, fields: mapOf(text), tables: mapOf(object({ name: text, columns: mapOf(text) }, ['name', 'columns'])) }, ['service', 'tier', 'price', 'fields']);
const sorting = object({ senders: wordings, words: wordings, never: wordings, data: { type: 'boolean' } }, []);
const cleanUp = object(Object.fromEntries(CLEAN_UP_STEPS.map((step) => [step, { type: 'boolean' }])), []);

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
      bindings: { type: 'array', items: binding, maxItems: 20 },
      services: { type: 'array', items: service, maxItems: 10 },
      sorting,
      cleanUp,
    },
    // A kind may be nothing but fields with descriptions.
    ['leadline', 'key', 'name', 'fields'],
  ),
} as const;

/** What every step has, besides what its kind asks for. */
const everyStep = { id: key, remark: parts.longText, off: { type: 'boolean' } } as const;

export const PIPELINE_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Leadline pipeline',
  ...object({ leadline: { const: 'pipeline/1' }, key, name: text, description: text, steps: { ...parts.steps, minItems: 1 } }, ['leadline', 'key', 'name', 'steps']),
  $defs: {
    condition: {
      oneOf: [
        object({ trusted: { type: 'boolean' } }, ['trusted']),
        object({ value: parts.source, is: { enum: COMPARISONS }, than: { type: 'string', maxLength: 400 } }, ['value', 'is']),
        object({ all: { type: 'array', items: parts.condition, minItems: 1, maxItems: 20 } }, ['all']),
        object({ any: { type: 'array', items: parts.condition, minItems: 1, maxItems: 20 } }, ['any']),
      ],
    },
    composed: object({ pick: parts.source, text: { type: 'string', maxLength: 4000 }, expression: { type: 'string', maxLength: 2000, description: 'JSONata' }, by: { enum: ['pick', 'text', 'expression'] } }, []),
    value: { oneOf: [parts.source, parts.composed] },
    step: {
      type: 'object',
      required: ['id', 'do'],
      discriminator: { propertyName: 'do' },
      oneOf: STEP_KINDS.map((kind) => object({ ...everyStep, do: { const: kind }, ...CATALOGUE[kind].schema.properties }, ['id', 'do', ...CATALOGUE[kind].schema.required])),
    },
  },
};
