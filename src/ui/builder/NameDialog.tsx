'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useForm } from 'react-hook-form';
import { FormField } from '../frame/FormField';

interface Named {
  readonly name: string;
  readonly description: string;
}

/** What a pipeline is called, and what it is for. Its key stays: runs and addresses refer to it. */
export function NameDialog({ name, description, onClose, onGive }: Named & { readonly onClose: () => void; readonly onGive: (named: Named) => void }) {
  const { control, handleSubmit } = useForm<Named>({ defaultValues: { name, description } });
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth slotProps={{ paper: { component: 'form', onSubmit: (event: React.FormEvent) => void handleSubmit(onGive)(event) } as object }}>
      <DialogTitle sx={{ typography: 'h1' }}>Rename the pipeline</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important' }}>
        <FormField control={control} name="name" label="Name" required wide />
        <FormField control={control} name="description" label="What it is for (may be empty)" wide />
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button variant="outlined" onClick={onClose}>Back</Button>
        <Button type="submit" variant="contained">Rename</Button>
      </DialogActions>
    </Dialog>
  );
}
