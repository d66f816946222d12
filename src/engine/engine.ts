import type { Budget } from '@/core/resilience/backoff';
import type { KindDefinition } from '@/core/reading/kind';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import type { Chance } from '@/settings/random';
import type { Clock } from '@/settings/clock';
import type { Exclusive } from '@/connectors/workbook/workbook';
import type { Db } from '@/store/database';

/** What the engine works with; handed in by the entry that starts it. */
export interface Engine {
  readonly db: Db;
  /** A published kind; null when there is none. The newest version where none is given. */
  readonly kind: (key: string) => Promise<KindDefinition | null>;
  readonly pipeline: (key: string, version: number) => Promise<PipelineDefinition | null>;
  readonly exclusive: Exclusive;
  readonly workbookFolder: string;
  /** Address of the web server, for links back. */
  readonly url: string;
  readonly budget: Budget;
  readonly chance: Chance;
  /** Measures how long a step took; decides nothing. */
  readonly clock: Clock;
}
