import type { OlderRuns } from '@/contracts/api';
import { carryOverProblem } from '@/core/pipeline/carry-over';
import { inTransaction } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { findDefinition } from '@/store/queries/definitions';
import { changeVersion, factRowsOf, olderRuns } from '@/store/queries/runs';
import { Refusal, type Services } from './context';

/** Runs looked at in one call; the rest is taken by the next. */
const MOST = 2_000;

/** Runs that have not ended and are on an earlier version: how many can go on in the newest, and why others cannot. */
export async function describeOlderRuns(services: Services, key: string): Promise<OlderRuns> {
  const { version, movable, stuck } = await sortRuns(services, key);
  return { version, movable: movable.length, stuck: [...new Set(stuck.map(({ why }) => why))].map((why) => ({ why, runs: stuck.filter((one) => one.why === why).length })) };
}

/** Move them on purpose: what they have done stays, what is ahead is done as the newest version says. Returns how many. */
export async function moveRuns(services: Services, actor: Actor, key: string): Promise<number> {
  const { version, movable } = await sortRuns(services, key);
  return inTransaction(services.store.db, async (tx) => {
    let moved = 0;
    // One that was claimed meanwhile stays: its worker knows only the version it began with.
    for (const run of movable) moved += (await changeVersion(tx, run, version)) ? 1 : 0;
    if (moved > 0) await noteAct(tx, actor, { act: 'runs moved', on: ['pipeline', key], detail: { version, runs: moved } });
    return moved;
  });
}

async function sortRuns(services: Services, key: string) {
  const newest = await findDefinition(services.store.db, 'pipeline', key);
  if (!newest) throw new Refusal('not-found', `There is no published pipeline “${key}”.`);
  const runs = await olderRuns(services.store.db, key, newest.version, MOST);
  const facts = await factRowsOf(services.store.db, runs.map(({ id }) => id));
  const judged = await Promise.all(runs.map(async (run) => {
    const from = await services.pinned('pipeline', key, run.version);
    const reached = facts.filter(({ runId }) => runId === run.id).map(({ stepId }) => stepId);
    return { ...run, why: from ? carryOverProblem(from.definition, newest.definition, reached) : 'its version is not there any more' };
  }));
  return { version: newest.version, movable: judged.filter(({ why }) => why === null), stuck: judged.flatMap(({ why }) => (why === null ? [] : [{ why }])) };
}
