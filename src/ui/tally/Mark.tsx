import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import type { CellState, RunStateName } from '@/contracts/api';

/** States are told by shape and word; colour only repeats "needs somebody". */
export const CELL_WORDS: Readonly<Record<CellState, string>> = { done: 'done', passed: 'passed straight through', waiting: 'waits for somebody', retrying: 'tries again', resting: 'comes back later', stranded: 'stranded', working: 'under way', 'not taken': 'not taken', ahead: 'still ahead' };
export const RUN_WORDS: Readonly<Record<RunStateName, string>> = { queued: 'queued', working: 'under way', waiting: 'on the desk', stranded: 'stranded', finished: 'finished', 'given up': 'given up' };

const RUN_MARKS: Readonly<Record<RunStateName, CellState>> = { queued: 'ahead', working: 'working', waiting: 'waiting', stranded: 'stranded', finished: 'done', 'given up': 'not taken' };

const SHAPES: Readonly<Record<CellState, React.ReactNode>> = {
  done: <circle cx="8" cy="8" r="5" fill="currentColor" />,
  passed: <circle cx="8" cy="8" r="4.2" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  waiting: <path d="M8 2.2 13.8 8 8 13.8 2.2 8Z" fill="none" stroke="currentColor" strokeWidth="2" />,
  retrying: <path d="M3 12.5 8 3.5l5 9Z" fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinejoin="round" />,
  resting: <path d="M4 2.8h8L8 8l4 5.2H4L8 8Z" fill="none" stroke="currentColor" strokeWidth="1.6" strokeLinejoin="round" />,
  stranded: <path d="m3.5 3.5 9 9m0-9-9 9" stroke="currentColor" strokeWidth="2.4" strokeLinecap="round" />,
  working: <path d="M8 3a5 5 0 0 1 0 10Z M8 3a5 5 0 0 0 0 10" fill="currentColor" fillOpacity="0.9" stroke="currentColor" strokeWidth="1.4" style={{ fillRule: 'evenodd' }} />,
  'not taken': <path d="M5 8h6" stroke="currentColor" strokeWidth="1.4" />,
  ahead: <circle cx="8" cy="8" r="1.6" fill="currentColor" />,
};

const NEEDS_SOMEBODY: readonly CellState[] = ['waiting', 'stranded'];
const FAINT: readonly CellState[] = ['not taken', 'ahead'];

export function Mark({ state, size = 16 }: { readonly state: CellState; readonly size?: number }) {
  const colour = NEEDS_SOMEBODY.includes(state) ? 'chart.signal' : FAINT.includes(state) ? 'text.secondary' : 'chart.deep';
  return (
    <Tooltip title={CELL_WORDS[state]}>
      <Box component="svg" role="img" aria-label={CELL_WORDS[state]} viewBox="0 0 16 16" width={size} height={size} sx={{ color: colour, flexShrink: 0, opacity: FAINT.includes(state) ? 0.7 : 1 }}>{SHAPES[state]}</Box>
    </Tooltip>
  );
}

/** A run's state: shape and word. */
export function RunMark({ state, stopped }: { readonly state: RunStateName; readonly stopped?: string | null }) {
  return (
    <Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, whiteSpace: 'nowrap', color: state === 'waiting' || state === 'stranded' ? 'chart.signal' : 'inherit' }}>
      <Mark state={stopped ? 'not taken' : RUN_MARKS[state]} />
      {stopped ? 'stopped' : RUN_WORDS[state]}
    </Box>
  );
}
