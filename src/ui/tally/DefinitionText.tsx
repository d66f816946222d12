'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { useNotices } from '../frame/Notices';
import { VALUE_FACE } from '../theme';

/** The file behind a kind or a pipeline: to read, copy and keep. */
export function DefinitionText({ yaml, name }: { readonly yaml: string; readonly name: string }) {
  const [open, setOpen] = useState(false);
  const { tell, warn } = useNotices();
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>Show as YAML</Button>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="md" fullWidth>
        <DialogTitle sx={{ typography: 'h1' }}>{name}</DialogTitle>
        <DialogContent><Box component="pre" sx={{ fontFamily: VALUE_FACE, fontSize: 12.5, m: 0, whiteSpace: 'pre-wrap' }}>{yaml}</Box></DialogContent>
        <DialogActions>
          <Button variant="outlined" onClick={() => void navigator.clipboard.writeText(yaml).then(() => tell('Copied.'), warn)}>Copy</Button>
          <Button variant="outlined" href={`data:text/yaml;charset=utf-8,${encodeURIComponent(yaml)}`} download={name}>Save as a file</Button>
          <Button variant="contained" onClick={() => setOpen(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
