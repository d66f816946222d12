import Box from '@mui/material/Box';
import dayjs from 'dayjs';
import Link from 'next/link';
import type { ReactNode } from 'react';
import type { RunStepView } from '@/contracts/api';
import type { StepResult } from '@/core/pipeline/facts';
import { glimpseOf } from '@/core/value/glimpse';
import { Moment } from '../frame/Moment';
import { Mark } from '../tally/Mark';
import { VALUE_FACE } from '../theme';

/** Letters of one value that are shown. */
const MOST_LETTERS = 2_000;

/** What went in and out of a step, every failed attempt, and the delivery with its proof. */
export function StepDetail({ step }: { readonly step: RunStepView }) {
  return (
    <Box sx={{ mt: 1, pl: 1.5, borderLeft: 2, borderColor: 'chart.middle', fontSize: 13, display: 'grid', gap: 0.75, cursor: 'auto' }} onClick={(event) => event.stopPropagation()}>
      {step.input.map((fact, index) => <Fact key={index} name={`In: ${fact.name}`}>{fact.value}</Fact>)}
      {step.result && <Result result={step.result} />}
      {step.lines.map((line) => <Fact key={line.line} name={<Box component="span" sx={{ display: 'inline-flex', alignItems: 'center', gap: 0.5 }}><Mark state={line.state} size={12} /> Line {line.line + 1}</Box>}>{line.text}{line.taskId && <> <Link href={`/desk/${line.taskId}`}>asked at the desk</Link></>}</Fact>)}
      {step.failed.map((attempt) => <Fact key={attempt.at} name={`Attempt ${attempt.number}, ${dayjs(attempt.at).format('HH:mm:ss')}`}>{attempt.message}{attempt.nextAt && ` Next at ${dayjs(attempt.nextAt).format('HH:mm:ss')}.`}</Fact>)}
      {step.delivery && (
        <Fact name="Delivery">
          {step.delivery.rows} planned for {step.delivery.target}: {step.delivery.state}{step.delivery.confirmedAt && <> <Moment at={step.delivery.confirmedAt} /></>}
          <Box sx={{ fontFamily: VALUE_FACE, fontSize: 11.5, color: 'text.secondary', overflowWrap: 'anywhere' }}>{step.delivery.key}</Box>
        </Fact>
      )}
      {!step.result && step.failed.length === 0 && !step.delivery && step.lines.length === 0 && <Box sx={{ color: 'text.secondary' }}>Nothing yet.</Box>}
    </Box>
  );
}

function Fact({ name, children }: { readonly name: ReactNode; readonly children: ReactNode }) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '130px 1fr', gap: 1 }}>
      <Box sx={{ color: 'text.secondary' }}>{name}</Box>
      <Box>{children}</Box>
    </Box>
  );
}

function Result({ result }: { readonly result: StepResult }) {
  switch (result.made) {
    case 'kind':
      return <>{result.reasons.map((reason) => <Fact key={reason} name="Because">{reason}</Fact>)}</>;
    case 'reading':
      return (
        <>
          {(result.reading.costs ?? []).map((cost) => <Fact key={`${cost.service}${cost.tier}`} name="Paid">{cost.amount} {cost.currency} to {cost.service} ({cost.tier})</Fact>)}
          <Fact name="Layout">{result.reading.layout ?? 'none recognised'}</Fact>
          {result.reading.misses.map((miss) => <Fact key={miss} name="Not">{miss}</Fact>)}
          {Object.entries(result.reading.tried).map(([field, tried]) => <Fact key={field} name={field}>{tried.length === 0 ? 'no reader' : tried.map((one) => `${one.reader}: ${one.found === 0 ? 'nothing' : `${one.found} found, best ${Math.round((one.best ?? 0) * 100)}`}`).join('; ')}</Fact>)}
        </>
      );
    case 'findings':
      return (
        <>
          {result.findings.map((finding) => <Fact key={finding.text} name={finding.severity}>{finding.text}</Fact>)}
          {result.doubts.map((doubt) => <Fact key={doubt.path} name={doubt.label}>{doubt.reason}</Fact>)}
          {result.findings.length + result.doubts.length === 0 && <Fact name="Findings">none</Fact>}
        </>
      );
    case 'answer':
      return <Fact name="Changed">{result.changed.length === 0 ? 'nothing' : result.changed.join(', ')}</Fact>;
    case 'row':
    case 'given':
    case 'sent':
      return <>{Object.entries(result.values ?? {}).filter(([, value]) => value !== null).map(([name, value]) => <Fact key={name} name={name}>{value === null ? '' : glimpseOf(value, MOST_LETTERS)}</Fact>)}</>;
    case 'matches':
      return <>{result.rows.map((row, index) => <Fact key={index} name={`Row ${index + 1}`}>{row.values === null ? 'nothing' : Object.entries(row.values).map(([name, value]) => `${name.replaceAll('_', ' ')} ${value ?? '–'}`).join(', ')}{row.reasons.length > 0 ? ` (${row.reasons.join('; ')})` : ''}</Fact>)}</>;
    case 'started':
      return <Fact name="Its run"><Link href={`/runs/${result.run}`}>{result.pipeline}</Link></Fact>;
    case 'lines':
    case 'pause':
    case 'rows':
    case 'notes':
    case 'choice':
    case 'stop':
    case 'no question':
      return null;
  }
}
