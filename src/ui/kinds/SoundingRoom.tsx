'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useTheme } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { SoundingDetail } from '@/contracts/workbench';
import { isRight } from '@/core/measuring/compare';
import type { FieldScore } from '@/core/measuring/sounding';
import { thresholdOf, type KindDefinition } from '@/core/reading/kind';
import { ask, post } from '../api';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { Tiers } from './Tiers';
import { VALUE_FACE } from '../theme';

const percent = (part: number, all: number, places = 1): string => (all === 0 ? '–' : `${((100 * part) / all).toFixed(places)} %`);

/** A sounding: how well a kind reads its confirmed samples, and which thresholds can be promised. */
export function SoundingRoom({ kindKey, id }: { readonly kindKey: string; readonly id: string }) {
  const { data, error } = useQuery({ queryKey: ['sounding', id], queryFn: () => ask<SoundingDetail>(`/soundings/${id}`), refetchInterval: (query) => (query.state.data?.state === 'done' || query.state.data?.state === 'failed' ? false : 700) });
  const [field, setField] = useState<string | null>(null);
  const { tell, warn } = useNotices();
  if (error) return <Trouble error={error} />;
  if (!data) return <Loading />;
  const { result } = data;
  const take = () => post<{ set: number; left: number }>(`/soundings/${id}/take`).then(({ set, left }) => tell(`${set} ${set === 1 ? 'threshold' : 'thresholds'} set in the draft${left > 0 ? `; ${left} need more samples` : ''}.`), warn);
  const chosen = result?.fields.find((score) => score.field === field) ?? result?.fields.find((score) => score.guarantee.ok) ?? result?.fields[0];
  return (
    <>
      <RoomHead title={<>Sounding of {data.kindDefinition.name}</>} about={<>{data.version === null ? 'Of the draft' : `Of version ${data.version}`}, asked for <Moment at={data.askedAt} />. Samples a layout was learned from are read as if they were new.</>}>
        <Button component={Link} href={`/kinds/${kindKey}`} variant="outlined">Back to the kind</Button>
        <Button variant="contained" disabled={!result?.fields.some((score) => score.guarantee.ok)} onClick={() => void take()}>Use these thresholds</Button>
      </RoomHead>
      {data.state === 'failed' && <Trouble error={new Error(data.failure ?? 'It failed.')} />}
      {(data.state === 'queued' || data.state === 'working') && <Box role="status" sx={{ px: 2.5, maxWidth: 520 }}><Box sx={{ mb: 1 }}>{data.done} of {data.all} samples read. You can leave; it goes on.</Box><LinearProgress variant="determinate" value={(100 * data.done) / Math.max(1, data.all)} /></Box>}
      {result && chosen && (
        <Box sx={{ px: 2.5, pb: 3, display: 'grid', gap: 2 }}>
          <Summary data={data} />
          <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(560px, 1.35fr) minmax(380px, 1fr)', gap: 2, alignItems: 'start' }}>
            <Scores data={data} chosen={chosen.field} onChoose={setField} />
            <Curve score={chosen} target={result.target} threshold={thresholdOfField(data.kindDefinition, chosen.field)} />
          </Box>
          <Tiers data={data} kindKey={kindKey} />
          <Wrong data={data} />
        </Box>
      )}
    </>
  );
}

function thresholdOfField(kind: KindDefinition, path: string): number {
  const [first = '', column] = path.split('.');
  const definition = column === undefined ? kind.fields.find((field) => field.key === first) : kind.tables.find((table) => table.key === first)?.columns.find((field) => field.key === column);
  return definition ? thresholdOf(definition) : 0;
}

function Summary({ data }: { readonly data: SoundingDetail }) {
  const result = data.result;
  if (!result) return null;
  const before = data.before?.result;
  const figures = [
    { name: 'Fields right', value: percent(result.header.right, result.header.all), was: before && percent(before.header.right, before.header.all), about: `${result.header.all} on ${result.samples} samples` },
    { name: 'Table cells right', value: percent(result.cells.right, result.cells.all), was: before && percent(before.cells.right, before.cells.all), about: `${result.cells.all} cells` },
    { name: 'Straight through', value: percent(result.straightThrough, 1, 0), was: before && percent(before.straightThrough, 1, 0), about: 'documents that nobody need look at' },
    { name: 'Wrong among accepted', value: `${result.accepted.wrong} of ${result.accepted.all}`, was: before && `${before.accepted.wrong} of ${before.accepted.all}`, about: 'at the thresholds now set' },
    { name: 'Reading time', value: `${Math.round(result.tookMs / Math.max(1, result.samples))} ms`, was: before && `${Math.round(before.tookMs / Math.max(1, before.samples))} ms`, about: 'per document, recognition apart' },
    ...(data.kindDefinition.services ? [{ name: 'Cost', value: (result.cost / Math.max(1, result.samples)).toFixed(3), was: before && (before.cost / Math.max(1, before.samples)).toFixed(3), about: 'per document, for services' }] : []),
  ];
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: `repeat(${figures.length}, 1fr)`, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
      {figures.map(({ name, value, was, about }) => (
        <Box key={name} sx={{ p: 1.5, '& + &': { borderLeft: 1, borderColor: 'divider' } }}>
          <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{name}</Box>
          <Box sx={{ fontFamily: VALUE_FACE, fontSize: 20 }}>{value}</Box>
          <Box sx={{ color: 'text.secondary', fontSize: 12 }}>{was && was !== value ? `before ${was}` : about}</Box>
        </Box>
      ))}
    </Box>
  );
}

function Scores({ data, chosen, onChoose }: { readonly data: SoundingDetail; readonly chosen: string; readonly onChoose: (field: string) => void }) {
  const { result, kindDefinition: kind } = data;
  return (
    <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper', overflowX: 'auto' }}>
      <Table size="small" aria-label="Fields">
        <TableHead><TableRow><TableCell>Field</TableCell><TableCell align="right">Right</TableCell><TableCell align="right">Wrong</TableCell><TableCell align="right">Missing</TableCell><TableCell align="right">Too many</TableCell><TableCell align="right">Threshold</TableCell><TableCell>What can be promised</TableCell></TableRow></TableHead>
        <TableBody>
          {result?.fields.map((score) => (
            <TableRow key={score.field} hover selected={score.field === chosen} onClick={() => onChoose(score.field)} sx={{ cursor: 'pointer', '& td': { py: '5px' } }}>
              <TableCell sx={{ whiteSpace: 'nowrap' }}><Box component="button" type="button" onClick={() => onChoose(score.field)} sx={{ all: 'unset', cursor: 'pointer', '&:focus-visible': { textDecoration: 'underline' } }}>{score.label}</Box>{score.field.includes('.') && <Box component="span" sx={{ color: 'text.secondary' }}>, rows</Box>}</TableCell>
              <TableCell align="right" sx={{ fontFamily: VALUE_FACE, whiteSpace: 'nowrap' }}>{percent(score.accuracy, 1)}</TableCell>
              <Count value={score.counts.wrong} /><Count value={score.counts.missing} /><Count value={score.counts.extra} />
              <TableCell align="right" sx={{ fontFamily: VALUE_FACE }}>{Math.round(thresholdOfField(kind, score.field) * 100)}</TableCell>
              <TableCell sx={{ fontSize: 13, whiteSpace: 'nowrap', color: score.guarantee.ok ? 'inherit' : 'text.secondary' }}>{promise(score)}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

const Count = ({ value }: { readonly value: number }) => <TableCell align="right" sx={{ fontFamily: VALUE_FACE, color: value > 0 ? 'chart.signal' : 'text.secondary' }}>{value}</TableCell>;

const promise = ({ guarantee }: FieldScore): string => (guarantee.ok ? `from ${Math.round(guarantee.point.threshold * 100)} on, ${Math.round(guarantee.point.straightThrough * 100)} % straight through` : `needs ${guarantee.missing} more samples`);

/** What each threshold would buy: how much goes straight through, and how many wrong ones among it at most. */
function Curve({ score, target, threshold }: { readonly score: FieldScore; readonly target: { readonly errorRate: number; readonly level: number }; readonly threshold: number }) {
  const { vars } = useTheme();
  const palette = vars?.palette;
  const points = score.guarantee.curve.filter((point) => point.passed > 0).map((point) => ({ threshold: Math.round(point.threshold * 100), through: Math.round(point.straightThrough * 1000) / 10, atMost: Math.round(point.atMost * 1000) / 10 }));
  return (
    <Box component="figure" sx={{ m: 0, border: 1, borderColor: 'divider', bgcolor: 'background.paper', p: 1.5 }}>
      <Box component="figcaption" sx={{ mb: 1 }}>
        <Box sx={{ fontWeight: 650 }}>{score.label}</Box>
        <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{promise(score)}. Wanted: at most {(target.errorRate * 100).toFixed(1)} % wrong, {Math.round(target.level * 100)} % sure (Clopper–Pearson).</Box>
      </Box>
      <Box sx={{ height: 250 }} role="img" aria-label={`Straight-through rate and bound of the error rate of ${score.label} by threshold`}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={points} margin={{ top: 8, right: 8, bottom: 4, left: -18 }}>
            <CartesianGrid stroke={palette?.chart.line ?? '#ccc'} strokeDasharray="1 3" />
            <XAxis dataKey="threshold" type="number" domain={[50, 100]} tick={{ fontSize: 12 }} stroke={palette?.chart.faint ?? '#666'} />
            <YAxis domain={[0, 100]} tick={{ fontSize: 12 }} stroke={palette?.chart.faint ?? '#666'} />
            <Tooltip formatter={(value, name) => [`${String(value)} %`, name]} labelFormatter={(label) => `threshold ${String(label)}`} contentStyle={{ background: palette?.chart.sheet ?? '#fff', border: `1px solid ${palette?.chart.line ?? '#ccc'}`, fontSize: 12.5 }} />
            <ReferenceLine x={Math.round(threshold * 100)} stroke={palette?.chart.faint ?? '#666'} label={{ value: 'now', fontSize: 11, position: 'insideTopRight' }} />
            {score.guarantee.ok && <ReferenceLine x={Math.round(score.guarantee.point.threshold * 100)} stroke={palette?.chart.deep ?? '#000'} strokeWidth={2} />}
            <ReferenceLine y={target.errorRate * 100} stroke={palette?.chart.signal ?? '#b00'} strokeDasharray="4 3" />
            <Line dataKey="through" name="straight through" stroke={palette?.chart.deep ?? '#000'} dot={false} strokeWidth={2} isAnimationActive={false} />
            <Line dataKey="atMost" name="wrong at most" stroke={palette?.chart.signal ?? '#b00'} dot={false} strokeDasharray="5 3" isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      </Box>
      <Box sx={{ display: 'flex', gap: 2, fontSize: 12, color: 'text.secondary' }}><Box>━ straight through, %</Box><Box sx={{ color: 'chart.signal' }}>╌ wrong at most, %</Box><Box sx={{ flex: 1, textAlign: 'right' }}>threshold →</Box></Box>
    </Box>
  );
}

/** Most mistakes that are listed one by one. */
const MOST_LISTED = 60;

function Wrong({ data }: { readonly data: SoundingDetail }) {
  const wrong = data.perSample.flatMap((sample) => sample.judged.filter((judged) => !isRight(judged.verdict)).map((judged) => ({ sample, judged })));
  return (
    <Box>
      <Box component="h2" sx={{ typography: 'h2', m: 0, mb: 0.5 }}>{wrong.length === 0 ? 'Every confirmed value was read right' : `${wrong.length} ${wrong.length === 1 ? 'value is' : 'values are'} not as confirmed`}</Box>
      {wrong.length > 0 && (
        <Box sx={{ border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
          <Table size="small" aria-label="Mistakes">
            <TableHead><TableRow><TableCell>Sample</TableCell><TableCell>Value</TableCell><TableCell>Read</TableCell><TableCell>Confirmed</TableCell><TableCell>By</TableCell><TableCell align="right">Sure</TableCell></TableRow></TableHead>
            <TableBody>{wrong.slice(0, MOST_LISTED).map(({ sample, judged }, index) => <TableRow key={index}><TableCell>{sample.fileName}</TableCell><TableCell>{judged.path.replace(/^(\w+)\.(\d+)\.(\w+)$/, (_, table: string, row: string, column: string) => `${table}, row ${Number(row) + 1}, ${column}`)}</TableCell><TableCell sx={{ fontFamily: VALUE_FACE }}>{judged.found ?? '–'}</TableCell><TableCell sx={{ fontFamily: VALUE_FACE }}>{judged.expected ?? '–'}</TableCell><TableCell>{judged.reader}</TableCell><TableCell align="right" sx={{ fontFamily: VALUE_FACE }}>{Math.round(judged.confidence * 100)}</TableCell></TableRow>)}</TableBody>
          </Table>
          {wrong.length > MOST_LISTED && <Box sx={{ p: 1, color: 'text.secondary' }}>and {wrong.length - MOST_LISTED} more</Box>}
        </Box>
      )}
    </Box>
  );
}
