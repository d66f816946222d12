import Box from '@mui/material/Box';
import Button from '@mui/material/Button';

/** "51–100 of 240" with the ways back and on. */
export function Pager({ offset, limit, total, onMove }: { readonly offset: number; readonly limit: number; readonly total: number; readonly onMove: (offset: number) => void }) {
  if (total <= limit && offset === 0) return null;
  return (
    <Box component="nav" aria-label="Pages of this list" sx={{ display: 'flex', alignItems: 'center', gap: 1, p: 1.5, color: 'text.secondary' }}>
      {Math.min(total, offset + 1)}–{Math.min(total, offset + limit)} of {total.toLocaleString('en')}
      <Button variant="outlined" disabled={offset === 0} onClick={() => onMove(Math.max(0, offset - limit))}>Back</Button>
      <Button variant="outlined" disabled={offset + limit >= total} onClick={() => onMove(offset + limit)}>On</Button>
    </Box>
  );
}
