import type { Truth } from '@/core/measuring/compare';
import type { Page } from '@/core/page/page';

/** A document with confirmed values. */
export interface Sample {
  readonly name: string;
  readonly pages: readonly Page[];
  readonly truth: Truth;
}
