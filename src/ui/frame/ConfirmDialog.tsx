'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';

interface Props {
  readonly open: boolean;
  readonly title: string;
  readonly text: string;
  readonly action: string;
  readonly onClose: () => void;
  readonly onConfirm: () => void;
}

/** Asks once, naming what goes, before something that cannot be undone. */
export function ConfirmDialog({ open, title, text, action, onClose, onConfirm }: Props) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ typography: 'h1' }}>{title}</DialogTitle>
      <DialogContent><DialogContentText>{text}</DialogContentText></DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" autoFocus onClick={onClose}>Back</Button>
        <Button variant="contained" onClick={() => { onClose(); onConfirm(); }}>{action}</Button>
      </DialogActions>
    </Dialog>
  );
}
