import type { QuestionView, Review, TaskSummary } from '@/contracts/api';
import type { WorthAsking } from '@/contracts/workbench';
import { checkDocument } from '@/core/checking/check';
import { doubtsOf } from '@/core/checking/trust';
import type { Question, StepResult } from '@/core/pipeline/facts';
import { normaliseFor, type FieldDefinition, type KindDefinition } from '@/core/reading/kind';
import { cellPath, readingAt, type DocumentReading, type Readings } from '@/core/reading/reading';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { inTransaction, isoMoment, type Queries } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { documentById } from '@/store/queries/documents';
import { answerFact, moveRun, runById } from '@/store/queries/runs';
import { listTasks, moveTask, saveDraft, taskById, type TaskRow } from '@/store/queries/tasks';
import { noteMarks } from '@/store/queries/earlier';
import type { TaskState } from '@/store/states';
import { Refusal, type Services } from './context';
import { knownOf } from './documents';
import { elsewhereFor, marksOf } from './elsewhere';
import { paperOfDocument } from './papers';
import { worthAsking } from './remembered';
import { proposeSample } from './samples';

/** A longer list would make the desk slow to open; its checks are made when the document is accepted. */
const MOST_ROWS_SENT = 3_000;
const OPEN: readonly TaskState[] = ['open', 'set aside'];

/** What waits for somebody, oldest first. */
export async function deskQueue(services: Services, states: readonly TaskState[] = OPEN): Promise<TaskSummary[]> {
  return (await listTasks(services.store.db, states)).map(({ task, fileName, sender, subject }) => taskSummary(task, { fileName, sender, subject }));
}

function taskSummary(task: TaskRow, document: { fileName: string; sender: string | null; subject: string | null }): TaskSummary {
  return { id: task.id, title: task.title, state: task.state, doubts: task.doubts, question: task.question !== null, reason: task.reason, document: { id: task.documentId, ...document }, openedAt: isoMoment(task.openedAt), note: task.note };
}

/** Everything the desk shows of one task. */
export async function openReview(services: Services, id: string): Promise<Review> {
  const { task, kind, reading, read } = await requireTask(services, id);
  const { document, pages, ...around } = await surroundings(services, task);
  const readings = (task.draft as Readings | null) ?? read;
  const elsewhere = await elsewhereFor(services, kind, readings, { pages, documentId: document.id });
  const findings = checkDocument({ kind, layout: reading.layout, readings, pages, ...elsewhere });
  return {
    task: { ...taskSummary(task, document), revision: task.revision, runId: task.runId, closedBy: task.closedBy },
    kind, reading, readings, findings, pages,
    doubts: doubtsOf(kind, readings, findings),
    elsewhere: { earlier: elsewhere.earlier ?? [], lists: [...(elsewhere.lists?.values() ?? [])].filter((list) => list.rows.length <= MOST_ROWS_SENT) },
    ...around,
  };
}

/** What a task is about, and what waits before and after it. */
async function surroundings(services: Services, task: TaskRow) {
  const document = await documentById(services.store.db, task.documentId);
  if (!document) throw new Refusal('not-found', `The document of task ${task.id} is not there.`);
  const queue = (await listTasks(services.store.db, ['open'])).map((row) => row.task.id);
  const at = queue.indexOf(task.id);
  return { document, pages: (await paperOfDocument(services, document)).pages, previous: queue[at - 1] ?? null, next: at < 0 ? (queue[0] ?? null) : (queue[at + 1] ?? queue.find((other) => other !== task.id) ?? null) };
}

/** A task of the desk, whatever it asks. */
export async function openTask(services: Services, id: string): Promise<Review | QuestionView> {
  const task = await taskById(services.store.db, id);
  if (!task?.question) return openReview(services, id);
  const { document, ...around } = await surroundings(services, task);
  return { task: { ...taskSummary(task, document), revision: task.revision, runId: task.runId, closedBy: task.closedBy }, question: task.question as Question, ...around };
}

async function requireTask(services: Services, id: string): Promise<{ task: TaskRow; kind: KindDefinition; reading: DocumentReading; read: Readings }> {
  const task = await taskById(services.store.db, id);
  const run = task ? await runById(services.store.db, task.runId) : null;
  if (!task || !run) throw new Refusal('not-found', `There is no task ${id}.`);
  const known = await knownOf(services, run);
  const kind = known?.reading ? await services.kind(known.reading.kind) : null;
  if (!known?.reading || !kind) throw new Refusal('conflict', 'Nothing has been read of this document yet.');
  return { task, kind, reading: known.reading, read: known.readings };
}

export interface Work {
  readonly revision: number;
  readonly readings: Readings;
}

/** Keep work in progress. Returns the new revision. */
export async function keepDraft(services: Services, actor: Actor, id: string, work: Work): Promise<number> {
  const { kind } = await requireTask(services, id);
  refuseUnfit(kind, work.readings);
  await inTransaction(services.store.db, async (tx) => {
    if (!(await saveDraft(tx, id, work.revision, work.readings))) throw await goneOn(services, id);
    await noteAct(tx, actor, { act: 'draft kept', on: ['task', id] });
  });
  return work.revision + 1;
}

export async function goneOn(services: Services, id: string): Promise<Refusal> {
  const task = await taskById(services.store.db, id);
  const state = task?.state ?? 'gone';
  return new Refusal('conflict', state === 'open' || state === 'set aside' ? 'Somebody else has changed this document in the meantime. Load it again; your last change is not kept.' : `This document has been ${state === 'done' ? `accepted${task?.closedBy ? ` by ${task.closedBy}` : ''}` : state} already.`);
}

/** Every value a person gave must be in the form in which values are kept; the desk sends them so. */
function refuseUnfit(kind: KindDefinition, readings: Readings): void {
  for (const { field, path } of everyPath(kind, readings)) {
    const reading = readingAt(readings, path);
    if (!reading || reading.reader !== 'person' || reading.value === null) continue;
    const fit = normaliseFor(field, reading.value, PLAIN_LOCALE);
    if (!fit.ok || fit.value !== reading.value) throw new Refusal('bad-request', `${field.label}: ${fit.ok ? `“${reading.value}” should be sent as “${fit.value}”` : fit.why}.`);
  }
}

function* everyPath(kind: KindDefinition, readings: Readings): Generator<{ field: FieldDefinition; path: string }> {
  for (const field of kind.fields) yield { field, path: field.key };
  for (const table of kind.tables) {
    for (const row of (readings.tables[table.key] ?? []).keys()) for (const field of table.columns) yield { field, path: cellPath(table.key, row, field.key) };
  }
}

/** Accept the values; the run goes on by itself. Where a check still fails, a reason is wanted. Returns what may be worth remembering. */
export async function accept(services: Services, actor: Actor, id: string, work: Work & { readonly note: string | null }): Promise<WorthAsking[]> {
  const { task, kind, reading, read } = await requireTask(services, id);
  refuseUnfit(kind, work.readings);
  const document = await documentById(services.store.db, task.documentId);
  const pages = document ? (await paperOfDocument(services, document)).pages : [];
  const elsewhere = await elsewhereFor(services, kind, work.readings, { pages, documentId: task.documentId });
  const open = checkDocument({ kind, layout: reading.layout, readings: work.readings, pages, ...elsewhere }).filter((finding) => finding.severity === 'must fix');
  if (open.length > 0 && !work.note) throw new Refusal('conflict', `${open.length === 1 ? 'A check still fails' : `${open.length} checks still fail`}: ${open[0]?.text} Correct it, or accept with a reason.`);
  const changed = changedPaths(kind, read, work.readings);
  const marks = marksOf(kind, work.readings, pages, task.documentId);
  await close(services, actor, task, {
    to: 'done', act: 'accepted', note: work.note, revision: work.revision,
    result: { made: 'answer', task: id, by: actor.name, readings: work.readings, changed, ...(work.note ? { note: work.note } : {}) },
    alongside: async (tx) => {
      await noteMarks(tx, marks);
      if (changed.length > 0) await proposeSample(tx, kind, task.documentId, work.readings, actor.name);
    },
  });
  return worthAsking(services, kind, work.readings, changed);
}

/** Paths whose value is another than what was read, added and removed rows included. */
function changedPaths(kind: KindDefinition, before: Readings, after: Readings): string[] {
  const value = (readings: Readings, path: string): string | null => readingAt(readings, path)?.value ?? null;
  const paths = new Set([...everyPath(kind, before), ...everyPath(kind, after)].map(({ path }) => path));
  return [...paths].filter((path) => value(before, path) !== value(after, path));
}

/** Refuse the document; its run ends with the reason and writes nothing more. */
export async function refuse(services: Services, actor: Actor, id: string, reason: string): Promise<void> {
  const task = await taskById(services.store.db, id);
  if (!task) throw new Refusal('not-found', `There is no task ${id}.`);
  await close(services, actor, task, { to: 'refused', act: 'refused', note: reason, revision: null, result: { made: 'stop', reason: `Refused by ${actor.name}: ${reason}` } });
}

interface Closing {
  readonly to: 'done' | 'refused';
  readonly act: string;
  readonly note: string | null;
  /** The revision the decision was made on; null where it does not matter. */
  readonly revision: number | null;
  readonly result: StepResult;
  /** Written in the same transaction. */
  readonly alongside?: (tx: Queries) => Promise<void>;
}

/** Task, fact and run move together or not at all. */
export async function close(services: Services, actor: Actor, task: TaskRow, closing: Closing): Promise<void> {
  const sure = async (moved: Promise<boolean>): Promise<void> => {
    if (!(await moved)) throw await goneOn(services, task.id);
  };
  await inTransaction(services.store.db, async (tx: Queries) => {
    if (closing.revision !== null && (await taskById(tx, task.id))?.revision !== closing.revision) throw await goneOn(services, task.id);
    await sure(moveTask(tx, task.id, { from: OPEN, to: closing.to, by: actor.name, note: closing.note }));
    await sure(answerFact(tx, { runId: task.runId, stepId: task.stepId, taskId: task.id }, closing.result));
    // Another line of the run may be under way; then it is not waiting, and its worker sees the answer when it is done there.
    await moveRun(tx, task.runId, 'waiting', 'queued');
    await closing.alongside?.(tx);
    await noteAct(tx, actor, { act: closing.act, on: ['task', task.id], detail: { run: task.runId, ...(closing.note ? { note: closing.note } : {}) } });
  });
}

/** Keep it for later; it leaves the queue but not the desk. */
export async function setAside(services: Services, actor: Actor, id: string, note: string | null): Promise<void> {
  await shift(services, actor, id, { from: ['open'], to: 'set aside', note });
}

export async function takeBack(services: Services, actor: Actor, id: string): Promise<void> {
  await shift(services, actor, id, { from: ['set aside'], to: 'open', note: null });
}

async function shift(services: Services, actor: Actor, id: string, move: { from: readonly TaskState[]; to: TaskState; note: string | null }): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveTask(tx, id, { ...move, by: actor.name }))) throw await goneOn(services, id);
    await noteAct(tx, actor, { act: move.to, on: ['task', id], detail: move.note ? { note: move.note } : {} });
  });
}

