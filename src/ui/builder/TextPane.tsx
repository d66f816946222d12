'use client';
import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import { useState } from 'react';
import { VALUE_FACE } from '../theme';
import type { Building } from './useBuilder';

/** The same pipeline as text, with its mistakes by line and column. Text that is none yet is not taken over. */
export function TextPane({ builder }: { readonly builder: Building }) {
  const [text, setText] = useState(builder.yaml);
  const lines = [...builder.mistakes.map((mistake) => ({ where: `Line ${mistake.line}, column ${mistake.column}`, text: mistake.text })), ...(builder.mistakes.length > 0 ? [] : (builder.tried.data?.complaints ?? []).map((complaint) => ({ where: `Step ${complaint.step}`, text: complaint.text })))];
  return (
    <Box sx={{ flex: 1, display: 'grid', gridTemplateColumns: 'minmax(420px, 3fr) minmax(280px, 2fr)', borderTop: 1, borderColor: 'divider', minHeight: 0 }}>
      <Box sx={{ height: 'calc(100vh - 122px)', overflow: 'auto', bgcolor: 'background.paper' }}>
        <InputBase multiline fullWidth value={text} onChange={(event) => { setText(event.target.value); builder.changeText(event.target.value); }} inputProps={{ 'aria-label': 'The pipeline as text', spellCheck: false }} sx={{ p: 1.5, fontFamily: VALUE_FACE, fontSize: 13, lineHeight: 1.5, alignItems: 'start' }} />
      </Box>
      <Box sx={{ height: 'calc(100vh - 122px)', overflow: 'auto', borderLeft: 1, borderColor: 'divider', p: 2 }}>
        {lines.length === 0 ? <Box sx={{ color: 'text.secondary' }}>Nothing is wrong with it as far as can be told without a document.</Box> : <Box role="alert" sx={{ p: 1.25, borderLeft: 4, borderColor: 'chart.signal', bgcolor: 'background.paper' }}>{lines.map((line, index) => <Box key={index}><Box component="span" sx={{ fontWeight: 600 }}>{line.where}:</Box> {line.text}</Box>)}</Box>}
      </Box>
    </Box>
  );
}
