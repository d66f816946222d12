import { and, desc, eq, inArray, isNull, or, type SQL } from 'drizzle-orm';
import type { TriedPipeline } from '@/contracts/api';
import { checkDocument } from '@/core/checking/check';
import { parsePipeline } from '@/core/definition/parse';
import { CAME, type Given, type StepResult } from '@/core/pipeline/facts';
import { needsContent } from '@/core/pipeline/content';
import { eachStep } from '@/core/pipeline/definition';
import { complaintsAbout } from '@/core/pipeline/static-checks';
import { tryOut, type TryPorts } from '@/core/pipeline/try-out';
import { dataOf } from '@/core/pipeline/values';
import { pause } from '@/settings/clock';
import { isoMoment } from '@/store/database';
import { factRowsOf, newestDocumentsOf } from '@/store/queries/runs';
import { propertiesOf, type DocumentRow } from '@/store/queries/documents';
import { document } from '@/store/schema';
import { withContent } from './content';
import type { Services } from './context';
import { elsewhereFor } from './elsewhere';
import { outsideOf } from './outside';
import { paperOf } from './papers';
import { readAs } from './reading';
import { namesOf, stepViews } from './runs';
import { resultText, shortText } from './step-text';
import { sortFile } from './sorting';
import { surroundingsOf } from './surroundings';

/** Documents that a pipeline is tried on at once. */
const MOST_DOCUMENTS = 8;

export interface Trying {
  /** Absent: the newest that came for it. */
  readonly documents?: readonly string[];
  /** The last step that is tried; null: all of them. */
  readonly until?: string | null;
  /** Services are asked now; else they answer as they did when the document went through, where it did. Default true. */
  readonly asks?: boolean;
}

/**
 * Try a pipeline, as it is written now, on the newest documents that came for it: what each step would make of each. Nothing is written
 * and no service is asked that was not asked before. A text that is no pipeline gives its mistakes instead.
 */
export async function tryPipeline(services: Services, key: string, yaml: string, { documents: wanted, until = null, asks = true }: Trying = {}): Promise<TriedPipeline> {
  const parsed = parsePipeline(yaml, 'draft');
  if (!parsed.ok) return { mistakes: parsed.mistakes, complaints: [], steps: [], documents: [] };
  const { definition } = parsed;
  const [complaints, nameOf, rows] = await Promise.all([surroundingsOf(services).then((around) => complaintsAbout(definition, around)), namesOf(services), documentsFor(services, key, wanted)]);
  const documents: TriedPipeline['documents'][number][] = [];
  const needed = [...eachStep(definition.steps)].some(({ step }) => !step.off && needsContent(step));
  for (const came of rows) {
    const row = needed ? await withContent(services, came).catch(() => came) : came;
    const about = { id: row.id, fileName: row.fileName, receivedAt: isoMoment(row.receivedAt), sender: row.sender };
    const tried = await tryOut(definition, about, portsFor(services, row, asks), until);
    documents.push({ id: row.id, fileName: row.fileName, straight: tried.straight, stopped: tried.stopped, data: dataOf({ known: tried.known, document: about }), steps: tried.steps.map((step) => ({ step: step.step, line: step.line, state: step.state, short: step.result ? shortText(step.result) : '', text: step.reason ?? (step.result ? resultText(step.result, (layout) => layout) : ''), writes: step.writes })) });
    // Other requests get their turn between two documents.
    await pause(0);
  }
  return { mistakes: [], complaints, steps: stepViews(definition, nameOf), documents };
}

/** The documents that are wanted; else the newest that came for the pipeline or were given to it; else the newest of all, so that a new one can be tried too. */
async function documentsFor(services: Services, key: string, wanted: readonly string[] | undefined): Promise<DocumentRow[]> {
  const { db } = services.store;
  const among = (which: SQL | undefined) => db.select().from(document).where(and(isNull(document.problemCode), isNull(document.papersGoneAt), which)).orderBy(desc(document.id)).limit(MOST_DOCUMENTS);
  if (wanted && wanted.length > 0) return among(inArray(document.id, [...wanted]));
  const given = await newestDocumentsOf(db, key, MOST_DOCUMENTS);
  const own = await among(given.length > 0 ? or(eq(document.pipelineKey, key), inArray(document.id, given)) : eq(document.pipelineKey, key));
  return own.length > 0 ? own : among(undefined);
}

/** What a service answered in the newest run of the document. */
async function keptAnswer(services: Services, { runId }: DocumentRow, spot: string): Promise<Given | null> {
  const found = runId === null ? undefined : (await factRowsOf(services.store.db, [runId])).find(({ stepId, state }) => stepId === spot && state === 'done');
  const result = found?.result as StepResult | undefined;
  return result?.made === 'given' || result?.made === 'sent' ? result.values : null;
}

function portsFor(services: Services, row: DocumentRow, asks: boolean): TryPorts {
  const outside = outsideOf(services);
  return {
    kind: services.kind,
    sort: async (kinds, sure) => sortFile(services, { kinds, pages: (await paperOf(services, row.sha256, undefined)).pages, sender: row.sender, subject: row.subject, ...(sure === undefined ? {} : { sure }) }),
    read: async (kind) => readAs(services, kind, { sha256: row.sha256, paper: await paperOf(services, row.sha256, kind.cleanUp) }, 'kept answers'),
    asks,
    rows: outside.rows,
    came: async () => (await keptAnswer(services, row, CAME)) ?? (await propertiesOf(services.store.db, row.eventId)) ?? null,
    row: async (step, value) => (await outside.find(step.list, step.column ?? null, value)).row,
    // A service that cannot be asked now shows why.
    call: (step, scope) => outside.http(step, scope, { sha256: row.sha256, name: row.fileName }, null),
    kept: (spot) => keptAnswer(services, row, spot),
    findings: async (kind, readings, layout) => {
      const { pages } = await paperOf(services, row.sha256, kind.cleanUp);
      return checkDocument({ kind, layout, readings, pages, ...(await elsewhereFor(services, kind, readings, { pages, documentId: row.id })) });
    },
  };
}
