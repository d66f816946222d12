import type { CellState, RunDetail, RunStepView, RunSummary, RunTally, StepView, TallyCell } from '@/contracts/api';
import { eachStep, type PipelineDefinition } from '@/core/pipeline/definition';
import type { StepFact, StepResult } from '@/core/pipeline/facts';
import { knownSoFar, stepsNotTaken } from '@/core/pipeline/planner';
import { sentenceOf, shortName, type NameOf } from '@/core/pipeline/sentence';
import type { Failure } from '@/core/resilience/failure';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition, listDefinitions } from '@/store/queries/definitions';
import { deliveriesOf } from '@/store/queries/deliveries';
import { allLists } from '@/store/queries/lists';
import type { PageOfList } from '@/store/queries/documents';
import { attemptsOf, countByState, dropFailedFacts, factFrom, factRowsOf, factStatesOf, listRuns, moveRun, runById, type FactRow, type RunFilter, type RunRow } from '@/store/queries/runs';
import { Refusal, type Services } from './context';
import { inputOf } from './step-input';
import { describeDocument } from './documents';

/** The steps of a pipeline for a screen, with names instead of keys. */
export function stepViews(pipeline: PipelineDefinition, nameOf: NameOf): StepView[] {
  return [...eachStep(pipeline.steps)].map(({ step, depth, way }) => ({ id: step.id, do: step.do, depth, way: way ?? null, name: shortName(step), sentence: sentenceOf(step, nameOf) }));
}

export async function namesOf(services: Services): Promise<NameOf> {
  const [kinds, lists] = await Promise.all([listDefinitions(services.store.db, 'kind'), allLists(services.store.db)]);
  const names = { kind: new Map(kinds.map(({ key, name }) => [key, name])), list: new Map(lists.map(({ key, name }) => [key, name])) };
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
  const known = new Map(facts.map((fact) => [fact.stepId, fact]));
  const untaken = untakenFrom(pipeline, known);
  return [...eachStep(pipeline.steps)].map(({ step }) => {
    const fact = known.get(step.id);
    const state = cellState(fact?.state ?? null, run, step.id, untaken.has(step.id), fact?.made ?? null);
    return { step: step.id, state, text: fact ? glimpseText(fact) : '' };
  });
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
  if (fact === 'failed') return run.state === 'stranded' || run.state === 'given up' ? 'stranded' : 'retrying';
  if (untaken) return 'not taken';
  return run.state === 'working' && run.atStep === stepId ? 'working' : 'ahead';
}

function glimpseText(fact: FactGlimpse): string {
  if (fact.state === 'failed') return `${fact.attempts} tries`;
  if (fact.state === 'waiting') return 'asked';
  switch (fact.made as StepResult['made'] | null) {
    case 'findings':
      return fact.trusted === '1' || fact.trusted === 'true' ? 'sure' : 'look';
    case 'choice':
      return fact.name ?? '';
    case 'rows':
      return `${fact.rows} ${fact.rows === '1' ? 'row' : 'rows'}`;
    case 'answer':
      return 'answered';
    case 'no question':
      return 'straight';
    case 'reading':
      return 'read';
    case 'notes':
      return 'noted';
    case 'stop':
      return 'stopped';
    case null:
      return '';
  }
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
  const inputBefore = (stepId: string) => {
    const step = definitions.get(stepId);
    // Facts of this step and of those after it were not known when it was done.
    const order = [...definitions.keys()];
    const earlier = new Map([...known].filter(([id]) => order.indexOf(id) < order.indexOf(stepId)));
    return step ? inputOf(step, knownSoFar(pipeline.definition, earlier), { id: run.documentId, fileName: documentDetail.fileName, receivedAt: documentDetail.receivedAt, sender: documentDetail.sender }, documentDetail.pages.length) : [];
  };
  const steps = stepViews(pipeline.definition, nameOf).map((view): RunStepView => {
    const fact = byStep.get(view.id);
    const delivery = deliveries.find((candidate) => candidate.stepId === view.id);
    return {
      ...view,
      ...stepFacts(fact, layoutName),
      input: fact ? inputBefore(view.id) : [],
      state: cellState(fact?.state ?? null, run, view.id, untaken.has(view.id), (fact?.result as StepResult | null)?.made ?? null),
      failed: attempts.filter((attempt) => attempt.stepId === view.id).map((attempt) => ({ number: attempt.number, message: (attempt.failure as Failure).message, at: isoMoment(attempt.recordedAt), nextAt: attempt.nextAt === null ? null : isoMoment(attempt.nextAt) })),
      delivery: delivery ? { key: delivery.key, target: delivery.target, state: delivery.state, rows: delivery.rows, plannedAt: isoMoment(delivery.plannedAt), confirmedAt: delivery.confirmedAt === null ? null : isoMoment(delivery.confirmedAt) } : null,
    };
  });
  return { ...runSummary(run), pipelineName: pipeline.name, finishedAt: run.finishedAt === null ? null : isoMoment(run.finishedAt), steps, documentDetail, document: { id: documentDetail.id, fileName: documentDetail.fileName, sender: documentDetail.sender, subject: documentDetail.subject } };
}

function stepFacts(fact: FactRow | undefined, layoutName: (key: string) => string) {
  const result = (fact?.result ?? null) as StepResult | null;
  return {
    text: result ? resultText(result, layoutName) : '',
    attempts: fact?.attempts ?? 0,
    tookMs: fact?.tookMs ?? null,
    recordedAt: fact ? isoMoment(fact.recordedAt) : null,
    result,
    failure: fact?.failure ? (fact.failure as Failure).message : null,
    taskId: fact?.taskId ?? null,
  };
}

/** What a step made, in a sentence. */
export function resultText(result: StepResult, layoutName: (key: string) => string): string {
  switch (result.made) {
    case 'reading': {
      const found = Object.values(result.reading.fields).filter((cell) => cell.value !== null).length;
      const rows = Object.values(result.reading.tables).reduce((sum, table) => sum + table.length, 0);
      return result.reading.layout === null ? 'No known layout was recognised.' : `Recognised as a paper of ${layoutName(result.reading.layout)}: ${found} fields and ${rows} rows found.`;
    }
    case 'findings':
      return result.trusted ? 'Every check passes and every value is sure enough.' : `${result.doubts.length} ${result.doubts.length === 1 ? 'value needs' : 'values need'} a look: ${result.doubts.slice(0, 3).map((doubt) => doubt.label).join(', ')}${result.doubts.length > 3 ? ' …' : ''}.`;
    case 'no question':
      return 'Nothing to ask; went straight through.';
    case 'answer':
      return `Accepted by ${result.by}${result.changed.length > 0 ? `, ${result.changed.length} ${result.changed.length === 1 ? 'value' : 'values'} changed` : ' as it was'}${result.note ? `: ${result.note}` : ''}.`;
    case 'choice':
      return `Took the way “${result.name}”.`;
    case 'notes':
      return Object.entries(result.values).map(([name, value]) => `${name} = “${value}”`).join(', ');
    case 'rows':
      return `Wrote ${result.rows} ${result.rows === 1 ? 'row' : 'rows'} to ${result.target}${result.left > 0 ? `, left out ${result.left} that ${result.left === 1 ? 'was' : 'were'} there already` : ''}.`;
    case 'stop':
      return result.reason;
  }
}

/** Set a stranded run going again from where it stands, with its whole budget. */
export async function refloat(services: Services, actor: Actor, id: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveRun(tx, id, 'stranded', 'queued'))) throw new Refusal('conflict', 'Only a stranded run can be refloated; this one is not, or not any more.');
    await dropFailedFacts(tx, id);
    await noteAct(tx, actor, { act: 'refloated', on: ['run', id] });
  });
}

/** Leave a stranded run for good. What was written stays written. */
export async function giveUp(services: Services, actor: Actor, id: string, reason: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await moveRun(tx, id, 'stranded', 'given up'))) throw new Refusal('conflict', 'Only a stranded run can be given up; this one is not, or not any more.');
    await noteAct(tx, actor, { act: 'given up', on: ['run', id], detail: { reason } });
  });
}
