import type { NoticeType } from '@/core/telling/notice';

/** Who is told what happens. Moments are ISO 8601 in UTC. */
export interface ListenerView {
  readonly key: string;
  readonly name: string;
  readonly url: string;
  /** Empty: of everything. */
  readonly types: readonly NoticeType[];
  readonly enabled: boolean;
  readonly problem: string | null;
  readonly toldAt: string | null;
  readonly told: number;
  readonly due: number;
  readonly givenUp: number;
}

/** One notice on its way to a listener. */
export interface TellingView {
  readonly id: string;
  readonly type: NoticeType;
  readonly run: string;
  /** Of the document. */
  readonly fileName: string;
  readonly at: string;
  readonly state: 'due' | 'told' | 'given up';
  readonly attempts: number;
  readonly toldAt: string | null;
  readonly nextAt: string | null;
  readonly failure: string | null;
}
