'use client';
import Box from '@mui/material/Box';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Counts } from '@/contracts/api';
import type { DemoWeather, WeatherReport } from '@/contracts/reading-service';
import { ask } from '../api';
import { Choices } from '../frame/Choices';
import { useNotices } from '../frame/Notices';

const WEATHERS = [{ value: 'calm', label: 'Calm' }, { value: 'choppy', label: 'Choppy' }, { value: 'storm', label: 'Storm' }] as const;
const ABOUT: Readonly<Record<WeatherReport['state'], string>> = { calm: 'It answers as it should.', choppy: 'Now and then it is busy, slow or breaks off.', storm: 'It is busy, slow, breaks off and talks nonsense, a third of the time. Runs wait, try again, and lose nothing.' };

/** Demo only: how badly the simulated services behave, to try a pipeline against failure before failure tries it. */
export function Weather() {
  const { data: counts } = useQuery({ queryKey: ['counts'], queryFn: () => ask<Counts>('/counts') });
  const { data: services } = useQuery({ queryKey: ['weather'], queryFn: () => ask<DemoWeather[]>('/demo/weather'), enabled: counts?.demo === true, refetchInterval: 5_000, retry: false });
  const client = useQueryClient();
  const { warn } = useNotices();
  if (!services || services.length === 0) return null;
  const set = (service: string, state: string) => void ask<DemoWeather[]>('/demo/weather', { method: 'PUT', body: { service, state } }).then((next) => client.setQueryData(['weather'], next), warn);
  return (
    <Box component="section" aria-label="Weather" sx={{ mt: 1.5, border: 1, borderStyle: 'dashed', borderColor: 'divider' }}>
      <Box sx={{ px: 1.5, pt: 1, fontWeight: 600 }}>Weather of the simulated services</Box>
      {services.map((one) => <OneWeather key={one.service} weather={one} onSet={(state) => set(one.service, state)} />)}
    </Box>
  );
}

function OneWeather({ weather, onSet }: { readonly weather: DemoWeather; readonly onSet: (state: string) => void }) {
  const befell = Object.entries(weather.log).map(([mishap, times]) => `${mishap} ${times}`).join(', ');
  return (
    <Box sx={{ px: 1.5, py: 0.75, display: 'grid', gridTemplateColumns: '300px auto 1fr', gap: 2, alignItems: 'center' }}>
      <Box>{weather.name}</Box>
      <Choices label={`Weather of ${weather.name}`} choices={WEATHERS} value={weather.state} onChoose={onSet} />
      <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{ABOUT[weather.state]}{befell && ` So far: ${befell}.`}</Box>
    </Box>
  );
}
