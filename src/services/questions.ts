import type { AnswerField } from '@/core/pipeline/definition';
import type { Given, Memory, Question, StepResult } from '@/core/pipeline/facts';
import { matchesFrom } from '@/core/pipeline/match';
import { PLAIN_LOCALE, normalise } from '@/core/value/normalise';
import { inTransaction, type Queries } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { confirmDelivery, dropDelivery } from '@/store/queries/deliveries';
import { dropWaitingFact, moveRun, pauseFact } from '@/store/queries/runs';
import { moveTask, taskById, type TaskRow } from '@/store/queries/tasks';
import { ONCE } from '@/engine/outside';
import { saveSecret } from './connections';
import { Refusal, type Services } from './context';
import { close, goneOn } from './desk';
import { listsFor } from './reference-lists';
import { sealedOnce } from './outside';
import { supplied } from './supplied';

/** What a person says: a choice, or the values of a small form, with a reason where one is given. */
export interface Answer {
  readonly value: string | null;
  readonly values: Given;
  readonly note: string | null;
}

type Asked<A extends Question['asks']> = Extract<Question, { asks: A }>;

/** Answer a question; the run goes on with the answer, and where others wait for the same, they too. */
export async function answerQuestion(services: Services, actor: Actor, id: string, answer: Answer): Promise<void> {
  const task = await taskById(services.store.db, id);
  const question = task?.question as Question | null | undefined;
  if (!task || !question) throw new Refusal('not-found', 'There is no such question.');
  const settle = (result: StepResult, alongside?: (tx: Queries) => Promise<void>) => close(services, actor, task, { to: 'done', act: 'answered', note: answer.note, revision: null, result, ...(alongside ? { alongside } : {}) });
  switch (question.asks) {
    case 'kind':
      return settle(await kindAnswer(services, actor, question, answer));
    case 'row':
      return settle(await rowAnswer(services, actor, question, answer));
    case 'approval':
      return settle(approvalAnswer(actor, question, answer));
    case 'form':
      return settle({ made: 'given', from: 'the desk', values: formAnswer(question.answers, answer.values), by: actor.name });
    case 'match':
      return settle(matchAnswer(actor, question, answer));
    case 'delivery':
      return answer.value === 'arrived' ? settle({ made: 'sent', target: question.target, values: {}, by: actor.name }, async (tx) => void (await confirmDelivery(tx, question.key, { rows: 1, left: 0, by: actor.name }))) : sendAgain(services, actor, task, question, answer);
    case 'supply':
      return supplyAnswer(services, actor, task, question, answer);
  }
}

async function kindAnswer(services: Services, actor: Actor, question: Asked<'kind'>, { value }: Answer): Promise<StepResult> {
  // Any published kind will do: the right one may be among those that looked unlikely.
  const kind = value === null ? null : await services.kind(value);
  if (!kind) throw new Refusal('bad-request', `There is no published kind “${value ?? ''}”.`);
  const reasons = question.options.find((option) => option.value === value)?.reasons ?? [];
  return { made: 'kind', kind: kind.key, name: kind.name, reasons, by: actor.name };
}

async function rowAnswer(services: Services, actor: Actor, { list: key }: Asked<'row'>, { value }: Answer): Promise<StepResult> {
  if (value === null || value === '') return { made: 'row', list: key, values: null, by: actor.name };
  const list = (await listsFor(services, [key])).get(key);
  const row = list?.rows.find((candidate) => candidate[list.keyColumn] === value);
  if (!row) throw new Refusal('bad-request', `“${value}” is no key of the list “${list?.name ?? key}”. Choose one that is there, or go on without.`);
  return { made: 'row', list: key, values: row, by: actor.name };
}

/** A row of theirs by its place for each of ours, counted from 0; empty: it belongs to nothing. What is not said stays as proposed. */
function matchAnswer(actor: Actor, { match }: Asked<'match'>, { values }: Answer): StepResult {
  const chosen = match.lines.map(({ row }, index) => {
    const said = values[String(index)];
    if (said === undefined) return row;
    if (said === null || said === '') return null;
    if (!/^\d{1,5}$/.test(said) || !match.rows[Number(said)]) throw new Refusal('bad-request', `Row ${index + 1}: there is no “${said}” to match with; there are ${match.rows.length}.`);
    return Number(said);
  });
  const twice = chosen.findIndex((row, index) => row !== null && chosen.indexOf(row) !== index);
  if (twice >= 0) throw new Refusal('bad-request', `Rows ${chosen.indexOf(chosen[twice] ?? null) + 1} and ${twice + 1} are matched with the same one. Each is used once; choose another for one of them.`);
  return matchesFrom(match, { chosen, by: actor.name });
}

function approvalAnswer(actor: Actor, { rejected }: Asked<'approval'>, { value, note }: Answer): StepResult {
  if (value !== 'approved' && value !== 'rejected') throw new Refusal('bad-request', 'Say “approved” or “rejected”.');
  if (value === 'rejected' && !note) throw new Refusal('bad-request', 'Say why it is rejected.');
  if (value === 'rejected' && rejected === 'stop') return { made: 'stop', reason: `Rejected by ${actor.name}: ${note ?? ''}`.slice(0, 400) };
  return { made: 'given', from: 'the desk', values: { decision: value, by: actor.name, note }, by: actor.name };
}

/** Longest text of one answer. */
const MOST_CHARACTERS = 2_000;

function formAnswer(fields: readonly AnswerField[], values: Given): Given {
  return Object.fromEntries(fields.map((field) => [field.key, oneAnswer(field, values[field.key] ?? null)]));
}

function oneAnswer(field: AnswerField, given: string | null): string | null {
  const text = given?.trim() ?? '';
  if (text === '') {
    if (field.required) throw new Refusal('bad-request', `“${field.label}” is needed.`);
    return null;
  }
  if (text.length > MOST_CHARACTERS) throw new Refusal('bad-request', `“${field.label}” has ${text.length} characters; at most ${MOST_CHARACTERS} are kept.`);
  if (field.type === 'choice' && !(field.options ?? []).includes(text)) throw new Refusal('bad-request', `“${field.label}” must be one of ${(field.options ?? []).join(', ')}.`);
  const made = normalise(field.type, text, PLAIN_LOCALE);
  if (!made.ok) throw new Refusal('bad-request', `“${field.label}”: ${made.why}.`);
  return made.value;
}

/** It has not arrived: the step is done again, as if for the first time. */
async function sendAgain(services: Services, actor: Actor, task: TaskRow, question: Asked<'delivery'>, { value }: Answer): Promise<void> {
  if (value !== 'again') throw new Refusal('bad-request', 'Say “arrived” or “again”.');
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveTask(tx, task.id, { from: ['open', 'set aside'], to: 'done', by: actor.name, note: 'Send it again' }))) throw await goneOn(services, task.id);
    await dropWaitingFact(tx, { runId: task.runId, stepId: task.stepId, taskId: task.id });
    await dropDelivery(tx, question.key);
    await moveRun(tx, task.runId, 'waiting', 'queued');
    await noteAct(tx, actor, { act: 'sent again', on: ['task', task.id], detail: { run: task.runId, delivery: question.key } });
  });
}

/** What is missing is there now, for all that wait for it; or this one goes on in its own way, and the next asks again. */
async function supplyAnswer(services: Services, actor: Actor, task: TaskRow, question: Asked<'supply'>, { value, values }: Answer): Promise<void> {
  const { columns, credential } = question;
  if (value === 'without' && columns) return thisTime(services, actor, task, { note: `This time without ${columns.join(', ')}`, act: 'goes without', detail: { columns }, memory: { without: columns.join('\n') } });
  if ((value !== 'once' && value !== 'always') || credential === undefined) return doAgain(services, actor, question);
  const secret = values['secret'] ?? '';
  if (secret === '') throw new Refusal('bad-request', 'Type the key first.');
  if (value === 'always') return saveSecret(services, actor, credential, secret);
  return thisTime(services, actor, task, { note: `This time with another key for ${credential}`, act: 'goes with another key', detail: { connection: credential }, memory: { [ONCE]: sealedOnce(services, { connection: credential, secret }) } });
}

/** The step of this one run is done again, with something to remember. */
async function thisTime(services: Services, actor: Actor, task: TaskRow, { note, act, detail, memory }: { readonly note: string; readonly act: string; readonly detail: Readonly<Record<string, unknown>>; readonly memory: Memory }): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveTask(tx, task.id, { from: ['open', 'set aside'], to: 'done', by: actor.name, note }))) throw await goneOn(services, task.id);
    await pauseFact(tx, { runId: task.runId, stepId: task.stepId, taskId: task.id }, memory);
    await moveRun(tx, task.runId, 'waiting', 'queued');
    await noteAct(tx, actor, { act, on: ['task', task.id], detail: { run: task.runId, ...detail } });
  });
}

async function doAgain(services: Services, actor: Actor, { about }: Asked<'supply'>): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    const runs = await supplied(tx, about, actor.name);
    if (runs === 0) throw new Refusal('conflict', 'Nothing waits for this any more.');
    await noteAct(tx, actor, { act: 'done again', on: ['missing', about.slice(0, 100)], detail: { runs } });
  });
}
