import type { Reading } from '@/core/reading/reading';

/** A reading with a value, found by an anchor. */
export const readingOf = (value: string, confidence = 0.95): Reading => ({ text: value, value, place: null, anchor: null, reader: 'anchor', confidence, evidence: [{ what: 'test', factor: confidence }] });
