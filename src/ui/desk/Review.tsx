'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { QuestionView, Review as ReviewData } from '@/contracts/api';
import type { WorthAsking } from '@/contracts/workbench';
import { ask, post } from '../api';
import { isTyping } from '../frame/Frame';
import { useNotices } from '../frame/Notices';
import { ReasonDialog } from '../frame/ReasonDialog';
import { Empty, Loading, Trouble } from '../frame/Room';
import { marksOf } from '../page/marks';
import { pictureOf, PageView } from '../page/PageView';
import { Balance } from './Balance';
import { Keys } from './Keys';
import { ReviewHead } from './ReviewHead';
import { QuestionDesk } from './QuestionDesk';
import { RememberDialog } from './RememberDialog';
import { Settled } from './Settled';
import { Strip } from './Strip';
import { TableEditor } from './TableEditor';
import { useReview } from './useReview';

/** A task of the desk. Fetched once: what happens elsewhere must not change values under the clerk's hands. */
export function Review({ id }: { readonly id: string }) {
  const { data, error } = useQuery({ queryKey: ['still', 'task', id], queryFn: () => ask<ReviewData | QuestionView>(`/tasks/${id}`), staleTime: Infinity, gcTime: 0, placeholderData: undefined });
  if (error) return <Trouble error={error} />;
  if (!data) return <Loading />;
  if (data.task.state === 'done' || data.task.state === 'refused') {
    return <Empty title={`${data.task.document.fileName} has been ${data.task.state === 'done' ? 'accepted' : 'refused'}`}>{data.task.closedBy && `By ${data.task.closedBy}. `}{data.task.note && `“${data.task.note}” `}<Link href={`/runs/${data.task.runId}`}>Its run</Link> · <Link href="/desk">The desk</Link></Empty>;
  }
  return 'question' in data ? <QuestionDesk key={id} view={data} /> : <ReviewDesk key={id} review={data} />;
}

/** Have the next document's first page drawn while this one is looked at. Only a convenience: a failure shows when it is opened. */
function drawAhead(next: string | null): void {
  if (next === null) return;
  ask<ReviewData>(`/tasks/${next}`).then(({ task }) => {
    new Image().src = pictureOf(`/documents/${task.document.id}`, 1);
  }, () => undefined);
}

type Asking = 'accept' | 'refuse' | 'keys' | null;

function ReviewDesk({ review }: { readonly review: ReviewData }) {
  const { tell, warn } = useNotices();
  const work = useReview(review, warn);
  const router = useRouter();
  const client = useQueryClient();
  const [asking, setAsking] = useState<Asking>(null);
  const [remembering, setRemembering] = useState<readonly WorthAsking[]>([]);
  const acceptButton = useRef<HTMLButtonElement>(null);
  const { task } = review;
  const failing = work.findings.filter((finding) => finding.severity === 'must fix');

  const leave = useCallback((text: string) => {
    tell(text);
    void client.invalidateQueries();
    router.push(review.next ? `/desk/${review.next}` : '/desk');
  }, [client, review.next, router, tell]);
  const decide = useCallback(async (path: string, body: object, done: string) => {
    try {
      const revision = await work.settled();
      const answer = await post<{ worthAsking?: readonly WorthAsking[] } | null>(`/tasks/${task.id}/${path}`, path === 'accept' ? { ...body, revision, readings: work.readings } : body);
      if (answer?.worthAsking?.length) setRemembering(answer.worthAsking);
      else leave(done);
    } catch (error) {
      work.undecided();
      warn(error);
    }
  }, [leave, task.id, warn, work]);
  const accept = useCallback(() => (failing.length > 0 ? setAsking('accept') : void decide('accept', { note: null }, 'Accepted; the run goes on.')), [decide, failing.length]);
  const setAside = useCallback(() => void decide('set-aside', { note: null }, 'Set aside. It waits on the desk, below.'), [decide]);

  const strips = work.doubts.map((doubt) => doubt.path).filter((path) => path.split('.').length !== 2);
  const focusStrip = useCallback((path: string | undefined) => {
    const strip = path === undefined ? null : document.querySelector<HTMLElement>(`[data-strip="${path}"]`);
    if (strip) strip.focus();
    else acceptButton.current?.focus();
  }, []);
  const goOn = (from: string) => focusStrip([...strips.slice(strips.indexOf(from) + 1), ...strips.slice(0, strips.indexOf(from))].find((path) => !work.looked.has(path)));

  useEffect(() => focusStrip(review.doubts[0]?.path), [focusStrip, review.doubts]);
  useEffect(() => drawAhead(review.next), [review.next]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (asking !== null || remembering.length > 0 || isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const at = strips.indexOf(work.active ?? '');
      const act: Readonly<Record<string, () => void>> = { a: accept, s: setAside, r: () => setAsking('refuse'), '?': () => setAsking('keys'), n: () => review.next && router.push(`/desk/${review.next}`), p: () => review.previous && router.push(`/desk/${review.previous}`), ArrowDown: () => focusStrip(strips[at + 1]), ArrowUp: () => focusStrip(strips[Math.max(0, at - 1)]) };
      const chosen = act[event.key];
      if (!chosen) return;
      event.preventDefault();
      chosen();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  const height = 'calc(100vh - 48px - 66px)';
  return (
    <>
      <ReviewHead review={review} saving={work.saving} failing={failing.length}>
        <Button variant="outlined" onClick={() => setAsking('refuse')}>Refuse&ensp;<kbd>r</kbd></Button>
        {task.state === 'open' && <Button variant="outlined" onClick={setAside}>Set aside&ensp;<kbd>s</kbd></Button>}
        <Button ref={acceptButton} variant="contained" onClick={accept}>{failing.length > 0 ? 'Accept with a reason' : 'Accept'}&ensp;<kbd>a</kbd></Button>
      </ReviewHead>
      <Box sx={{ display: 'grid', gridTemplateColumns: '580px 1fr', borderTop: 1, borderColor: 'divider' }}>
        <Box sx={{ height, overflowY: 'auto', p: 1.5, display: 'flex', flexDirection: 'column', gap: 1.5, '& > *': { flexShrink: 0 } }}>
          {work.doubts.map((doubt) => <Strip key={doubt.path} review={review} work={work} doubt={doubt} onDone={() => goOn(doubt.path)} />)}
          <Balance kind={review.kind} readings={work.readings} />
          <Settled review={review} work={work} />
          {review.kind.tables.map((table) => <TableEditor key={table.key} table={table} work={work} />)}
        </Box>
        <Box sx={{ height, overflowY: 'auto', borderLeft: 1, borderColor: 'divider' }}>
          <PageView paper={`/documents/${task.document.id}`} pages={review.pages} marks={marksOf(review.kind, review.reading, work.readings, work.active)} onPick={work.pick} />
        </Box>
      </Box>
      <ReasonDialog open={asking === 'accept'} title="Accept although a check fails?" text={failing.map((finding) => finding.text).join(' ')} label="Why it is right all the same" action="Accept" onClose={() => setAsking(null)} onGive={(note) => decide('accept', { note }, 'Accepted with a reason; the run goes on.')} />
      <ReasonDialog open={asking === 'refuse'} title={`Refuse ${task.document.fileName}?`} text="Its run ends here and writes nothing. The original and your reason are kept." label="Reason" action="Refuse" onClose={() => setAsking(null)} onGive={(reason) => decide('refuse', { reason }, 'Refused; the run has ended.')} />
      {remembering.length > 0 && <RememberDialog questions={remembering} onDone={() => leave('Accepted; the run goes on.')} />}
      <Keys open={asking === 'keys'} onClose={() => setAsking(null)} />
    </>
  );
}
