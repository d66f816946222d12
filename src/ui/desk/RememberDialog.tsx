'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { WorthAsking } from '@/contracts/workbench';
import { post } from '../api';
import { useNotices } from '../frame/Notices';

/** Asked once after a correction that may hold for every paper of a sender. Either answer is kept; neither is asked again. */
export function RememberDialog({ questions, onDone }: { readonly questions: readonly WorthAsking[]; readonly onDone: () => void }) {
  const [at, setAt] = useState(0);
  const { warn } = useNotices();
  const question = questions[at];
  if (!question) return null;
  const answer = async (always: boolean): Promise<void> => {
    const { kind, field, value, whenField, whenValue } = question;
    await post(`/kinds/${kind}/remembered`, { field, value, whenField, whenValue, always }).catch(warn);
    if (at + 1 < questions.length) setAt(at + 1);
    else onDone();
  };
  return (
    <Dialog open onClose={onDone} aria-labelledby="remember">
      <DialogTitle id="remember" sx={{ typography: 'h1' }}>{question.question}</DialogTitle>
      <DialogContent>This value does not stand on the page. What is remembered is listed with the kind and can be undone there; you are not asked again.</DialogContent>
      <DialogActions>
        <Button onClick={() => void answer(false)}>Only this time</Button>
        <Button autoFocus variant="contained" onClick={() => void answer(true)}>Always</Button>
      </DialogActions>
    </Dialog>
  );
}
