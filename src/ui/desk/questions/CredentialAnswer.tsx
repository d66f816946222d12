'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';

/** A key that the other side knows: for this run alone, or kept for the connection, and then every run that waits goes on. */
export function CredentialAnswer({ onGive }: { readonly onGive: (how: 'once' | 'always', secret: string) => void }) {
  const [secret, setSecret] = useState('');
  return (
    <Box component="form" onSubmit={(event) => { event.preventDefault(); if (secret !== '') onGive('once', secret); }} sx={{ mt: 2, display: 'grid', gap: 1 }}>
      <TextField fullWidth size="small" type="password" autoComplete="off" label="Or give the key here" value={secret} onChange={(event) => setSecret(event.target.value)} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button type="submit" variant="outlined" disabled={secret === ''}>Use it this time</Button>
        <Button variant="outlined" disabled={secret === ''} onClick={() => onGive('always', secret)}>Keep it, for all that wait</Button>
      </Box>
    </Box>
  );
}
