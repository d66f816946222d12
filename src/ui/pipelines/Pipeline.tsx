'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import type { PipelineView, RunSummary, RunTally, StepView } from '@/contracts/api';
import { ask } from '../api';
import { Choices } from '../frame/Choices';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Loading, RoomHead, Trouble } from '../frame/Room';
import { DefinitionText } from '../tally/DefinitionText';
import { CELL_WORDS, Mark } from '../tally/Mark';
import { Sentence } from '../tally/Sentence';
import { OlderRunsHint } from './OlderRunsHint';
import { SendHint } from './SendHint';
import { originsOf } from './origins';

/** The pipeline tally: steps as sentences down the lead line, recent documents across, and in each cell what the step made of it. */
export function Pipeline({ pipelineKey }: { readonly pipelineKey: string }) {
  const { data: pipeline, error } = useQuery({ queryKey: ['pipeline', pipelineKey], queryFn: () => ask<PipelineView>(`/pipelines/${pipelineKey}`) });
  const { data: runs } = useQuery({ queryKey: ['pipeline-runs', pipelineKey], queryFn: () => ask<RunTally>(`/runs?pipeline=${pipelineKey}&limit=8`) });
  if (error) return <Trouble error={error} />;
  if (!pipeline) return <Loading />;
  return (
    <>
      <RoomHead title={pipeline.name} about={<>{pipeline.description} {pipeline.version === null ? 'Not published yet.' : <>Version {pipeline.version}, published <Moment at={pipeline.publishedAt ?? ''} />.</>}</>}><Switches pipeline={pipeline} /><DefinitionText yaml={pipeline.yaml} name={`${pipeline.key}.yaml`} />{pipeline.version !== null && <Button component={Link} variant="outlined" href={`/batches/new?pipeline=${pipeline.key}`}>Run on what waits</Button>}<Button component={Link} variant="outlined" href={`/pipelines/${pipeline.key}/edit`}>Change and try</Button></RoomHead>
      <Box sx={{ mx: 2.5, mb: 2, overflow: 'auto', border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
        <Box component="table" aria-label="Steps and recent documents" sx={{ borderCollapse: 'separate', borderSpacing: 0, width: '100%', '& td, & th': { textAlign: 'left', verticalAlign: 'top', fontSize: 13, p: 0 } }}>
          <thead>
            <tr>
              <Box component="th" sx={{ bgcolor: 'background.default', borderBottom: 1, borderColor: 'divider', minWidth: 460 }}><Box sx={{ p: '6px 10px 6px 40px', color: 'text.secondary', fontWeight: 600 }}>Begins with {originsOf(pipeline) || 'what is sent to its endpoint'}</Box></Box>
              {runs?.rows.map((run) => <DocumentHead key={run.id} run={run} />)}
            </tr>
          </thead>
          <tbody>{pipeline.steps.map((step, index) => <StepRow key={step.id} step={step} first={index === 0} last={index === pipeline.steps.length - 1} runs={runs?.rows ?? []} />)}</tbody>
        </Box>
        {runs?.total === 0 && <Box sx={{ p: 2, color: 'text.secondary' }}>No document has gone through it yet. Drop one on <Link href="/intake">Intake</Link> and it appears here as a column.</Box>}
      </Box>
      {pipeline.version !== null && <OlderRunsHint pipelineKey={pipeline.key} />}
      <SendHint pipelineKey={pipeline.key} />
    </>
  );
}

const PRIORITIES = [{ value: '-1', label: 'Less' }, { value: '0', label: 'Usual' }, { value: '1', label: 'More' }] as const;

/** Pause and priority. Paused, documents still arrive and wait. */
function Switches({ pipeline }: { readonly pipeline: PipelineView }) {
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  if (pipeline.version === null) return null;
  const put = (what: 'paused' | 'priority', value: boolean | number, said: string) => void ask(`/pipelines/${pipeline.key}/${what}`, { method: 'PUT', body: { [what]: value } }).then(() => { tell(said); return client.invalidateQueries(); }, warn);
  return (
    <>
      <Tooltip title="Its share of the workers where several pipelines want them; each step doubles it"><Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, color: 'text.secondary', fontSize: 13 }}>Share <Choices label="Share of the workers" choices={PRIORITIES} value={String(pipeline.priority)} onChoose={(value) => put('priority', Number(value), 'Set; it counts from the next run on.')} /></Box></Tooltip>
      <Button variant={pipeline.paused ? 'contained' : 'outlined'} onClick={() => put('paused', pipeline.paused === null, pipeline.paused ? 'It goes on.' : 'Paused. Documents still arrive and wait.')}>{pipeline.paused ? `Go on (paused by ${pipeline.paused.by})` : 'Pause'}</Button>
    </>
  );
}

function DocumentHead({ run }: { readonly run: RunSummary }) {
  return (
    <Box component="th" sx={{ bgcolor: 'background.default', borderBottom: 1, borderLeft: 1, borderColor: 'divider' }}>
      <Box sx={{ p: '6px 10px', minWidth: 110 }}><Box component={Link} href={`/runs/${run.id}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{run.document.fileName.replace(/\.pdf$/i, '')}</Box></Box>
    </Box>
  );
}

const INDENT = 24;

function StepRow({ step, first, last, runs }: { readonly step: StepView; readonly first: boolean; readonly last: boolean; readonly runs: readonly RunSummary[] }) {
  return (
    <tr>
      <Box component="th" scope="row" sx={{ fontWeight: 450, position: 'relative', borderBottom: 1, borderColor: 'divider' }}>
        <Box aria-hidden sx={{ position: 'absolute', left: 19, top: first ? 14 : 0, bottom: last ? 'calc(100% - 22px)' : -1, width: '2px', bgcolor: 'chart.middle' }} />
        <Box aria-hidden sx={{ position: 'absolute', left: 13, top: 18, width: 14, height: '2px', bgcolor: 'chart.deep' }} />
        <Box sx={{ p: '8px 12px', pl: `${42 + step.depth * INDENT}px` }}>
          {step.way && <Box sx={{ fontSize: 12, color: 'text.secondary', fontWeight: 600 }}>{step.way}</Box>}
          <Sentence parts={step.sentence} />
        </Box>
      </Box>
      {runs.map((run) => {
        const cell = run.cells.find((candidate) => candidate.step === step.id);
        const faint = !cell || cell.state === 'not taken' || cell.state === 'ahead';
        return (
          <Box component="td" key={run.id} sx={{ borderLeft: 1, borderBottom: 1, borderColor: 'divider' }}>
            {cell && <Box sx={{ p: '8px 10px', display: 'flex', gap: 0.75, alignItems: 'center', color: faint ? 'text.secondary' : 'inherit', whiteSpace: 'nowrap' }}><Mark state={cell.state} size={14} />{cell.text || (faint ? '' : CELL_WORDS[cell.state])}</Box>}
          </Box>
        );
      })}
    </tr>
  );
}
