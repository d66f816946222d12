/** What the HTTP interface answers about kinds being built, their samples and soundings. Moments are ISO 8601 in UTC. */
import type { Finding } from '@/core/checking/finding';
import type { CellChange } from '@/core/measuring/changes';
import type { Judged, Truth } from '@/core/measuring/compare';
import type { SoundedSample, Sounding } from '@/core/measuring/sounding';
import type { TierChoice } from '@/core/measuring/tiers';
import type { Target } from '@/core/measuring/threshold';
import type { PageOrigin, Word } from '@/core/page/page';
import type { KindDefinition, SortingHints } from '@/core/reading/kind';
import type { SorterAccuracy } from '@/core/sorting/sort';
import type { DocumentReading } from '@/core/reading/reading';
import type { Remembered } from '@/core/reading/remembered';

export interface KindListing {
  readonly key: string;
  readonly name: string;
  readonly description: string;
  /** Newest published version; null while there is only a draft. */
  readonly version: number | null;
  readonly publishedAt: string | null;
  readonly hasDraft: boolean;
  readonly fields: number;
  readonly tables: readonly string[];
  readonly layouts: readonly string[];
  readonly samples: { readonly all: number; readonly confirmed: number; readonly proposed: number };
  readonly sounding: { readonly id: string; readonly right: number; readonly all: number; readonly straightThrough: number; readonly samples: number; readonly at: string } | null;
}

export interface SampleView {
  readonly id: string;
  readonly fileName: string;
  readonly state: 'new' | 'proposed' | 'confirmed';
  readonly heldBack: boolean;
  readonly pageCount: number | null;
  readonly problem: string | null;
  readonly truth: Truth;
  readonly revision: number;
  readonly documentId: string | null;
}

export interface Workbench {
  readonly kind: KindDefinition;
  /** Of the draft; 0 while there is none. */
  readonly revision: number;
  readonly version: number | null;
  readonly yaml: string;
  readonly samples: readonly SampleView[];
}

export interface WorkbenchTally {
  readonly samples: readonly { readonly id: string; readonly reading: DocumentReading; readonly findings: readonly Finding[]; readonly judged: readonly Judged[] }[];
}

export interface SortingView extends SorterAccuracy {
  readonly kinds: readonly { readonly key: string; readonly name: string; readonly samples: number; readonly hints: SortingHints }[];
}

/** A question that is asked once after a correction. */
export interface WorthAsking extends Remembered {
  readonly kind: string;
  readonly question: string;
}

/** An answer that is applied, or that was for one paper only. */
export interface RememberedView extends Remembered {
  readonly id: string;
  readonly always: boolean;
  readonly answeredAt: string;
  readonly answeredBy: string;
}

export interface SamplePages {
  readonly id: string;
  readonly fileName: string;
  readonly pages: readonly { readonly number: number; readonly width: number; readonly height: number; readonly words: readonly Word[]; readonly origin: PageOrigin; readonly why?: string }[];
}

export interface SoundingView {
  readonly id: string;
  readonly kind: string;
  readonly version: number | null;
  readonly state: 'queued' | 'working' | 'done' | 'failed';
  readonly done: number;
  readonly all: number;
  readonly target: Target;
  readonly failure: string | null;
  readonly askedAt: string;
  readonly finishedAt: string | null;
  readonly result: Sounding | null;
}

export interface SoundingDetail extends SoundingView {
  readonly kindDefinition: KindDefinition;
  readonly perSample: readonly (SoundedSample & { readonly fileName: string })[];
  /** What each tier of the kind's service would cost and buy; null when it was not asked for. */
  readonly tiers: TierChoice | null;
  /** The sounding of the published version before it, for comparison. */
  readonly before: SoundingView | null;
}

/** What a draft would make of documents that were read before. */
export interface BeforeAfter {
  readonly documents: readonly { readonly id: string; readonly fileName: string; readonly changes: readonly CellChange[]; /** Would it need nobody? */ readonly straightBefore: boolean; readonly straightAfter: boolean; readonly tookMs: number }[];
  /** The difference from the published version, in words. */
  readonly difference: readonly string[];
}
