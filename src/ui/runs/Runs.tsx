'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import type { PipelineView, RunStateName, RunSummary, RunTally, StepView, TallyCell } from '@/contracts/api';
import { Stranded } from './Stranded';
import { useAddress } from '../address';
import { ask, queryOf } from '../api';
import { Choices } from '../frame/Choices';
import { Moment } from '../frame/Moment';
import { Pager } from '../frame/Pager';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { CELL_WORDS, Mark, RUN_WORDS, RunMark } from '../tally/Mark';

const LIMIT = 50;
const SHOWN: readonly RunStateName[] = ['queued', 'working', 'waiting', 'stranded', 'finished', 'given up'];

/** The run tally: a row per run, a column per step; the eye sees at which depth runs stop. */
export function Runs() {
  const [address, change] = useAddress();
  const offset = Number(address.get('offset') ?? 0);
  const state = address.get('state') ?? '';
  const pipeline = address.get('pipeline') ?? '';
  const { data: pipelines } = useQuery({ queryKey: ['pipelines'], queryFn: () => ask<PipelineView[]>('/pipelines') });
  const { data, error } = useQuery({ queryKey: ['runs', state, pipeline, offset], queryFn: () => ask<RunTally>(`/runs${queryOf({ state, pipeline, offset, limit: LIMIT })}`) });
  // Columns are the steps of one pipeline; runs of several show their own steps in a row.
  const several = pipeline === '' && (pipelines?.length ?? 0) > 1;
  const all = Object.values(data?.counts ?? {}).reduce((sum, count) => sum + count, 0);
  const choices = [{ value: '', label: 'All', count: data ? all : undefined }, ...SHOWN.map((value) => ({ value, label: capital(RUN_WORDS[value]), count: data?.counts[value] ?? 0 }))];
  return (
    <>
      <RoomHead title="Runs" about={several ? 'Each row is a document on its way through a pipeline, with the steps it came to. Choose a pipeline to see its steps as columns.' : 'Each row is a document on its way through a pipeline; each column is a step.'} />
      <Box sx={{ px: 2, pb: 1 }}>
        <Choices label="State" choices={choices} value={state} onChoose={(next) => change({ state: next, offset: null })} />
        {pipelines && pipelines.length > 1 && <Choices label="Pipeline" choices={[{ value: '', label: 'All pipelines' }, ...pipelines.map(({ key, name }) => ({ value: key, label: name }))]} value={pipeline} onChoose={(next) => change({ pipeline: next, offset: null })} />}
      </Box>
      <Stranded />
      {error && <Trouble error={error} />}
      {!data && !error && <Loading />}
      {data?.total === 0 && <Empty title={state ? `No run is ${RUN_WORDS[state as RunStateName]}` : 'No runs yet'}>{state ? 'Nothing to do here.' : <>A run begins when a document arrives; see <Link href="/intake">Intake</Link>.</>}</Empty>}
      {data && data.total > 0 && <TallyOfRuns rows={data.rows} steps={several ? null : data.steps} names={new Map(pipelines?.map(({ key, name, steps }) => [key, { name, steps }]))} />}
      {data && <Pager offset={offset} limit={LIMIT} total={data.total} onMove={(next) => change({ offset: String(next) })} />}
    </>
  );
}

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

/** The line between two columns; its colour must come after the border, which resets it. */
const divided = { borderLeft: 1, borderLeftColor: 'divider' } as const;

type Names = ReadonlyMap<string, { readonly name: string; readonly steps: readonly StepView[] }>;

function TallyOfRuns({ rows, steps, names }: { readonly rows: readonly RunSummary[]; readonly steps: readonly StepView[] | null; readonly names: Names }) {
  const head = { fontWeight: 600, fontSize: 12.5, color: 'text.secondary', textAlign: 'left', p: '6px 10px', bgcolor: 'background.default', position: 'sticky', top: 0, borderBottom: 1, borderColor: 'divider', whiteSpace: 'nowrap', zIndex: 2 } as const;
  return (
    <Box sx={{ mx: 2.5, bgcolor: 'background.paper', border: 1, borderColor: 'divider', overflow: 'auto', maxHeight: 'calc(100vh - 150px)' }}>
      <Box component="table" aria-label="Runs and their steps" sx={{ width: '100%', borderCollapse: 'separate', borderSpacing: 0, '& tbody tr:hover': { bgcolor: 'action.hover' } }}>
        <thead>
          <tr>
            <Box component="th" sx={{ ...head, left: 0, zIndex: 3 }}>Document</Box>
            <Box component="th" sx={head}>State</Box>
            {steps === null && <><Box component="th" sx={{ ...head, ...divided }}>Pipeline</Box><Box component="th" sx={{ ...head, ...divided }}>Steps</Box></>}
            {steps?.map((step) => (
              <Box component="th" key={step.id} sx={{ ...head, ...divided }} title={step.sentence.map((part) => part.text).join('')}>
                {step.way && <Box component="span" sx={{ display: 'block', fontWeight: 450, fontSize: 11.5 }}>{step.way}</Box>}
                {step.name}
              </Box>
            ))}
            <Box component="th" sx={{ ...head, ...divided }}>Began</Box>
          </tr>
        </thead>
        <tbody>{rows.map((row) => <RunRow key={row.id} row={row} steps={steps} names={names} />)}</tbody>
      </Box>
    </Box>
  );
}

function RunRow({ row, steps, names }: { readonly row: RunSummary; readonly steps: readonly StepView[] | null; readonly names: Names }) {
  const cell = { p: '5px 10px', borderTop: 1, borderColor: 'divider', fontSize: 13, verticalAlign: 'top' } as const;
  const reason = row.state === 'stranded' || row.step !== null ? (row.failure ?? row.stopped) : row.stopped;
  return (
    <tr>
      <Box component="td" sx={{ ...cell, minWidth: 190, maxWidth: 300, position: 'sticky', left: 0, zIndex: 1, bgcolor: 'background.paper' }}>
        <Box component={Link} href={`/runs/${row.id}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{row.document.fileName}</Box>
        {reason && <Box sx={{ color: row.state === 'stranded' ? 'chart.signal' : 'text.secondary', fontSize: 12.5 }}>{reason}</Box>}
      </Box>
      <Box component="td" sx={{ ...cell, whiteSpace: 'nowrap' }}><RunMark state={row.state} stopped={row.stopped} /></Box>
      {steps === null && <><Box component="td" sx={{ ...cell, ...divided, whiteSpace: 'nowrap' }}>{names.get(row.pipeline.key)?.name ?? row.pipeline.key}</Box><Box component="td" sx={{ ...cell, ...divided }}><OwnSteps row={row} steps={names.get(row.pipeline.key)?.steps ?? []} /></Box></>}
      {steps?.map((step) => <StepCell key={step.id} cell={row.cells.find((candidate) => candidate.step === step.id)} sx={{ ...cell, ...divided }} />)}
      <Box component="td" sx={{ ...cell, ...divided, whiteSpace: 'nowrap', color: 'text.secondary' }}><Moment at={row.createdAt} /></Box>
    </tr>
  );
}

/** The steps that a run has come to, in a row, each with its mark. */
function OwnSteps({ row, steps }: { readonly row: RunSummary; readonly steps: readonly StepView[] }) {
  const taken = row.cells.filter((cell) => cell.state !== 'not taken' && cell.state !== 'ahead');
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.5 }}>
      {taken.map((cell) => {
        const step = steps.find((candidate) => candidate.id === cell.step);
        return <Box component="span" key={cell.step} title={step?.sentence.map((part) => part.text).join('')} sx={{ display: 'inline-flex', gap: 0.5, alignItems: 'center', whiteSpace: 'nowrap' }}><Mark state={cell.state} size={14} />{step?.name ?? cell.step}{cell.text && <Box component="span" sx={{ color: 'text.secondary' }}>{cell.text}</Box>}</Box>;
      })}
    </Box>
  );
}

function StepCell({ cell, sx }: { readonly cell: TallyCell | undefined; readonly sx: object }) {
  const faint = !cell || cell.state === 'not taken' || cell.state === 'ahead';
  return (
    <Box component="td" sx={{ ...sx, whiteSpace: 'nowrap', color: faint ? 'text.secondary' : 'inherit' }}>
      {cell && <Box component="span" sx={{ display: 'inline-flex', gap: 0.75, alignItems: 'center' }}><Mark state={cell.state} size={14} />{cell.text || (faint ? '' : CELL_WORDS[cell.state])}</Box>}
    </Box>
  );
}
