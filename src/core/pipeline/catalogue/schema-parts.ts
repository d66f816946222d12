/** Parts of the published pipeline schema that several step kinds share; JSON Schema 2020-12. */
export const text = { type: 'string', minLength: 1, maxLength: 400 } as const;
export const longText = { type: 'string', minLength: 1, maxLength: 4000 } as const;
export const key = { type: 'string', pattern: '^[a-z][a-z0-9-]{0,62}$', description: 'Lower-case letters, figures and hyphens.' } as const;
export const valueKey = { type: 'string', pattern: '^[a-z][a-z0-9_]{0,62}$' } as const;
export const share = { type: 'number', minimum: 0, maximum: 1 } as const;
export const object = (properties: Record<string, unknown>, required: readonly string[]) => ({ type: 'object', additionalProperties: false, properties, required });
export const mapOf = (value: unknown, names: unknown = valueKey, least = 0) => ({ type: 'object', additionalProperties: value, propertyNames: names, minProperties: least, maxProperties: 200 });

export const source = { type: 'string', maxLength: 300, pattern: '^[a-z][a-z0-9_-]*(\\.[^{}\\n]{1,200})?$', description: 'field, row.column, note.name, document.name|id|received|sender|kind, or STEP.name of what an earlier step gave' } as const;
export const condition = { $ref: '#/$defs/condition' } as const;
export const value = { $ref: '#/$defs/value' } as const;
export const composed = { $ref: '#/$defs/composed' } as const;
export const steps = { type: 'array', items: { $ref: '#/$defs/step' }, maxItems: 200 } as const;
export const columns = { type: 'object', additionalProperties: value, propertyNames: text, minProperties: 1, maxProperties: 100 } as const;
export const rowPlan = { each: valueKey, columns, unless: text } as const;
export const fileName = (ending: string) => ({ type: 'string', pattern: `^[A-Za-z0-9][A-Za-z0-9 _-]{0,80}\\.${ending}$` });
/** Header names: RFC 9110, section 5.1, token. */
export const headerName = { type: 'string', pattern: "^[A-Za-z0-9!#$%&'*+.^_`|~-]{1,100}$" } as const;
