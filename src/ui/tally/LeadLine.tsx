import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import type { CellState } from '@/contracts/api';
import { Mark } from './Mark';

export interface LineStop {
  readonly id: string;
  readonly depth: number;
  readonly way: string | null;
  /** Null: no run, only the pipeline. */
  readonly state: CellState | null;
  readonly body: ReactNode;
}

const INDENT = 22;

/** The lead line: one vertical line, a mark at each step, and the plummet at the step that was reached. */
export function LeadLine({ stops, reached, selected, onSelect }: { readonly stops: readonly LineStop[]; readonly reached: string | null; readonly selected?: string | null; readonly onSelect?: (id: string) => void }) {
  return (
    <Box component="ol" sx={{ listStyle: 'none', m: 0, p: 0, position: 'relative' }}>
      {stops.map((stop, index) => (
        <Box component="li" key={stop.id} sx={{ position: 'relative', display: 'grid', gridTemplateColumns: '40px 1fr', opacity: stop.state === 'not taken' ? 0.55 : 1 }}>
          <Box sx={{ position: 'relative' }}>
            <Box aria-hidden sx={{ position: 'absolute', left: 19, top: index === 0 ? 16 : 0, bottom: index === stops.length - 1 ? 'calc(100% - 18px)' : 0, width: '2px', bgcolor: 'chart.middle' }} />
            <Box sx={{ position: 'absolute', left: 11, top: 9, width: 18, height: 18, display: 'grid', placeItems: 'center', '&::before': { content: '""', position: 'absolute', inset: stop.state === 'ahead' || stop.state === null ? '7px' : '1px', borderRadius: '50%', bgcolor: 'background.default' }, '& > *': { position: 'relative' } }}>
              {stop.id === reached ? <Lead /> : stop.state ? <Mark state={stop.state} /> : <Notch />}
            </Box>
          </Box>
          <Box
            role={onSelect ? 'button' : undefined}
            tabIndex={onSelect ? 0 : undefined}
            aria-pressed={onSelect ? selected === stop.id : undefined}
            onClick={() => onSelect?.(stop.id)}
            onKeyDown={(event) => { if (onSelect && (event.key === 'Enter' || event.key === ' ')) { event.preventDefault(); onSelect(stop.id); } }}
            sx={{ ml: `${stop.depth * INDENT}px`, py: 0.75, px: 1, borderRadius: 1, cursor: onSelect ? 'pointer' : 'default', bgcolor: selected === stop.id ? 'chart.shallow' : 'transparent', '&:hover': onSelect ? { bgcolor: selected === stop.id ? 'chart.shallow' : 'background.paper' } : {} }}
          >
            {stop.way && <Box sx={{ fontSize: 12, color: 'text.secondary', fontWeight: 600 }}>{stop.way}</Box>}
            {stop.body}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

const Notch = () => <Box component="svg" viewBox="0 0 16 16" width={16} height={16} sx={{ color: 'chart.deep' }}><path d="M3 8h10" stroke="currentColor" strokeWidth="2" /></Box>;

const Lead = () => (
  <Box component="svg" viewBox="0 0 16 20" width={16} height={20} role="img" aria-label="reached" sx={{ color: 'chart.signal' }}>
    <path d="M8 0v5M8 4l4.2 10a4.5 4.5 0 0 1-8.4 0Z" fill="currentColor" stroke="currentColor" strokeWidth="1.4" />
  </Box>
);
