'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import type { TaskSummary } from '@/contracts/api';
import { ask, post } from '../api';
import { isTyping } from '../frame/Frame';
import { Moment } from '../frame/Moment';
import { useNotices } from '../frame/Notices';
import { Empty, Loading, RoomHead, Trouble } from '../frame/Room';
import { Mark } from '../tally/Mark';

/** What waits for somebody, oldest first, and what was set aside. */
export function Desk() {
  const { data, error } = useQuery({ queryKey: ['tasks'], queryFn: () => ask<TaskSummary[]>('/tasks') });
  const router = useRouter();
  const open = data?.filter((task) => task.state === 'open') ?? [];
  const aside = data?.filter((task) => task.state === 'set aside') ?? [];
  const first = open[0]?.id;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Enter' && first && !isTyping(event.target) && event.target === document.body) router.push(`/desk/${first}`);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [first, router]);
  return (
    <>
      <RoomHead title="Desk" about={data ? (open.length === 0 ? 'Nothing waits for you.' : `${open.length} ${open.length === 1 ? 'document waits' : 'documents wait'} for a decision, oldest first.`) : ' '}>
        {first && <Button component={Link} href={`/desk/${first}`} variant="contained">Begin with the oldest&ensp;<kbd>Enter</kbd></Button>}
      </RoomHead>
      {error && <Trouble error={error} />}
      {!data && !error && <Loading />}
      {data && open.length === 0 && <Empty title="The desk is clear">Documents whose values are sure and whose checks pass go straight through; the others appear here. {aside.length > 0 && 'Some are set aside, below.'}</Empty>}
      {open.length > 0 && <Queue tasks={open} />}
      {aside.length > 0 && <><Box component="h2" sx={{ typography: 'h2', px: 2.5, pt: 3, pb: 1, m: 0 }}>Set aside</Box><Queue tasks={aside} aside /></>}
    </>
  );
}

function Queue({ tasks, aside = false }: { readonly tasks: readonly TaskSummary[]; readonly aside?: boolean }) {
  const { tell, warn } = useNotices();
  return (
    <Box component="ul" sx={{ listStyle: 'none', mx: 2.5, my: 0, p: 0, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
      {tasks.map((task) => (
        <Box component="li" key={task.id} sx={{ display: 'grid', gridTemplateColumns: '24px minmax(220px, 280px) 1fr 112px minmax(150px, 190px)', gap: 1.5, alignItems: 'baseline', px: 1.5, py: 1, '& + &': { borderTop: 1, borderColor: 'divider' }, '&:hover': { bgcolor: 'action.hover' } }}>
          <Box sx={{ alignSelf: 'center', display: 'flex' }}><Mark state={aside ? 'passed' : 'waiting'} /></Box>
          <Box sx={{ minWidth: 0 }}>
            <Box component={Link} href={`/desk/${task.id}`} sx={{ fontWeight: 600, textDecoration: 'none', '&:hover': { textDecoration: 'underline' } }}>{task.document.fileName}</Box>
            <Box sx={{ color: 'text.secondary', fontSize: 12.5, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{task.document.sender ?? task.document.subject}</Box>
          </Box>
          <Box sx={{ fontSize: 13.5 }}>{task.reason}{task.note && <Box sx={{ color: 'text.secondary' }}>“{task.note}”</Box>}</Box>
          <Box sx={{ color: 'text.secondary', fontSize: 13, whiteSpace: 'nowrap' }}><Moment at={task.openedAt} /></Box>
          {aside ? <Button variant="outlined" onClick={() => void post(`/tasks/${task.id}/take-back`).then(() => tell('Back in the queue.'), warn)}>Take back</Button> : <Box sx={{ fontSize: 13, color: 'text.secondary', whiteSpace: 'nowrap' }}>{task.question ? task.title : `${task.doubts} ${task.doubts === 1 ? 'value' : 'values'}`}</Box>}
        </Box>
      ))}
    </Box>
  );
}
