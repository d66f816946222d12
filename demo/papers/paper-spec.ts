/** One paper as it will be printed, whatever its kind: everything is text already, in the sender's own writing. */
export interface PaperSpec {
  readonly sender: { readonly name: string; readonly lines: readonly string[] };
  readonly title: string;
  readonly recipient: readonly string[];
  readonly facts: readonly { readonly label: string; readonly printed: string }[];
  readonly table: PaperTable | null;
  readonly totals: readonly { readonly label: string; readonly printed: string; readonly strong?: boolean }[];
  readonly notes: readonly string[];
  readonly footer: readonly string[];
}

export interface PaperColumn {
  readonly key: string;
  readonly head: string;
  readonly align: 'left' | 'right';
  /** Share of the width of the page, relative to the other columns. */
  readonly weight: number;
}

export interface PaperTable {
  readonly columns: readonly PaperColumn[];
  readonly rows: readonly Readonly<Record<string, string>>[];
  /** Printed at the foot of a page on which the table goes on: label and amount per row index, or null. */
  readonly running: ((rowsSoFar: number) => { readonly label: string; readonly printed: string }) | null;
}

/** The true values in the shape of a truth file: what a perfect reader finds. */
export interface Truth {
  readonly fields: Readonly<Record<string, string | null>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, string | null>>[]>>;
}

export interface MadePaper {
  readonly kind: string;
  readonly layout: number;
  readonly seed: number;
  readonly spec: PaperSpec;
  readonly truth: Truth;
}
