import Box from '@mui/material/Box';
import type { CellState } from '@/contracts/api';
import type { BatchView } from '@/contracts/batches';
import { Mark } from '../tally/Mark';
import { STATE_WORDS } from './words';

const MARKS: Readonly<Record<BatchView['state'], CellState>> = { 'under way': 'working', paused: 'resting', done: 'done', ended: 'not taken' };

/** The state of a batch: shape and word. */
export function BatchMark({ state, trouble }: { readonly state: BatchView['state']; readonly trouble: boolean }) {
  return <Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.75, whiteSpace: 'nowrap' }}><Mark state={trouble && state === 'under way' ? 'retrying' : MARKS[state]} />{STATE_WORDS[state]}</Box>;
}
