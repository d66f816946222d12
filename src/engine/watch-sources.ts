import { SOURCES } from '@/connectors/registry';
import type { Arrival, SourceConnector } from '@/connectors/source';
import { isDue, type Schedule } from '@/core/schedule/schedule';
import { pause, type Clock } from '@/settings/clock';
import type { SecretBox } from '@/settings/secret';
import { isoMoment, type Db } from '@/store/database';
import { freeSource, holdSource, keepSource, listSources, reportSource, saveCursor, type SourceRow } from '@/store/queries/sources';

export interface WatchOptions {
  readonly db: Db;
  readonly workerId: string;
  readonly leaseMs: number;
  readonly secrets: SecretBox;
  readonly clock: Clock;
  /** Record an arrival for good. */
  readonly receive: (source: SourceRow, arrival: Arrival) => Promise<void>;
  readonly say: (line: string) => void;
}

/** Watch every enabled source that no other worker watches, until the signal fires. Settings are read from the database, again and again. */
export async function watchSources(options: WatchOptions, signal: AbortSignal): Promise<void> {
  const watched = new Map<string, AbortController>();
  const ended: Promise<void>[] = [];
  while (!signal.aborted) {
    try {
      for (const source of await listSources(options.db)) {
        const held = watched.get(source.key);
        if (held) {
          if (!(await keepSource(options.db, source.key, options.workerId, options.leaseMs))) held.abort();
        } else if (isItsTime(source, options.clock) && (await holdSource(options.db, source.key, options.workerId, options.leaseMs))) {
          const stop = new AbortController();
          watched.set(source.key, stop);
          ended.push(watchOne(options, source, stop).finally(() => watched.delete(source.key)));
        }
      }
    } catch (error) {
      options.say(`Sources cannot be looked up now (${(error as Error).message.slice(0, 120)}); trying again.`);
    }
    await pause(options.leaseMs / 3, signal);
  }
  const keys = [...watched.keys()];
  for (const stop of watched.values()) stop.abort();
  await Promise.allSettled(ended);
  await Promise.allSettled(keys.map((key) => freeSource(options.db, key, options.workerId)));
}

/** A source with a schedule is looked at when its time has come; any other all the time. */
function isItsTime(source: SourceRow, clock: Clock): boolean {
  const { schedule } = source.settings as { schedule?: Schedule };
  return schedule === undefined || isDue(schedule, source.checkedAt === null ? null : Date.parse(isoMoment(source.checkedAt)), clock.nowMs());
}

async function watchOne(options: WatchOptions, source: SourceRow, stop: AbortController): Promise<void> {
  const { db, workerId } = options;
  const { signal } = stop;
  const { schedule, ...own } = source.settings as { schedule?: Schedule };
  let looks = 0;
  const report = async (problem: string | null) => {
    await reportSource(db, source.key, workerId, problem);
    // By a schedule two looks are enough: what was still being written at the first has come to rest by the second.
    if (problem === null) looks += 1;
    if (schedule && looks >= 2) stop.abort();
  };
  try {
    const connector = SOURCES[source.connector] as SourceConnector<unknown> | undefined;
    if (!connector) throw new Error(`There is no connector “${source.connector}”.`);
    const settings = connector.schema.validate(own);
    if (settings.error) throw new Error(`The settings do not fit: ${settings.error.message}.`);
    await connector.watch({
      settings: settings.value,
      secret: source.secret === null ? null : options.secrets.open(source.secret),
      cursor: source.cursor,
      emit: (arrival) => options.receive(source, arrival),
      saveCursor: (cursor) => saveCursor(db, source.key, workerId, cursor),
      report,
      signal,
    });
  } catch (error) {
    options.say(`Source ${source.key}: ${(error as Error).message}`);
    await report((error as Error).message).catch(() => undefined);
    await pause(options.leaseMs, signal);
  }
}
