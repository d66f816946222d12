import type { SetStep, Value } from './definition';

/** The values that a step notes. A plain text among them stands for itself, not for a source. */
export const notesOf = (values: SetStep['values']): Record<string, Value> => Object.fromEntries(Object.entries(values).map(([name, value]) => [name, typeof value === 'string' ? { text: value.replaceAll('{', '{{').replaceAll('}', '}}') } : value]));
