import { watch as watchFiles } from 'chokidar';
import { constants } from 'node:fs';
import { access, stat } from 'node:fs/promises';
import Joi from 'joi';
import path from 'node:path';
import { pause, systemClock, type Clock } from '@/settings/clock';
import { SOURCE_LIMITS } from '../limits';
import type { SourceConnector, Watch } from '../source';
import { filesIn, plainTrouble, takeFile, type FolderSettings } from './files';

const schema = Joi.object<FolderSettings>({
  path: Joi.string().max(1000).required().label('Folder'),
  doneFolder: Joi.string().max(100).pattern(/^[^/\\]+$/).default('taken').label('Move taken files to'),
  settleMs: Joi.number().integer().min(0).max(600_000).default(1_500).label('Wait until unchanged for (ms)'),
  pollSeconds: Joi.number().min(0.1).max(3_600).default(5).label('Look at least every (seconds)'),
});

export const folderSource: SourceConnector<FolderSettings> = {
  key: 'folder',
  name: 'Watched folder',
  schema,
  secretName: null,
  watch: (watch) => watchFolder(watch, systemClock),
  async tryOut(settings) {
    await access(settings.path, constants.R_OK | constants.W_OK).catch((error: unknown) => Promise.reject(new Error(plainTrouble(settings, error), { cause: error })));
    const waiting = (await filesIn(settings.path)).length;
    return `The folder can be read and written. ${waiting} ${waiting === 1 ? 'file waits' : 'files wait'} in it.`;
  },
};

interface Seen {
  readonly size: number;
  readonly changedMs: number;
  /** When this size and time were first seen. */
  readonly sinceMs: number;
}

async function watchFolder(watch: Watch<FolderSettings>, clock: Clock): Promise<void> {
  const seen = new Map<string, Seen>();
  let woken = new AbortController();
  const notices = watchFiles(watch.settings.path, { depth: 0, ignoreInitial: true }).on('all', () => woken.abort()).on('error', () => undefined);
  const stop = () => woken.abort();
  watch.signal.addEventListener('abort', stop);
  try {
    while (!watch.signal.aborted) {
      woken = new AbortController();
      const unsettled = await lookOnce(watch, seen, clock);
      // Unsettled files are looked at again soon, whatever the system announces.
      await pause(unsettled ? Math.max(50, watch.settings.settleMs / 3) : watch.settings.pollSeconds * 1000, watch.signal.aborted ? AbortSignal.abort() : woken.signal);
    }
  } finally {
    watch.signal.removeEventListener('abort', stop);
    await notices.close();
  }
}

/** One look at the folder; true when files are there that may still be growing. */
async function lookOnce(watch: Watch<FolderSettings>, seen: Map<string, Seen>, clock: Clock): Promise<boolean> {
  try {
    let unsettled = false;
    for (const name of (await filesIn(watch.settings.path)).slice(0, SOURCE_LIMITS.filesPerRound)) {
      if (watch.signal.aborted) break;
      if (await isSettled(path.join(watch.settings.path, name), watch.settings.settleMs, seen, clock)) {
        await takeFile(watch.settings, name, watch.emit.bind(watch));
        seen.delete(path.join(watch.settings.path, name));
      } else unsettled = true;
    }
    await watch.report(null);
    return unsettled;
  } catch (error) {
    await watch.report(plainTrouble(watch.settings, error));
    return false;
  }
}

async function isSettled(file: string, settleMs: number, seen: Map<string, Seen>, clock: Clock): Promise<boolean> {
  const facts = await stat(file).catch(() => null);
  if (!facts) return false;
  const known = seen.get(file);
  if (known?.size === facts.size && known.changedMs === facts.mtimeMs) return clock.nowMs() - known.sinceMs >= settleMs;
  seen.set(file, { size: facts.size, changedMs: facts.mtimeMs, sinceMs: clock.nowMs() });
  return settleMs === 0;
}
