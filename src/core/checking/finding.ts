import type { Place } from '@/core/page/page';
import type { CheckDefinition } from '@/core/reading/kind';
import type { ValuePath } from '@/core/reading/reading';

export const SEVERITIES = ['must fix', 'look'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** An amount on the page that, put where it belongs, explains a gap. */
export interface GapExplanation {
  /** Signed share of the gap: positive amounts are added to the computed total, negative ones taken off. */
  readonly amounts: readonly { readonly value: string; readonly printed: string; readonly label: string; readonly sign: 1 | -1; readonly place: Place }[];
  /** In words, for the desk. */
  readonly text: string;
  /** Setting this field to this value closes the gap; null where no field takes it. */
  readonly mend: { readonly field: string; readonly value: string; readonly place: Place; readonly printed: string; /** Its tax, which must change with it. */ readonly also?: { readonly field: string; readonly value: string } } | null;
}

/** One breach of a check, in plain words. */
export interface Finding {
  readonly check: 'required' | 'type' | 'layout' | CheckDefinition['check'];
  readonly severity: Severity;
  readonly text: string;
  /** The values it is about. */
  readonly paths: readonly ValuePath[];
  /** Another document that it is about. */
  readonly document?: string;
  readonly gap?: { readonly difference: string; readonly explanations: readonly GapExplanation[] };
}
