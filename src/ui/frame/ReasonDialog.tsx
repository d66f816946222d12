'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogContentText from '@mui/material/DialogContentText';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import type { ReactNode } from 'react';
import { useForm } from 'react-hook-form';

interface Props {
  readonly open: boolean;
  readonly title: string;
  readonly text: string;
  readonly label: string;
  readonly action: string;
  /** What it is about, in full. */
  readonly children?: ReactNode;
  /** A reason may be left empty. */
  readonly optional?: boolean;
  readonly onClose: () => void;
  readonly onGive: (reason: string) => Promise<unknown>;
}

/** Asks once, with a reason, before something that is not easily undone. */
export function ReasonDialog({ open, title, text, label, action, optional = false, children, onClose, onGive }: Props) {
  const { register, handleSubmit, reset, formState } = useForm<{ reason: string }>({ defaultValues: { reason: '' } });
  const give = handleSubmit(async ({ reason }) => {
    await onGive(reason.trim());
    reset();
    onClose();
  });
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void give(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>{title}</DialogTitle>
      <DialogContent>
        <DialogContentText sx={{ mb: 2 }}>{text}</DialogContentText>
        {children}
        <TextField autoFocus fullWidth multiline maxRows={4} label={label} error={Boolean(formState.errors.reason)} helperText={formState.errors.reason?.message ?? ' '} {...register('reason', { validate: (value) => optional || value.trim() !== '' || 'Please say why, in a few words.', maxLength: 1000 })} onKeyDown={(event) => { if (event.key === 'Enter' && !event.shiftKey) { event.preventDefault(); void give(); } }} />
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained" disabled={formState.isSubmitting}>{action}</Button>
      </DialogActions>
    </Dialog>
  );
}
