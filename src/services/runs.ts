import type { CellState, LineView, StrandedView, RunDetail, RunStepView, RunSummary, RunTally, StepView, TallyCell } from '@/contracts/api';
import { eachStep, type PipelineDefinition } from '@/core/pipeline/definition';
import { partsOf, type StepFact, type StepResult } from '@/core/pipeline/facts';
import { knownSoFar, stepsNotTaken } from '@/core/pipeline/planner';
import { sentenceOf, shortName, type NameOf } from '@/core/pipeline/catalogue';
import type { Failure } from '@/core/resilience/failure';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition, listDefinitions } from '@/store/queries/definitions';
import { deliveriesOf } from '@/store/queries/deliveries';
import { listConnections } from '@/store/queries/connections';
import { allLists } from '@/store/queries/lists';
import { documentById, type PageOfList } from '@/store/queries/documents';
import { attemptsOf, countByState, dropFactsOf, dropFailedFacts, factFrom, factRowsOf, factStatesOf, hurry, listRuns, moveRun, runById, strandedGroups, strandedIn, type GroupKey, type FactRow, type RunFilter, type RunRow } from '@/store/queries/runs';
import { Refusal, type Services } from './context';
import { inputOf } from './step-input';
import { describeDocument } from './documents';
import { cancelJobsOf } from './service-jobs';
import { glimpseText, resultText } from './step-text';

/** The steps of a pipeline for a screen, with names instead of keys. */
export function stepViews(pipeline: PipelineDefinition, nameOf: NameOf): StepView[] {
  return [...eachStep(pipeline.steps)].map(({ step, depth, way }) => ({ id: step.id, do: step.do, depth, way: way ?? null, name: shortName(step), sentence: sentenceOf(step, nameOf) }));
}

export async function namesOf(services: Services): Promise<NameOf> {
  const { db } = services.store;
  const named = (rows: readonly { readonly key: string; readonly name: string }[]) => new Map(rows.map(({ key, name }) => [key, name]));
  const [kind, list, pipeline, connection] = await Promise.all([listDefinitions(db, 'kind'), allLists(db), listDefinitions(db, 'pipeline'), listConnections(db)]);
  const names = { kind: named(kind), list: named(list), pipeline: named(pipeline), connection: named(connection) };
  return (type, key) => names[type].get(key) ?? key;
}

/** Runs as a tally: a row per run, a column per step of the newest version of the pipeline looked at. */
export async function tallyRuns(services: Services, filter: RunFilter, page: PageOfList): Promise<RunTally> {
  const { db } = services.store;
  const [{ rows, total }, counts, nameOf] = await Promise.all([listRuns(db, filter, page), countByState(db), namesOf(services)]);
  const key = filter.pipeline ?? rows[0]?.run.pipelineKey;
  const newest = key === undefined ? null : await findDefinition(db, 'pipeline', key);
  const facts = await factStatesOf(db, rows.map((row) => row.run.id));
  const summaries = rows.map(async ({ run, fileName, sender, subject }): Promise<RunSummary> => {
    const pipeline = await services.pinned('pipeline', run.pipelineKey, run.pipelineVersion);
    const own = facts.filter((fact) => fact.runId === run.id);
    return { ...runSummary(run), document: { id: run.documentId, fileName, sender, subject }, cells: pipeline ? cellsOf(pipeline.definition, run, own) : [] };
  });
  return { rows: await Promise.all(summaries), total, offset: page.offset, counts, steps: newest ? stepViews(newest.definition, nameOf) : [] };
}

type RunHead = Omit<RunSummary, 'document' | 'cells'>;

function runSummary(run: RunRow): RunHead {
  return {
    id: run.id,
    state: run.state,
    pipeline: { key: run.pipelineKey, version: run.pipelineVersion },
    step: run.atStep,
    failure: run.failure === null ? null : (run.failure as Failure).message,
    stopped: run.stopped,
    dueAt: isoMoment(run.dueAt),
    createdAt: isoMoment(run.createdAt),
    updatedAt: isoMoment(run.updatedAt),
  };
}

type FactGlimpse = Awaited<ReturnType<typeof factStatesOf>>[number];

function cellsOf(pipeline: PipelineDefinition, run: RunRow, facts: readonly FactGlimpse[]): TallyCell[] {
  const byStep = new Map<string, FactGlimpse[]>();
  for (const fact of facts) byStep.set(partsOf(fact.stepId).step, [...(byStep.get(partsOf(fact.stepId).step) ?? []), fact]);
  const untaken = untakenFrom(pipeline, new Map(facts.map((fact) => [fact.stepId, fact])));
  return [...eachStep(pipeline.steps)].map(({ step }) => {
    const own = byStep.get(step.id) ?? [];
    const [fact] = own;
    if (own.length > 1 || (fact && partsOf(fact.stepId).line !== null)) return { step: step.id, ...linesCell(run, own) };
    return { step: step.id, state: cellState(fact?.state ?? null, run, step.id, untaken.has(step.id), fact?.made ?? null), text: fact ? glimpseText(fact) : '' };
  });
}

/** The lines of a step in one cell: the state that needs somebody most, and how many are done. */
function linesCell(run: RunRow, facts: readonly FactGlimpse[]): { state: CellState; text: string } {
  const states = facts.map((fact) => cellState(fact.state, run, partsOf(fact.stepId).step, false, fact.made));
  const state = (['stranded', 'waiting', 'retrying', 'working'] as const).find((candidate) => states.includes(candidate)) ?? 'done';
  return { state, text: `${states.filter((each) => each === 'done' || each === 'passed').length} of ${states.length}` };
}

/** Only the names of the ways are at hand here; they tell which branch was taken. */
function untakenFrom(pipeline: PipelineDefinition, known: ReadonlyMap<string, FactGlimpse>): ReadonlySet<string> {
  const facts = new Map<string, StepFact>();
  for (const { step } of eachStep(pipeline.steps)) {
    const fact = known.get(step.id);
    if (step.do !== 'branch' || fact?.made !== 'choice') continue;
    const way = step.ways.findIndex((candidate) => candidate.name === fact.name);
    facts.set(step.id, { state: 'done', result: { made: 'choice', way: way < 0 ? 'else' : way, name: fact.name ?? '' } });
  }
  return stepsNotTaken(pipeline, facts);
}

function cellState(fact: FactGlimpse['state'] | null, run: RunRow, stepId: string, untaken: boolean, made: string | null): CellState {
  if (fact === 'done') return made === 'no question' ? 'passed' : 'done';
  if (fact === 'waiting') return 'waiting';
  if (fact === 'paused') return 'resting';
  if (fact === 'failed') return run.state === 'stranded' || run.state === 'given up' ? 'stranded' : 'retrying';
  if (untaken) return 'not taken';
  return run.state === 'working' && run.atStep === stepId ? 'working' : 'ahead';
}

export async function describeRun(services: Services, id: string): Promise<RunDetail> {
  const { db } = services.store;
  const run = await runById(db, id);
  if (!run) throw new Refusal('not-found', `There is no run ${id}.`);
  const [pipeline, facts, attempts, deliveries, nameOf, documentDetail] = await Promise.all([services.pinned('pipeline', run.pipelineKey, run.pipelineVersion), factRowsOf(db, [id]), attemptsOf(db, id), deliveriesOf(db, id), namesOf(services), describeDocument(services, run.documentId)]);
  if (!pipeline) throw new Refusal('not-found', `Version ${run.pipelineVersion} of pipeline “${run.pipelineKey}” is not there.`);
  const layoutName = (key: string) => documentDetail.kindDefinition?.layouts.find((layout) => layout.key === key)?.name ?? key;
  const byStep = new Map(facts.map((fact) => [fact.stepId, fact]));
  const known = new Map(facts.map((fact) => [fact.stepId, factFrom(fact)]));
  const untaken = stepsNotTaken(pipeline.definition, known);
  const definitions = new Map([...eachStep(pipeline.definition.steps)].map(({ step }) => [step.id, step]));
  const inputBefore = async (stepId: string) => {
    const step = definitions.get(stepId);
    // Facts of this step and of those after it were not known when it was done.
    const order = [...definitions.keys()];
    const earlier = new Map([...known].filter(([id]) => order.indexOf(partsOf(id).step) < order.indexOf(stepId)));
    const document = { id: run.documentId, fileName: documentDetail.fileName, receivedAt: documentDetail.receivedAt, sender: documentDetail.sender };
    return step ? inputOf(step, { known: knownSoFar(pipeline.definition, earlier), document }, documentDetail.pages.length) : [];
  };
  const steps = await Promise.all(stepViews(pipeline.definition, nameOf).map(async (view): Promise<RunStepView> => {
    const fact = byStep.get(view.id);
    const lines = linesOf(facts, run, view.id, layoutName);
    const delivery = deliveries.find((candidate) => partsOf(candidate.stepId).step === view.id);
    return {
      ...view,
      ...stepFacts(fact, layoutName),
      input: fact ? await inputBefore(view.id) : [],
      ...(lines.length > 0 ? { text: linesText(lines) } : {}),
      state: lines.length > 0 ? stateOfLines(lines) : cellState(fact?.state ?? null, run, view.id, untaken.has(view.id), (fact?.result as StepResult | null)?.made ?? null),
      lines,
      failed: attempts.filter((attempt) => partsOf(attempt.stepId).step === view.id).slice(-MOST_ATTEMPTS).map((attempt) => ({ number: attempt.number, message: (attempt.failure as Failure).message, at: isoMoment(attempt.recordedAt), nextAt: attempt.nextAt === null ? null : isoMoment(attempt.nextAt) })),
      delivery: delivery ? { key: delivery.key, target: delivery.target, state: delivery.state, rows: delivery.rows, plannedAt: isoMoment(delivery.plannedAt), confirmedAt: delivery.confirmedAt === null ? null : isoMoment(delivery.confirmedAt) } : null,
    };
  }));
  return { ...runSummary(run), pipelineName: pipeline.name, finishedAt: run.finishedAt === null ? null : isoMoment(run.finishedAt), steps, documentDetail, document: { id: documentDetail.id, fileName: documentDetail.fileName, sender: documentDetail.sender, subject: documentDetail.subject } };
}

/** Failed attempts that are shown; a line of thousands may have failed thousands of times. */
const MOST_ATTEMPTS = 50;
/** Lines that are shown one by one; those that need somebody come first. */
const MOST_LINES = 200;
const LINE_ORDER: readonly CellState[] = ['stranded', 'waiting', 'retrying', 'resting', 'working', 'done', 'passed'];

function linesOf(facts: readonly FactRow[], run: RunRow, stepId: string, layoutName: (key: string) => string): LineView[] {
  const own = facts.filter((fact) => partsOf(fact.stepId).step === stepId && partsOf(fact.stepId).line !== null);
  const lines = own.map((fact): LineView => {
    const result = (fact.state === 'done' ? fact.result : null) as StepResult | null;
    return { line: partsOf(fact.stepId).line ?? 0, state: cellState(fact.state, run, stepId, false, result?.made ?? null), text: result ? resultText(result, layoutName) : fact.failure ? (fact.failure as Failure).message : '', taskId: fact.taskId };
  });
  return lines.sort((a, b) => LINE_ORDER.indexOf(a.state) - LINE_ORDER.indexOf(b.state) || a.line - b.line).slice(0, MOST_LINES);
}

const stateOfLines = (lines: readonly LineView[]): CellState => lines[0]?.state ?? 'ahead';
const linesText = (lines: readonly LineView[]): string => `${lines.filter(({ state }) => state === 'done' || state === 'passed').length} of ${lines.length} lines done.`;

const pauseText = (fact: FactRow): string => {
  const { until } = (fact.result ?? {}) as { until?: string };
  return until === undefined ? 'Comes back to it later.' : `Waits until ${until.slice(0, 16).replace('T', ' ')} UTC.`;
};

function stepFacts(fact: FactRow | undefined, layoutName: (key: string) => string) {
  const result = (fact?.state === 'done' ? fact.result : null) as StepResult | null;
  return {
    text: result ? resultText(result, layoutName) : fact?.state === 'paused' ? pauseText(fact) : '',
    attempts: fact?.attempts ?? 0,
    tookMs: fact?.tookMs ?? null,
    recordedAt: fact ? isoMoment(fact.recordedAt) : null,
    result,
    failure: fact?.failure ? (fact.failure as Failure).message : null,
    taskId: fact?.taskId ?? null,
  };
}

/** Set a stranded run going again from where it stands, with its whole budget; or from an earlier step, whose results are made anew. */
export async function refloat(services: Services, actor: Actor, id: string, from: string | null = null): Promise<void> {
  const again = from === null ? [] : await stepsFrom(services, id, from);
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveRun(tx, id, 'stranded', 'queued'))) throw new Refusal('conflict', 'Only a stranded run can be refloated; this one is not, or not any more.');
    await dropFailedFacts(tx, id);
    if (again.length > 0) await dropFactsOf(tx, id, again);
    await noteAct(tx, actor, { act: 'refloated', on: ['run', id], ...(from === null ? {} : { detail: { from } }) });
  });
}

/** A step and those behind it. Refused where one of them has written something: what is written is never written twice. */
async function stepsFrom(services: Services, id: string, from: string): Promise<string[]> {
  const run = await runById(services.store.db, id);
  const pipeline = run ? await services.pinned('pipeline', run.pipelineKey, run.pipelineVersion) : null;
  const order = pipeline ? [...eachStep(pipeline.definition.steps)].map(({ step }) => step.id) : [];
  if (!order.includes(from)) throw new Refusal('not-found', `This run has no step “${from}”.`);
  const steps = order.slice(order.indexOf(from));
  const facts = await factRowsOf(services.store.db, [id]);
  const wrote = facts.find((fact) => fact.state === 'done' && steps.includes(partsOf(fact.stepId).step) && ['rows', 'sent', 'started'].includes((fact.result as StepResult).made));
  if (wrote) throw new Refusal('conflict', `“${partsOf(wrote.stepId).step}” has written already, and would write again. Refloat from a later step, or from where it stands.`);
  return steps;
}

/** Runs of one call; the rest of a larger group is taken by the next. */
const MOST_AT_ONCE = 2_000;

/** What is stranded, grouped by where and why. */
export async function describeStranded(services: Services): Promise<StrandedView[]> {
  const [groups, pipelines] = await Promise.all([strandedGroups(services.store.db), listDefinitions(services.store.db, 'pipeline')]);
  return groups.map((group) => {
    const pipeline = pipelines.find((candidate) => candidate.key === group.pipelineKey);
    const step = pipeline && [...eachStep(pipeline.definition.steps)].find(({ step: candidate }) => candidate.id === group.atStep)?.step;
    return { pipeline: group.pipelineKey, pipelineName: pipeline?.name ?? group.pipelineKey, step: group.atStep, stepName: step ? shortName(step) : group.atStep, code: group.code, message: group.message, runs: group.runs, since: isoMoment(group.since) };
  });
}

/** Set every stranded run of a group going again. Returns how many. */
export async function refloatGroup(services: Services, actor: Actor, group: GroupKey): Promise<number> {
  return overGroup(services, group, (id) => refloat(services, actor, id));
}

/** Leave every stranded run of a group for good. Returns how many. */
export async function giveUpGroup(services: Services, actor: Actor, group: GroupKey, reason: string): Promise<number> {
  return overGroup(services, group, (id) => giveUp(services, actor, id, reason));
}

async function overGroup(services: Services, group: GroupKey, act: (id: string) => Promise<void>): Promise<number> {
  let count = 0;
  for (const id of await strandedIn(services.store.db, group, MOST_AT_ONCE)) {
    // Somebody else may have taken a run up in the meantime; then it is not stranded any more.
    const done = await act(id).then(() => true, (error: unknown) => (error instanceof Refusal ? false : Promise.reject(error as Error)));
    if (done) count += 1;
  }
  return count;
}

/** Make the next attempt of a run now instead of when its pause is over. */
export async function retryNow(services: Services, actor: Actor, id: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await hurry(tx, id))) throw new Refusal('conflict', 'This run does not wait for another attempt, or not any more.');
    await noteAct(tx, actor, { act: 'tried at once', on: ['run', id] });
  });
}

/** Leave a stranded run for good. What was written stays written. */
export async function giveUp(services: Services, actor: Actor, id: string, reason: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveRun(tx, id, 'stranded', 'given up'))) throw new Refusal('conflict', 'Only a stranded run can be given up; this one is not, or not any more.');
    await noteAct(tx, actor, { act: 'given up', on: ['run', id], detail: { reason } });
  });
  const run = await runById(services.store.db, id);
  const row = run ? await documentById(services.store.db, run.documentId) : null;
  if (row) await cancelJobsOf(services, row.sha256);
}
