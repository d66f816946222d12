import type { Forecast } from '@/core/measuring/forecast';
import type { RunStateName } from './api';

/** Where a batch comes from: a source that is connected, a folder, or addresses. */
export type BatchFrom = { readonly source: string } | { readonly folder: string } | { readonly addresses: readonly string[] };

export interface WaitingView {
  readonly ref: string;
  readonly name: string;
  readonly size: number | null;
  readonly at: string | null;
}

/** What waits at a place, before anything is taken. */
export interface BatchLook {
  readonly items: readonly WaitingView[];
  /** What all of it is expected to take; null where the pipeline has no past. */
  readonly expected: Forecast | null;
  /** The place is watched: what arrives there is taken by itself. */
  readonly watched: boolean;
}

export interface BatchView {
  readonly id: string;
  readonly name: string;
  readonly pipeline: { readonly key: string; readonly name: string };
  readonly place: string;
  readonly state: 'under way' | 'paused' | 'done' | 'ended';
  /** So many items, from the first, may be taken. */
  readonly released: number;
  readonly items: { readonly all: number; readonly waiting: number; readonly taken: number; readonly failed: number };
  readonly problem: string | null;
  readonly begunAt: string;
  readonly begunBy: string;
}

export interface BatchDetail extends BatchView {
  /** Documents by the state of their run; `none`: repeats, and what cannot be read. */
  readonly documents: Partial<Record<RunStateName | 'none', number>>;
  /** What the items that still wait are expected to take. */
  readonly expected: Forecast | null;
}

/** One document of a batch, or an item that gave none. */
export interface BatchResult {
  readonly number: number;
  readonly name: string;
  readonly item: 'waiting' | 'taken' | 'failed';
  readonly problem: string | null;
  readonly document: { readonly id: string; readonly fileName: string; readonly kind: string | null; readonly repeatOf: string | null; readonly run: { readonly id: string; readonly state: RunStateName; readonly stopped: string | null } | null } | null;
  /** What was read, by the key of the field. */
  readonly values: Readonly<Record<string, string | null>>;
}

export interface BatchResults {
  readonly columns: readonly { readonly key: string; readonly label: string }[];
  readonly rows: readonly BatchResult[];
  readonly total: number;
  readonly offset: number;
}
