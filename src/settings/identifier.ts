import { monotonicFactory } from 'ulid';

const next = monotonicFactory();

/** A new identifier: 26 characters that sort by the time they were made (ULID). */
export const newId = (): string => next();
