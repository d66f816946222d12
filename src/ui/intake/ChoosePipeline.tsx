'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { KeyboardEvent } from 'react';
import type { PipelineView } from '@/contracts/api';

/** Which pipeline takes files that were dropped. The one that took the last ones comes first and has the focus, so Enter is enough. */
export function ChoosePipeline({ pipelines, files, onChoose, onClose }: { readonly pipelines: readonly PipelineView[]; readonly files: readonly File[]; readonly onChoose: (pipeline: string) => void; readonly onClose: () => void }) {
  const onKeyDown = (event: KeyboardEvent) => {
    const chosen = pipelines[Number(event.key) - 1];
    if (chosen) onChoose(chosen.key);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth onKeyDown={onKeyDown} aria-labelledby="which-pipeline">
      <DialogTitle id="which-pipeline" sx={{ typography: 'h1' }}>Which pipeline takes {files.length === 1 ? (files[0]?.name ?? 'it') : `these ${files.length} files`}?</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 0.75 }}>
        {pipelines.map((pipeline, index) => (
          <ButtonBase key={pipeline.key} autoFocus={index === 0} onClick={() => onChoose(pipeline.key)} sx={{ display: 'grid', gridTemplateColumns: '28px 1fr', textAlign: 'left', alignItems: 'baseline', p: 1, border: 1, borderColor: 'divider', '&:hover, &:focus-visible': { borderColor: 'chart.deep', bgcolor: 'action.hover' } }}>
            <Box><kbd>{index + 1}</kbd></Box>
            <Box><Box sx={{ fontWeight: 600 }}>{pipeline.name}</Box><Box sx={{ color: 'text.secondary', fontSize: 13 }}>{pipeline.description}</Box></Box>
          </ButtonBase>
        ))}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}><Button variant="outlined" onClick={onClose}>Back</Button></DialogActions>
    </Dialog>
  );
}
