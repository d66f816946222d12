import type { Queries } from '@/store/database';
import { dropWaitingFact, moveRun } from '@/store/queries/runs';
import { moveTask, tasksAbout } from '@/store/queries/tasks';

/** What was missing is there: every run that waits for it does its step again. Returns how many. */
export async function supplied(tx: Queries, about: string, by: string): Promise<number> {
  let count = 0;
  for (const task of await tasksAbout(tx, about)) {
    if (!(await moveTask(tx, task.id, { from: ['open', 'set aside'], to: 'done', by, note: 'Supplied' }))) continue;
    await dropWaitingFact(tx, { runId: task.runId, stepId: task.stepId, taskId: task.id });
    await moveRun(tx, task.runId, 'waiting', 'queued');
    count += 1;
  }
  return count;
}
