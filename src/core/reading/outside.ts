/** What a kind draws on besides the words of its pages. */

/** Which row of a list a document is about: the row whose key stands on the page. */
export interface ListBinding {
  readonly list: string;
  /** The field that takes the key. */
  readonly field: string;
  /** Other fields and the columns of the row that fill them. */
  readonly fill?: Readonly<Record<string, string>>;
}

/** An extraction service, asked only where the readers of the kind did not get far enough. */
export interface ServiceUse {
  /** Key of the connection. */
  readonly service: string;
  /** One of the tiers that the service offers. */
  readonly tier: string;
  /** What a page costs at this tier, as the service told when it was chosen; a decimal. */
  readonly price: string;
  /** Our field → what the service calls it. */
  readonly fields: Readonly<Record<string, string>>;
  /** Our table → what the service calls it and its columns. */
  readonly tables?: Readonly<Record<string, { readonly name: string; readonly columns: Readonly<Record<string, string>> }>>;
}

/** What tells papers of this kind from others, besides what its samples teach. */
export interface SortingHints {
  /** Parts of sender addresses: `@merrow.example`, `lab@`. */
  readonly senders?: readonly string[];
  /** Wordings that stand on papers of this kind. */
  readonly words?: readonly string[];
  /** Wordings that never do. */
  readonly never?: readonly string[];
  /** Papers that carry the data of an e-invoice are of this kind. */
  readonly data?: boolean;
}

export const CLEAN_UP_STEPS = ['orientation', 'deskew', 'contrast', 'despeckle'] as const;
export type CleanUpStep = (typeof CLEAN_UP_STEPS)[number];
/** Steps of cleaning a picture before recognition; each is done unless it is switched off here. */
export type CleanUp = Readonly<Partial<Record<CleanUpStep, boolean>>>;
