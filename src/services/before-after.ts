import { desc, eq, and, isNotNull } from 'drizzle-orm';
import type { BeforeAfter } from '@/contracts/workbench';
import { checkDocument } from '@/core/checking/check';
import { isTrusted } from '@/core/checking/trust';
import { changesBetween } from '@/core/measuring/changes';
import { kindDifference } from '@/core/measuring/kind-diff';
import { pause, systemClock } from '@/settings/clock';
import { findDefinition } from '@/store/queries/definitions';
import { runById } from '@/store/queries/runs';
import { document } from '@/store/schema';
import type { Services } from './context';
import { knownOf } from './documents';
import { elsewhereFor } from './elsewhere';
import { paperOf } from './papers';
import { readAs } from './reading';
import { workingKind } from './workbench';

/**
 * What the draft would have made of documents that were read before: every value that would be another, and which documents would
 * then need somebody, or no longer. Values are compared as they were read, not as a person has mended them. Nothing is written.
 */
export async function beforeAfter(services: Services, key: string, most: number): Promise<BeforeAfter> {
  const { db } = services.store;
  const { definition: draft } = await workingKind(services, key);
  const published = await findDefinition(db, 'kind', key);
  const rows = await db.select().from(document).where(and(eq(document.kindKey, key), isNotNull(document.runId))).orderBy(desc(document.id)).limit(most);
  const documents: BeforeAfter['documents'][number][] = [];
  for (const row of rows) {
    const run = row.runId === null ? null : await runById(db, row.runId);
    const known = run ? await knownOf(services, run) : null;
    if (!known?.reading) continue;
    const paper = await paperOf(services, row.sha256, draft.cleanUp);
    const { pages } = paper;
    const begun = systemClock.nowMs();
    const after = await readAs(services, draft, { sha256: row.sha256, paper }, 'kept answers');
    const tookMs = systemClock.nowMs() - begun;
    const elsewhere = await elsewhereFor(services, draft, after, { pages, documentId: row.id });
    const trusted = (reading: typeof after): boolean => isTrusted(draft, reading, checkDocument({ kind: draft, layout: reading.layout, readings: reading, pages, ...elsewhere }));
    documents.push({ id: row.id, fileName: row.fileName, changes: changesBetween(draft, known.reading, after), straightBefore: trusted(known.reading), straightAfter: trusted(after), tookMs });
    await pause(0);
  }
  return { documents, difference: published ? kindDifference(published.definition, draft) : [] };
}
