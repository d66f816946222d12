import type Joi from 'joi';
import type { Arrival } from './source';

/** Something that waits at a place and can be taken. */
export interface Waiting {
  /** How the place knows it: a file name, the number of a mail, an address. */
  readonly ref: string;
  readonly name: string;
  /** Bytes; null where the place does not say. */
  readonly size: number | null;
  /** ISO 8601; null where the place does not say. */
  readonly at: string | null;
}

/** Most that one batch holds. */
export const MOST_IN_BATCH = 10_000;

export interface Taking<Settings> {
  readonly settings: Settings;
  readonly secret: string | null;
  readonly refs: readonly string[];
  /** Hand over what was taken. Resolves when it is recorded for good; only then is the original marked or moved. */
  emit(ref: string, arrival: Arrival): Promise<void>;
  /** It could not be taken, and why, in a sentence. */
  fail(ref: string, why: string): Promise<void>;
  readonly signal: AbortSignal;
}

/** A place whose contents can be looked at and worked through as a batch, instead of being watched. */
export interface BatchPlace<Settings> {
  readonly key: string;
  readonly schema: Joi.ObjectSchema<Settings>;
  /** What waits there now, oldest first. Throws a sentence when the place cannot be reached. */
  waiting(settings: Settings, secret: string | null): Promise<readonly Waiting[]>;
  /** Take these, one after the other. Throws a sentence when the place cannot be reached; what was handed over before stays. */
  take(taking: Taking<Settings>): Promise<void>;
}
