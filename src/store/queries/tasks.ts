import { and, asc, eq, inArray, sql } from 'drizzle-orm';
import type { Question } from '@/core/pipeline/facts';
import type { Readings } from '@/core/reading/reading';
import { document, task } from '../schema';
import { matched, now, type Queries } from '../database';
import type { TaskState } from '../states';

export type TaskRow = typeof task.$inferSelect;

export type NewTask = Pick<TaskRow, 'id' | 'runId' | 'stepId' | 'documentId' | 'title' | 'doubts' | 'reason'> & { readonly question?: Question | undefined; readonly about?: string | undefined };

export async function insertTask(tx: Queries, values: NewTask): Promise<void> {
  await tx.insert(task).values({ ...values, state: 'open', revision: 0, draft: null, openedAt: now, updatedAt: now });
}

/** Tasks that wait for the same thing; one answer helps them all. */
export const tasksAbout = (db: Queries, about: string): Promise<TaskRow[]> => db.select().from(task).where(and(eq(task.about, about), inArray(task.state, ['open', 'set aside']))).orderBy(asc(task.id)).limit(5_000);

export async function taskById(db: Queries, id: string): Promise<TaskRow | null> {
  const [row] = await db.select().from(task).where(eq(task.id, id)).limit(1);
  return row ?? null;
}

/** Oldest first: what came first is looked at first. At most 500. */
export const listTasks = (db: Queries, states: readonly TaskState[]) =>
  db.select({ task, fileName: document.fileName, sender: document.sender, subject: document.subject, receivedAt: document.receivedAt }).from(task).innerJoin(document, eq(document.id, task.documentId)).where(inArray(task.state, [...states])).orderBy(asc(task.openedAt), asc(task.id)).limit(500);

/** Keep work in progress; false when somebody else changed the task since `revision`. */
export async function saveDraft(tx: Queries, id: string, revision: number, draft: Readings): Promise<boolean> {
  const result = await tx.update(task).set({ draft, revision: sql`${task.revision} + 1`, updatedAt: now }).where(and(eq(task.id, id), eq(task.revision, revision), inArray(task.state, ['open', 'set aside'])));
  return matched(result) === 1;
}

export interface TaskMove {
  readonly from: readonly TaskState[];
  readonly to: TaskState;
  readonly by: string;
  readonly note?: string | null;
}

/** False when the task is in none of the states it may be moved from. */
export async function moveTask(tx: Queries, id: string, move: TaskMove): Promise<boolean> {
  const result = await tx.update(task).set({ state: move.to, closedBy: move.by, note: move.note ?? null, revision: sql`${task.revision} + 1`, updatedAt: now }).where(and(eq(task.id, id), inArray(task.state, [...move.from])));
  return matched(result) === 1;
}

export async function countTasks(db: Queries): Promise<Record<'open' | 'set aside', number>> {
  const rows = await db.select({ state: task.state, n: sql<number>`COUNT(*)` }).from(task).where(inArray(task.state, ['open', 'set aside'])).groupBy(task.state);
  const count = (state: TaskState) => Number(rows.find((row) => row.state === state)?.n ?? 0);
  return { open: count('open'), 'set aside': count('set aside') };
}
