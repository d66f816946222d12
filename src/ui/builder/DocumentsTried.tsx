'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import type { DocumentSummary, PageOf } from '@/contracts/api';
import { ask } from '../api';
import { Choices } from '../frame/Choices';

/** Documents that can be chosen for trying, the newest first. */
const MOST_OFFERED = 60;
const MOST_TRIED = 8;

/** Which documents the pipeline is tried on: by itself the newest that came for it, or those that are chosen. */
export function DocumentsTried({ wanted, trying, onChoose }: { readonly wanted: readonly string[]; readonly trying: boolean; readonly onChoose: (ids: readonly string[]) => void }) {
  const { data } = useQuery({ queryKey: ['still', 'documents-to-try'], queryFn: () => ask<PageOf<DocumentSummary>>(`/documents?limit=${MOST_OFFERED}`) });
  const options = (data?.rows ?? []).filter((document) => document.problem === null);
  return (
    <Box sx={{ p: '6px 10px 6px 42px' }}>
      <Autocomplete
        multiple
        size="small"
        limitTags={2}
        options={options}
        value={options.filter((document) => wanted.includes(document.id))}
        getOptionLabel={(document) => document.fileName}
        getOptionKey={(document) => document.id}
        isOptionEqualToValue={(a, b) => a.id === b.id}
        getOptionDisabled={() => wanted.length >= MOST_TRIED}
        onChange={(_event, chosen) => onChoose(chosen.map(({ id }) => id))}
        renderInput={(params) => <TextField {...params} variant="standard" placeholder={wanted.length === 0 ? 'Tried on the newest; choose others' : ''} aria-label="Documents tried" helperText={trying ? 'Trying it …' : undefined} />}
      />
    </Box>
  );
}

const ASKED = [{ value: 'now', label: 'asked now' }, { value: 'before', label: 'answer as last time' }] as const;

/** Whether services are asked at every change, or answer as they did when the document really went through. */
export function ServicesAsked({ asks, onAsks }: { readonly asks: boolean; readonly onAsks: (asks: boolean) => void }) {
  return <Box sx={{ pl: '42px', pb: 0.5, display: 'flex', gap: 1, alignItems: 'center', fontWeight: 450, color: 'text.secondary' }}>Services are<Choices label="How services answer" choices={ASKED} value={asks ? 'now' : 'before'} onChoose={(chosen) => onAsks(chosen === 'now')} /></Box>;
}
