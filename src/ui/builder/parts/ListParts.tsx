'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState, type ReactNode } from 'react';
import { keyFrom } from '@/core/definition/keys';
import { ANSWER_TYPES, type AnswerField, type BranchStep, type WriteWorkbookStep } from '@/core/pipeline/definition';
import { targetsOf } from '@/core/pipeline/targets';
import { without } from '../../member';
import { useBuilderView } from '../context';
import { ColumnsField } from './ColumnsField';
import { ConditionField } from './ConditionField';
import { drop, put } from './items';
import { TablePick } from './Picks';

const Card = ({ children }: { readonly children: ReactNode }) => <Box sx={{ display: 'grid', gap: 1, p: 1.25, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>{children}</Box>;

/** The ways of a branch: name and condition; what happens on each stands below it. */
export function WaysField({ step, onChange }: { readonly step: BranchStep; readonly onChange: (step: BranchStep) => void }) {
  const ways = (next: BranchStep['ways']) => onChange({ ...step, ways: next });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      {step.ways.map((way, index) => (
        <Card key={index}>
          <Box sx={{ display: 'flex', gap: 1 }}>
            <TextField size="small" label={`Way ${index + 1}`} value={way.name} onChange={(event) => ways(put(step.ways, index, { ...way, name: event.target.value }))} />
            <Box sx={{ flex: 1 }} />
            {step.ways.length > 1 && <Button onClick={() => ways(drop(step.ways, index))}>{way.steps.length > 0 ? `Take out with its ${way.steps.length} ${way.steps.length === 1 ? 'step' : 'steps'}` : 'Take out'}</Button>}
          </Box>
          <ConditionField step={step.id} label="It is taken when" value={way.when} onChange={(when) => when && ways(put(step.ways, index, { ...way, when }))} />
        </Card>
      ))}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Button variant="outlined" onClick={() => ways([...step.ways, { name: `Way ${step.ways.length + 1}`, when: { value: '', is: 'equal to', than: '' }, steps: [] }])}>Another way</Button>
        {step.else ? <TextField size="small" label="Otherwise is called" value={step.else.name ?? ''} onChange={(event) => onChange({ ...step, else: { ...step.else, steps: step.else?.steps ?? [], name: event.target.value } })} /> : <Button variant="outlined" onClick={() => onChange({ ...step, else: { name: 'Otherwise', steps: [] } })}>An otherwise</Button>}
      </Box>
    </Box>
  );
}

/** The answers of a small form. */
export function AnswersField({ answers, onChange }: { readonly answers: readonly AnswerField[]; readonly onChange: (answers: AnswerField[]) => void }) {
  const taken = (key: string): boolean => answers.some((answer) => answer.key === key);
  const named = (label: string): string => {
    const wanted = keyFrom(label, 'answer').replaceAll('-', '_');
    return [wanted, ...Array.from({ length: 20 }, (_, number) => `${wanted}_${number + 2}`)].find((key) => !taken(key)) ?? wanted;
  };
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      {answers.map((answer, index) => (
        <Box key={answer.key} sx={{ display: 'grid', gridTemplateColumns: 'minmax(140px, 1fr) 120px minmax(140px, 1fr) auto auto', gap: 1, alignItems: 'center' }}>
          <TextField size="small" label="Answer" value={answer.label} onChange={(event) => onChange(put(answers, index, { ...answer, label: event.target.value }))} />
          <TextField select size="small" label="Is a" value={answer.type} onChange={(event) => onChange(put(answers, index, typed(answer, event.target.value as AnswerField['type'])))}>{ANSWER_TYPES.map((type) => <MenuItem key={type} value={type}>{type === 'yes-no' ? 'yes or no' : type}</MenuItem>)}</TextField>
          {answer.type === 'choice' ? <Options options={answer.options ?? []} onChange={(options) => onChange(put(answers, index, { ...answer, options }))} /> : <span />}
          <FormControlLabel control={<Checkbox size="small" checked={answer.required ?? false} onChange={(event) => onChange(put(answers, index, { ...answer, required: event.target.checked }))} />} label="needed" />
          <Button disabled={answers.length === 1} onClick={() => onChange(drop(answers, index))}>Take out</Button>
        </Box>
      ))}
      <Box><Button variant="outlined" onClick={() => onChange([...answers, { key: named(`Answer ${answers.length + 1}`), label: `Answer ${answers.length + 1}`, type: 'text' }])}>Another answer</Button></Box>
    </Box>
  );
}

function typed(answer: AnswerField, type: AnswerField['type']): AnswerField {
  return { ...without(answer, 'options'), type, ...(type === 'choice' ? { options: [] } : {}) };
}

/** Written with commas, read when it is left: otherwise a comma could not be typed. */
function Options({ options, onChange }: { readonly options: readonly string[]; readonly onChange: (options: string[]) => void }) {
  const [text, setText] = useState(options.join(', '));
  return <TextField size="small" label="Options, with commas" value={text} onChange={(event) => setText(event.target.value)} onBlur={() => onChange(text.split(',').map((option) => option.trim()).filter((option, index, all) => option !== '' && all.indexOf(option) === index))} />;
}

/** The tabs of a workbook, each with rows of its own. */
export function TabsField({ step, onChange }: { readonly step: WriteWorkbookStep; readonly onChange: (step: WriteWorkbookStep) => void }) {
  const targets = targetsOf(step, useBuilderView().around);
  const tabs = (next: WriteWorkbookStep['tabs']) => onChange({ ...step, tabs: next });
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      {step.tabs.map((tab, index) => {
        const set = (changes: Partial<WriteWorkbookStep['tabs'][number]>) => tabs(put(step.tabs, index, { ...tab, ...changes }));
        return (
          <Card key={index}>
            <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr auto', gap: 1 }}>
              <TextField size="small" label="Tab" value={tab.tab} onChange={(event) => set({ tab: event.target.value })} />
              <TablePick label="Rows" value={tab.each} optional="One row per document" onChange={(each) => tabs(put(step.tabs, index, each === undefined ? without(tab, 'each') : { ...tab, each }))} />
              <TextField size="small" label="Unless this column has its value" value={tab.unless ?? ''} onChange={(event) => tabs(put(step.tabs, index, event.target.value === '' ? without(tab, 'unless') : { ...tab, unless: event.target.value }))} />
              <Button disabled={step.tabs.length === 1} onClick={() => tabs(drop(step.tabs, index))}>Take out</Button>
            </Box>
            <ColumnsField step={step.id} table={tab.each} label="Columns" value={tab.columns} targets={targets[index]?.columns?.map(({ name }) => name) ?? null} onChange={(columns) => set({ columns })} />
          </Card>
        );
      })}
      <Box><Button variant="outlined" onClick={() => tabs([...step.tabs, { tab: `Tab ${step.tabs.length + 1}`, columns: { Document: 'document.name' } }])}>Another tab</Button></Box>
    </Box>
  );
}
