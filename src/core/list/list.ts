import type { ValueType } from '@/core/value/normalise';

export interface ListColumn {
  readonly name: string;
  readonly type: ValueType;
}

export type ListRow = Readonly<Record<string, string | null>>;

/** Reference data as readers and checks use it: rows that are told apart by a key. */
export interface ReferenceList {
  readonly key: string;
  readonly name: string;
  readonly columns: readonly ListColumn[];
  /** The column whose values tell the rows apart. */
  readonly keyColumn: string;
  readonly rows: readonly ListRow[];
}

export type Lists = ReadonlyMap<string, ReferenceList>;
