import type { Lists } from '@/core/list/list';
import type { Word } from '@/core/page/page';
import type { KindDefinition } from './kind';
import type { Remembered } from './remembered';
import type { ServiceAnswer } from './service';

/** What reading may use besides the pages. Whatever is missing here and would help is told in {@link DocumentReading.wants}. */
export interface Aids {
  readonly lists: Lists;
  readonly remembered: readonly Remembered[];
  /** Words as an independent recogniser read them, by page. */
  readonly second: ReadonlyMap<number, readonly Word[]>;
  /** Answers of services, by {@link answerKey}. Null: it was asked and had no answer. */
  readonly answers: ReadonlyMap<string, ServiceAnswer | null>;
}

export const NO_AIDS: Aids = { lists: new Map(), remembered: [], second: new Map(), answers: new Map() };

export const answerKey = (service: string, tier: string): string => `${service}/${tier}`;

/** Where aids come from. The program's services fetch them from database, recogniser and network; a test gives them from memory. */
export interface AidSource {
  lists(keys: readonly string[]): Promise<Lists>;
  remembered(kind: string): Promise<readonly Remembered[]>;
  second(page: number): Promise<readonly Word[]>;
  /** Null when the service has no answer for this document. Rejects when it could not be asked: reading goes on another time. */
  answer(service: string, tier: string): Promise<ServiceAnswer | null>;
}

/** Lists that a kind refers to. */
export const listsOf = (kind: KindDefinition): string[] => [...new Set([...(kind.bindings ?? []).map((binding) => binding.list), ...kind.checks.flatMap((check) => (check.check === 'in-list' ? [check.list] : []))])];
