import type { PipelineDefinition } from '@/core/pipeline/definition';

/** A pipeline and the text that says it. */
export interface Version {
  readonly pipeline: PipelineDefinition;
  readonly yaml: string;
}

export interface History {
  readonly past: readonly Version[];
  readonly now: Version;
  readonly future: readonly Version[];
}

export type Move = { readonly move: 'change'; readonly to: Version } | { readonly move: 'undo' } | { readonly move: 'redo' };

/** Changes that can be taken back, at most. */
const MOST_KEPT = 200;

export function moveHistory(history: History, move: Move): History {
  const { past, now, future } = history;
  switch (move.move) {
    case 'change':
      return move.to.yaml === now.yaml ? history : { past: [...past.slice(-MOST_KEPT), now], now: move.to, future: [] };
    case 'undo': {
      const before = past.at(-1);
      return before ? { past: past.slice(0, -1), now: before, future: [now, ...future] } : history;
    }
    case 'redo': {
      const [next, ...rest] = future;
      return next ? { past: [...past, now], now: next, future: rest } : history;
    }
  }
}
