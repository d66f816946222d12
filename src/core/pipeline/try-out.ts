import type { Finding } from '@/core/checking/finding';
import { doubtsOf, isTrusted } from '@/core/checking/trust';
import type { KindDefinition } from '@/core/reading/kind';
import type { DocumentReading, Readings } from '@/core/reading/reading';
import type { Sorted } from '@/core/sorting/sort';
import type { Budget } from '@/core/resilience/backoff';
import { eachStep, type ApproveStep, type AskStep, type CallStep, type DeskStep, type LookUpStep, type MatchStep, type PipelineDefinition, type RowPlan, type Step, type StepKind } from './definition';
import { CAME, factId, type Given, type Known, type StepFact, type StepResult } from './facts';
import { matchesFrom, proposeMatch, recordsFor, unsureLines, unsureText, type RowsOf } from './match';
import { notesOf } from './notes';
import { knownSoFar, planNext, type Spot } from './planner';
import { chooseWay, fillIn, holds, planRows, valueOf, valuesOf, type DocumentFacts, type PlannedRow, type Scope } from './values';

/** What a try-out has read and looked up for it. Nothing here writes. */
export interface TryPorts {
  kind(key: string): Promise<KindDefinition | null>;
  sort(kinds: readonly string[] | null, sure: number | undefined): Promise<Sorted>;
  read(kind: KindDefinition): Promise<DocumentReading>;
  findings(kind: KindDefinition, readings: Readings, layout: string | null): Promise<readonly Finding[]>;
  /** The row of a list; null when it is not there. */
  row(step: LookUpStep, value: string | null): Promise<Given | null>;
  rows: RowsOf;
  /** Whether services that can be asked without harm are asked anew even where it is known what they answered before. */
  readonly asks: boolean;
  /** What a service answers now. */
  call(step: CallStep, scope: Scope): Promise<Given>;
  /** What the run would be given along; null: nothing. */
  came(): Promise<Given | null>;
  /** What a step got when this document really went through; null where it never did. `spot`: step, and within lines which of them. */
  kept(spot: string): Promise<Given | null>;
}

/** Rows that would be written, with the place they would go to. */
export interface WouldWrite {
  readonly target: string;
  readonly rows: readonly PlannedRow[];
}

export interface TriedStep {
  readonly step: string;
  /** Line counted from 0; null outside of lines. */
  readonly line: number | null;
  /** `would ask`: a person would be asked; the try-out goes on as if everything were accepted as it is. */
  readonly state: 'done' | 'would ask' | 'would write' | 'failed';
  readonly result: StepResult | null;
  readonly reason: string | null;
  readonly writes: readonly WouldWrite[];
}

export interface TryOut {
  readonly steps: readonly TriedStep[];
  /** Straight through to the end, without a person and without a failure. */
  readonly straight: boolean;
  readonly stopped: string | null;
  /** What was known in the end. */
  readonly known: Known;
}

/** A try-out makes one attempt of everything. */
const ONCE: Budget = { baseMs: 0, capMs: 0, attempts: 1, totalMs: 0 };
/** Lines of a document that are tried; the others would only take time. */
const MOST_LINES = 20;

/**
 * Send a document through a pipeline without writing anything: the planner of the engine over facts in memory, deliveries shown instead of sent.
 * `until`: the last step that is tried; null: all of them.
 */
export async function tryOut(pipeline: PipelineDefinition, document: DocumentFacts, ports: TryPorts, until: string | null = null): Promise<TryOut> {
  const behind = stepsBehind(pipeline, until);
  const came = await ports.came();
  const facts = new Map<string, StepFact>(came ? [[CAME, { state: 'done', result: { made: 'given', from: '', values: came } }]] : []);
  const steps: TriedStep[] = [];
  for (;;) {
    const next = planNext(pipeline, facts, ONCE);
    const far = next.next === 'do' && behind.has(next.step.id);
    if (next.next !== 'do' || far) return { steps, straight: (far || next.next === 'finished') && steps.every(({ state }) => state === 'done' || state === 'would write'), stopped: next.next === 'finished' ? next.stopped : null, known: knownSoFar(pipeline, facts) };
    const scope: Scope = { known: knownSoFar(pipeline, facts, next), document };
    const tried = await attempt(next, scope, ports).catch((error: unknown): TriedStep => ({ ...at(next), state: 'failed', result: null, reason: (error as Error).message, writes: [] }));
    steps.push(tried);
    facts.set(factId(next.step.id, next.line), tried.result ? { state: 'done', result: tried.result } : { state: 'failed', failure: { code: 'defect', message: tried.reason ?? '' }, attempts: 1, spentMs: 0 });
  }
}

/** Steps that stand behind one, in the order in which people read them. */
function stepsBehind(pipeline: PipelineDefinition, until: string | null): ReadonlySet<string> {
  const ids = [...eachStep(pipeline.steps)].map(({ step }) => step.id);
  return new Set(until !== null && ids.includes(until) ? ids.slice(ids.indexOf(until) + 1) : []);
}

const at = ({ step, line }: Spot) => ({ step: step.id, line });

interface Trial {
  readonly scope: Scope;
  readonly ports: TryPorts;
  readonly done: (result: StepResult, more?: Partial<TriedStep>) => TriedStep;
  /** See {@link TryPorts.kept}. */
  readonly kept: () => Promise<Given | null>;
}
type Done = Trial['done'];
type Trier<S extends Step = Step> = (step: S, trial: Trial) => Promise<TriedStep>;

function attempt(spot: Spot, scope: Scope, ports: TryPorts): Promise<TriedStep> {
  const done: Done = (result, more = {}) => ({ ...at(spot), state: 'done', result, reason: null, writes: [], ...more });
  return (TRIERS[spot.step.do] as Trier)(spot.step, { scope, ports, done, kept: () => ports.kept(spot.id) });
}

/** What each step kind makes of a document without writing or asking anybody. */
const TRIERS: { readonly [K in StepKind]: Trier<Extract<Step, { do: K }>> } = {
  sort: (step, { ports, done }) => sorted(step.kinds ?? null, step.sure, ports, done),
  read: async (step, { scope, ports, done }) => done({ made: 'reading', reading: await ports.read(await requireKind(step.kind ?? scope.known.kind, ports)) }),
  check: (_step, { scope, ports, done }) => checked(scope.known, ports, done),
  'look-up': (step, { scope, ports, done }) => lookedUp(step, scope, ports, done),
  match: (step, trial) => matched(step, trial),
  // Only what surely changes nothing over there is asked (RFC 9110, 9.2.1: GET is safe). Anything else is answered as it was when this
  // document really went through; where it never did, it is shown what would be sent.
  call: async (step, trial) => {
    if (step.method === 'GET' && trial.ports.asks) return trial.done({ made: 'given', from: step.connection, values: await trial.ports.call(step, trial.scope) });
    const values = await trial.kept();
    if (values !== null) return trial.done({ made: 'given', from: step.connection, values }, { reason: 'Answered as when this document went through; nothing was asked now.' });
    if (step.method === 'GET') return trial.done({ made: 'given', from: step.connection, values: await trial.ports.call(step, trial.scope) });
    return sent(`${step.method} ${fillIn(step.path, trial.scope, encodeURIComponent)}`, await valuesOf(step.body ?? {}, trial.scope), trial);
  },
  desk: asking, ask: asking, approve: asking,
  branch: async (step, { scope, done }) => done(chooseWay(step, scope)),
  set: async (step, { scope, done }) => done({ made: 'notes', values: await valuesOf(notesOf(step.values), scope) }),
  each: async (step, { scope, done }) => done({ made: 'lines', of: step.of, lines: Math.min(MOST_LINES, scope.known.readings.tables[step.of]?.length ?? 0) }),
  wait: async (step, { scope, done }) => done({ made: 'pause', until: step.until === undefined ? `${step.minutes ?? 0} min` : ((await valueOf(step.until, scope)).value ?? 'now') }),
  start: async (step, { done }) => done({ made: 'started', pipeline: step.pipeline, run: '' }, { state: 'would write' }),
  stop: async (step, { scope, done }) => done({ made: 'stop', reason: fillIn(step.reason, scope) }),
  'write-list': (step, trial) => rows([{ target: step.list, plan: step }], trial),
  'write-csv': (step, trial) => rows([{ target: step.file, plan: step }], trial),
  'write-table': (step, trial) => rows([{ target: step.table, plan: step }], trial),
  'write-workbook': (step, trial) => rows(step.tabs.map((tab) => ({ target: `${step.file}, ${tab.tab}`, plan: tab })), trial),
  'write-file': async (step, trial) => sent('a file', { name: fillIn(step.name, trial.scope), folder: fillIn(step.folder ?? '', trial.scope) || null, content: step.content }, trial),
  tool: async (step, trial) => sent(`tool ${step.tool}`, await valuesOf(step.input ?? {}, trial.scope), trial),
  mail: async (step, trial) => sent('a mail', { to: fillIn(step.to, trial.scope), subject: fillIn(step.subject, trial.scope), text: fillIn(step.text, trial.scope), attachment: step.attach ? trial.scope.document.fileName : null }, trial),
  send: async (step, trial) => sent(`${step.method} ${fillIn(step.path, trial.scope, encodeURIComponent)}`, await valuesOf(step.body ?? {}, trial.scope), trial),
};

async function checked(known: Known, ports: TryPorts, done: Done): Promise<TriedStep> {
  const kind = await requireKind(known.reading?.kind ?? null, ports);
  const findings = await ports.findings(kind, known.readings, known.reading?.layout ?? null);
  return done({ made: 'findings', findings, doubts: doubtsOf(kind, known.readings, findings), trusted: isTrusted(kind, known.readings, findings) });
}

async function lookedUp(step: LookUpStep, scope: Scope, ports: TryPorts, done: Done): Promise<TriedStep> {
  const { value } = await valueOf(step.find, scope);
  const values = await ports.row(step, value);
  if (values === null && step.missing === 'strand') throw new Error(`“${value ?? ''}” is not in the list “${step.list}”.`);
  const result: StepResult = { made: 'row', list: step.list, values };
  return values === null && (step.missing ?? 'ask') === 'ask' ? done(result, { state: 'would ask', reason: `“${value ?? 'nothing'}” is not in the list; the desk would be asked.` }) : done(result);
}

async function matched(step: MatchStep, { scope, ports, done }: Trial): Promise<TriedStep> {
  const proposed = proposeMatch(step, scope, await recordsFor(step, scope, ports.rows));
  return done(matchesFrom(proposed), unsureLines(proposed) === 0 ? {} : { state: 'would ask', reason: unsureText(proposed) });
}

/** The try-out goes on as if a person had accepted everything. */
async function asking(step: DeskStep | AskStep | ApproveStep, { scope, done }: Trial): Promise<TriedStep> {
  if (step.when && !holds(step.when, scope)) return done({ made: 'no question' });
  const by = 'nobody yet';
  if (step.do === 'desk') return done({ made: 'answer', task: '', by, readings: scope.known.readings, changed: [] }, { state: 'would ask', reason: scope.known.findings.find((finding) => finding.severity === 'must fix')?.text ?? 'A value is not sure enough.' });
  const values: Given = step.do === 'approve' ? { decision: 'approved', by, note: null } : Object.fromEntries(step.answers.map(({ key }) => [key, null]));
  return done({ made: 'given', from: 'the desk', values }, { state: 'would ask', reason: step.title });
}

async function rows(plans: readonly { readonly target: string; readonly plan: RowPlan }[], { scope, done }: Trial): Promise<TriedStep> {
  const writes: WouldWrite[] = [];
  for (const { target, plan } of plans) writes.push({ target, rows: await planRows(plan, scope) });
  return done({ made: 'rows', target: writes.map(({ target }) => target).join('; '), rows: writes.reduce((sum, write) => sum + write.rows.length, 0), left: 0 }, { state: 'would write', writes });
}

/** Later steps go on with what was answered when it was really sent, if it ever was. */
async function sent(target: string, parts: Given, { done, kept }: Trial): Promise<TriedStep> {
  const row = Object.fromEntries(Object.entries(parts).map(([name, value]) => [name, { value, place: null }]));
  return done({ made: 'sent', target, values: (await kept()) ?? {} }, { state: 'would write', writes: [{ target, rows: [row] }] });
}

async function sorted(kinds: readonly string[] | null, sure: number | undefined, ports: TryPorts, done: Done): Promise<TriedStep> {
  const { kind, ranked } = await ports.sort(kinds, sure);
  const [first] = ranked;
  if (!first) throw new Error('There is no kind to sort into. Publish one first.');
  const result: StepResult = { made: 'kind', kind: kind ?? first.kind, name: first.name, reasons: first.reasons };
  return kind === null ? done(result, { state: 'would ask', reason: `It looks most like ${first.name}, ${Math.round(first.share * 100)} of 100.` }) : done(result);
}

async function requireKind(key: string | null, ports: TryPorts): Promise<KindDefinition> {
  const kind = key === null ? null : await ports.kind(key);
  if (!kind) throw new Error(key === null ? 'No earlier step has found a kind. Put a sorting step before this one, or name the kind.' : `The document kind “${key}” is not published.`);
  return kind;
}
