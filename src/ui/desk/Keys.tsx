'use client';
import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';

const KEYS = [
  ['Enter', 'this value is right, on to the next'],
  ['1 – 4', 'take a suggestion'],
  ['e', 'into the value, to type'],
  ['Esc', 'out of the value again'],
  ['Tab', 'to the next place'],
  ['↑ ↓', 'to the strip above or below'],
  ['a', 'accept the document'],
  ['s', 'set it aside'],
  ['r', 'refuse it'],
  ['n, p', 'next or previous document'],
  ['?', 'this list'],
] as const;

export function Keys({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose}>
      <DialogTitle sx={{ typography: 'h1' }}>Keys at the desk</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 3, rowGap: 0.75, pb: 3 }}>
        {KEYS.map(([key, text]) => [<Box key={key}><kbd>{key}</kbd></Box>, <Box key={`${key}-text`}>{text}</Box>])}
      </DialogContent>
    </Dialog>
  );
}
