import type { Budget } from '@/core/resilience/backoff';
import type { Elsewhere } from '@/core/checking/elsewhere';
import type { Page } from '@/core/page/page';
import type { Sorted } from '@/core/sorting/sort';
import type { DocumentReading, Readings } from '@/core/reading/reading';
import type { DocumentRow } from '@/store/queries/documents';
import type { Marks } from '@/store/queries/earlier';
import type { KindDefinition } from '@/core/reading/kind';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import type { Chance } from '@/settings/random';
import type { Clock } from '@/settings/clock';
import type { Exclusive } from '@/connectors/disk';
import type { Db } from '@/store/database';
import type { Outside } from './outside';

/** What the engine works with; handed in by the entry that starts it. */
export interface Engine {
  readonly db: Db;
  /** A published kind; null when there is none. The newest version where none is given. */
  readonly kind: (key: string) => Promise<KindDefinition | null>;
  /** A document with its content, fetched where it has not come yet. */
  readonly content: (row: DocumentRow) => Promise<DocumentRow>;
  /** Read pages as a kind, with lists, services and what else helps. */
  readonly read: (kind: KindDefinition, sha256: string) => Promise<DocumentReading>;
  /** The pages of a file, cleaned as a kind wants it. */
  readonly pages: (sha256: string, kind: KindDefinition) => Promise<readonly Page[]>;
  /** Which kind a document is. */
  readonly sort: (request: { readonly kinds: readonly string[] | null; readonly pages: readonly Page[]; readonly sender: string | null; readonly subject: string | null; readonly sure?: number }) => Promise<Sorted>;
  /** What the checks of a kind look at besides the document. */
  readonly elsewhere: (kind: KindDefinition, readings: Readings, about: { readonly pages: readonly Page[]; readonly documentId: string }) => Promise<Elsewhere>;
  /** By what a document is found again. */
  readonly marks: (kind: KindDefinition, readings: Readings, pages: readonly Page[], documentId: string) => Marks;
  readonly pipeline: (key: string, version: number) => Promise<PipelineDefinition | null>;
  readonly outside: Outside;
  readonly exclusive: Exclusive;
  /** Where workbooks, CSV files and other results are written. */
  readonly workbookFolder: string;
  /** Address of the web server, for links back. */
  readonly url: string;
  readonly budget: Budget;
  readonly chance: Chance;
  /** Measures how long a step took; decides nothing. */
  readonly clock: Clock;
}
