import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import type { CellState } from '@/contracts/api';
import { Mark } from '../tally/Mark';

interface Props {
  readonly name: string;
  readonly about: ReactNode;
  readonly mark: CellState;
  readonly state: ReactNode;
  /** Somebody should look. */
  readonly wrong: boolean;
  readonly buttons: ReactNode;
  /** Below the row, over its whole width. */
  readonly children?: ReactNode;
}

/** One line of the lists of this room: what it is, how it is, what can be done. The columns of all lists stand in one line. */
export function ConnectionRow({ name, about, mark, state, wrong, buttons, children }: Props) {
  return (
    <Box sx={{ px: 1.5, py: 1, display: 'grid', gridTemplateColumns: '190px minmax(0, 1fr) 250px 226px', columnGap: 2, rowGap: 0.5, alignItems: 'center', '& + &': { borderTop: 1, borderColor: 'divider' } }}>
      <Box sx={{ fontWeight: 600 }}>{name}</Box>
      <Box sx={{ color: 'text.secondary', fontSize: 13, overflowWrap: 'anywhere' }}>{about}</Box>
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 13, color: wrong ? 'chart.signal' : 'inherit' }}><Mark state={mark} /><span>{state}</span></Box>
      <Box sx={{ display: 'flex', gap: 1, justifyContent: 'flex-end' }}>{buttons}</Box>
      {children && <Box sx={{ gridColumn: '2 / -1' }}>{children}</Box>}
    </Box>
  );
}

/** What is the matter, in the words of whoever noticed. */
export const Problem = ({ text }: { readonly text: string }) => <Box role="alert" sx={{ color: 'chart.signal', fontSize: 13, overflowWrap: 'anywhere' }}>{text}</Box>;
