'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import type { QuestionView } from '@/contracts/api';
import type { Place } from '@/core/page/page';
import type { Option, Question } from '@/core/pipeline/facts';
import { post } from '../api';
import { isTyping } from '../frame/Frame';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';
import { PageView } from '../page/PageView';
import { Choices, OtherKind, OtherRow } from './questions/Choices';
import { CredentialAnswer } from './questions/CredentialAnswer';
import { FormAnswers } from './questions/FormAnswers';
import { MatchAnswers } from './questions/MatchAnswers';

interface Answer {
  readonly value?: string;
  readonly values?: Record<string, string>;
  readonly note?: string;
}

/** A question about a document, with the page beside it: one key answers. */
export function QuestionDesk({ view }: { readonly view: QuestionView }) {
  const { task, question } = view;
  const { tell, warn } = useNotices();
  const router = useRouter();
  const client = useQueryClient();
  const [reason, setReason] = useState<'refuse' | 'reject' | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const leave = (text: string) => {
    tell(text);
    void client.invalidateQueries();
    router.push(view.next ? `/desk/${view.next}` : '/desk');
  };
  const answer = (given: Answer) => post(`/tasks/${task.id}/answer`, given).then(() => leave('Answered; the run goes on.'), warn);
  const options = optionsOf(question);
  const take = (value: string) => void (value === REJECTED ? setReason('reject') : answer({ value }));
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey || document.querySelector('[role="dialog"]')) return;
      const chosen = options[Number(event.key) - 1];
      if (chosen) take(chosen.value);
      else if (event.key === 'r') setReason('refuse');
      else if (event.key === 'n' && view.next) router.push(`/desk/${view.next}`);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  const height = 'calc(100vh - 48px - 66px)';
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, px: 2, height: 66 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Box sx={{ typography: 'h1', overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{task.document.fileName}</Box>
          <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{[task.document.sender, task.document.subject].filter(Boolean).map((part) => `${part ?? ''} · `).join('')}<Link href={`/runs/${task.runId}`}>run</Link> · waits since <Moment at={task.openedAt} /></Box>
        </Box>
        <Button variant="outlined" onClick={() => setReason('refuse')}>Refuse&ensp;<kbd>r</kbd></Button>
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: question.asks === 'match' ? 'minmax(0, 620px) 1fr' : '520px 1fr', borderTop: 1, borderColor: 'divider' }}>
        <Box sx={{ height, overflowY: 'auto', p: 2 }}>
          <Box component="h2" sx={{ typography: 'h2', m: 0 }}>{task.title}</Box>
          <Box sx={{ color: 'text.secondary', mb: 1.5, whiteSpace: 'pre-wrap' }}>{textOf(question, task.reason)}</Box>
          <Asked question={question} onTake={take} onForm={(values) => void answer({ values })} onCredential={(value, secret) => void answer({ value, values: { secret } })} onPlace={setPlace} />
        </Box>
        <Box sx={{ height, overflowY: 'auto', borderLeft: 1, borderColor: 'divider' }}><PageView paper={`/documents/${task.document.id}`} pages={view.pages} marks={place ? [{ key: 'asked', place, kind: 'value', active: true }] : []} /></Box>
      </Box>
      <ReasonDialog open={reason === 'refuse'} title={`Refuse ${task.document.fileName}?`} text="Its run ends here and writes nothing. The original and your reason are kept." label="Reason" action="Refuse" onClose={() => setReason(null)} onGive={(note) => post(`/tasks/${task.id}/refuse`, { reason: note }).then(() => leave('Refused; the run has ended.'), warn)} />
      <ReasonDialog open={reason === 'reject'} title={`Reject ${task.document.fileName}?`} text={question.asks === 'approval' && question.rejected === 'go on' ? 'The run goes on and knows that it was rejected.' : 'Its run stops here. The original and your reason are kept.'} label="Reason" action="Reject" onClose={() => setReason(null)} onGive={(note) => answer({ value: REJECTED, note })} />
    </>
  );
}

const REJECTED = 'rejected';

const textOf = (question: Question, reason: string): string => (question.asks === 'kind' || question.text === '' ? reason : question.text);

/** What can be answered with one key. */
function optionsOf(question: Question): readonly Option[] {
  switch (question.asks) {
    case 'kind':
      return question.options.filter((option, index) => index < 1 || (option.share ?? 1) >= 0.01);
    case 'row':
      return question.options;
    case 'approval':
      return [{ value: 'approved', label: 'Approve', reasons: ['The run goes on.'] }, { value: REJECTED, label: 'Reject', reasons: [question.rejected === 'stop' ? 'The run stops; a reason is asked for.' : 'The run goes on and knows; a reason is asked for.'] }];
    case 'delivery':
      return [{ value: 'arrived', label: 'It has arrived', reasons: ['Nothing is sent again; the run goes on.'] }, { value: 'again', label: 'It has not; send it again', reasons: ['It is sent once more.'] }];
    case 'supply':
      return [{ value: 'again', label: 'It is there now; go on', reasons: ['Every run that waits for this does its step again.'] }, ...(question.columns ? [{ value: 'without', label: `This time without ${question.columns.map((column) => `“${column}”`).join(', ')}`, reasons: ['Only this run; the next one asks again.'] }] : [])];
    case 'form':
    case 'match':
      return [];
  }
}

function Asked({ question, onTake, onForm, onCredential, onPlace }: { readonly question: Question; readonly onTake: (value: string) => void; readonly onForm: (values: Record<string, string>) => void; readonly onCredential: (how: 'once' | 'always', secret: string) => void; /** What is being looked at. */ readonly onPlace: (place: Place | null) => void }) {
  const options = optionsOf(question);
  const shown = options.map((option) => option.value);
  return (
    <>
      {question.asks === 'approval' && question.facts.length > 0 && (
        <Box component="dl" sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 2, rowGap: 0.5, m: 0, mb: 2 }}>
          {question.facts.map((fact) => <Box key={fact.name} sx={{ display: 'contents' }}><Box component="dt" sx={{ color: 'text.secondary' }}>{fact.name}</Box><Box component="dd" sx={{ m: 0, fontWeight: 600 }}>{fact.value}</Box></Box>)}
        </Box>
      )}
      <Choices options={options} onTake={onTake} />
      {question.asks === 'kind' && <OtherKind shown={shown} onTake={onTake} />}
      {question.asks === 'row' && <OtherRow list={question.list} shown={shown} onTake={onTake} />}
      {question.asks === 'row' && <Button sx={{ mt: 2 }} variant="outlined" onClick={() => onTake('')}>None of them; go on without</Button>}
      {question.asks === 'match' && <MatchAnswers match={question.match} onAnswer={onForm} onLine={onPlace} />}
      {question.asks === 'form' && <FormAnswers answers={question.answers} onAnswer={onForm} />}
      {question.asks === 'supply' && question.credential !== undefined && <CredentialAnswer onGive={onCredential} />}
      {question.asks === 'supply' && question.about.startsWith('connection:') && <Box sx={{ mt: 2, fontSize: 13, color: 'text.secondary' }}>Mend it under <Link href="/connections">Connections</Link>. As soon as it is saved there and works, the runs go on by themselves.</Box>}
    </>
  );
}
