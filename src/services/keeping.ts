import type { KeepingView } from '@/contracts/api';
import { inTransaction } from '@/store/database';
import { LockTimeout, withLock } from '@/store/lock';
import { noteAct, type Actor } from '@/store/queries/audit';
import type { DocumentRow } from '@/store/queries/documents';
import { areBytesNeeded, countOldFacts, countOldPapers, countOpenRuns, dropFacts, dropOldNotices, dropPages, keepingRule, markPapersGone, oldPapers, putKeeping, runsWithOldFacts, type Keeping } from '@/store/queries/keeping';
import { PROGRAM, Refusal, type Services } from './context';
import { requireDocument } from './documents';
import { hashesOf } from './papers';

/** Documents and runs that are cleared in one go. */
const AT_ONCE = 100;

/** The rule, and what goes by it, or would go by another one that is only considered. */
export async function describeKeeping(services: Services, considered: Keeping | null = null): Promise<KeepingView> {
  const { db } = services.store;
  const rule = considered ?? (await keepingRule(db));
  const [papers, runs] = await Promise.all([rule.papersDays === null ? { documents: 0, bytes: 0 } : countOldPapers(db, rule.papersDays), rule.factsDays === null ? 0 : countOldFacts(db, rule.factsDays)]);
  return { ...rule, due: { ...papers, runs } };
}

/** Change how long things are kept. Workers clear away what is over, within the hour. */
export async function setKeeping(services: Services, actor: Actor, rule: Keeping): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    await putKeeping(tx, rule, actor.name);
    await noteAct(tx, actor, { act: 'keeping changed', on: ['keeping', 'rule'], detail: { ...rule } });
  });
}

/** Clear away what has been kept long enough. True when there may be more. */
export async function clearAway(services: Services): Promise<boolean> {
  const { db, pool } = services.store;
  const clear = async (): Promise<boolean> => {
    const { papersDays, factsDays } = await keepingRule(db);
    const papers = papersDays === null ? [] : await oldPapers(db, papersDays, AT_ONCE);
    for (const row of papers) await dropPapers(services, PROGRAM, row, `kept ${papersDays} days`);
    const runs = factsDays === null ? [] : await runsWithOldFacts(db, factsDays, AT_ONCE);
    if (runs.length > 0) await inTransaction(db, (tx) => dropFacts(tx, runs));
    const notices = factsDays === null ? 0 : await dropOldNotices(db, factsDays, AT_ONCE * 10);
    return papers.length === AT_ONCE || runs.length === AT_ONCE || notices === AT_ONCE * 10;
  };
  // One worker clears, and the others have other things to do.
  return withLock(pool, 'keeping', 1, clear).catch((error: unknown) => (error instanceof LockTimeout ? false : Promise.reject(error as Error)));
}

/** Delete the pages and the original of one document on purpose. What was written stays, with its proof. */
export async function deletePapers(services: Services, actor: Actor, id: string, reason: string): Promise<void> {
  const row = await requireDocument(services, id);
  if (row.papersGoneAt !== null) throw new Refusal('conflict', `The pages of ${row.fileName} were deleted before.`);
  if ((await countOpenRuns(services.store.db, id)) > 0) throw new Refusal('conflict', `${row.fileName} is still being worked on. Let its run end first, or give it up.`);
  await dropPapers(services, actor, row, reason);
}

/** The lock keeps the same bytes from arriving between the question whether they are needed and their deletion. */
async function dropPapers(services: Services, actor: Actor, row: DocumentRow, reason: string): Promise<void> {
  const { db, pool } = services.store;
  await withLock(pool, 'receive', 60, async () => {
    const hashes = hashesOf(row.sha256);
    const needed = await areBytesNeeded(db, row);
    await inTransaction(db, async (tx) => {
      await markPapersGone(tx, row.id);
      if (!needed) await dropPages(tx, hashes);
      await noteAct(tx, actor, { act: 'pages deleted', on: ['document', row.id], detail: { reason, bytesKept: needed } });
    });
    // Only when nobody can ask for them any more.
    if (!needed) for (const hash of hashes) await services.blobs.remove(hash);
  });
}
