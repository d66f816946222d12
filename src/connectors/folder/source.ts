import { watch as watchFiles } from 'chokidar';
import { createHash } from 'node:crypto';
import { constants } from 'node:fs';
import { access, mkdir, readdir, readFile, rename, stat } from 'node:fs/promises';
import Joi from 'joi';
import path from 'node:path';
import { pause, systemClock, type Clock } from '@/settings/clock';
import { SOURCE_LIMITS, safeFileName } from '../limits';
import type { Arrival, SourceConnector, Watch } from '../source';

export interface FolderSettings {
  /** Absolute path of the folder that is watched. */
  readonly path: string;
  /** Name of the subfolder that taken files are moved to. */
  readonly doneFolder: string;
  /** A file is taken when size and time have not changed for this long, ms: scanners write slowly. */
  readonly settleMs: number;
  /** Longest time between two looks, seconds; the system's own notices only make it sooner. */
  readonly pollSeconds: number;
}

const schema = Joi.object<FolderSettings>({
  path: Joi.string().max(1000).required().label('Folder'),
  doneFolder: Joi.string().max(100).pattern(/^[^/\\]+$/).default('taken').label('Move taken files to'),
  settleMs: Joi.number().integer().min(0).max(600_000).default(1_500).label('Wait until unchanged for (ms)'),
  pollSeconds: Joi.number().min(0.1).max(3_600).default(5).label('Look at least every (seconds)'),
});

/** Names that programs give to files they have not finished. */
const UNFINISHED = /^[.~]|~$|\.(part|partial|tmp|temp|crdownload|download|filepart|swp)$/i;
/** Larger files are recorded but not read into memory. */
const MOST_BYTES = 200_000_000;

export const folderSource: SourceConnector<FolderSettings> = {
  key: 'folder',
  name: 'Watched folder',
  schema,
  secretName: null,
  watch: (watch) => watchFolder(watch, systemClock),
  async tryOut(settings) {
    await access(settings.path, constants.R_OK | constants.W_OK).catch((error: unknown) => Promise.reject(new Error(plainTrouble(settings, error), { cause: error })));
    const waiting = (await readdir(settings.path, { withFileTypes: true })).filter((entry) => entry.isFile() && !UNFINISHED.test(entry.name)).length;
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
    const names = (await readdir(watch.settings.path, { withFileTypes: true })).filter((entry) => entry.isFile() && !UNFINISHED.test(entry.name)).map((entry) => entry.name);
    let unsettled = false;
    for (const name of names.sort().slice(0, SOURCE_LIMITS.filesPerRound)) {
      if (watch.signal.aborted) break;
      if (await isSettled(path.join(watch.settings.path, name), watch.settings.settleMs, seen, clock)) await takeFile(watch, name, seen);
      else unsettled = true;
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

/** Record first, move after: a crash in between only makes it be noticed twice, and the key sorts that out. */
async function takeFile(watch: Watch<FolderSettings>, name: string, seen: Map<string, Seen>): Promise<void> {
  const file = path.join(watch.settings.path, name);
  const facts = await stat(file);
  const bytes = facts.size > MOST_BYTES ? Buffer.alloc(0) : await readFile(file);
  await watch.emit(arrivalFrom(name, bytes, facts));
  await moveAside(file, path.join(watch.settings.path, watch.settings.doneFolder), name);
  seen.delete(file);
}

function arrivalFrom(name: string, bytes: Buffer, facts: { readonly size: number; readonly mtimeMs: number }): Arrival {
  const tooLarge = facts.size > MOST_BYTES;
  const identity = `${name}\n${facts.size}\n${facts.mtimeMs}\n${createHash('sha256').update(bytes).digest('hex')}`;
  return {
    dedupeKey: createHash('sha256').update(identity).digest('hex'),
    type: 'leadline.file.arrived',
    sender: null,
    subject: null,
    occurredAt: new Date(facts.mtimeMs).toISOString(),
    files: [{ name: safeFileName(name, 'file'), mediaType: /\.pdf$/i.test(name) ? 'application/pdf' : 'application/octet-stream', bytes }],
    problem: tooLarge ? { code: 'too-large', text: `The file has ${Math.round(facts.size / 1_000_000)} MB, far more than is read. It stays in the folder of taken files.` } : null,
    data: { name, size: facts.size },
  };
}

/** A name that is taken already gets a number, so that nothing is overwritten. */
async function moveAside(file: string, folder: string, name: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  const { name: stem, ext } = path.parse(name);
  for (let number = 1; ; number += 1) {
    const target = path.join(folder, number === 1 ? name : `${stem} (${number})${ext}`);
    if (await access(target).then(() => true, () => false)) continue;
    await rename(file, target);
    return;
  }
}

function plainTrouble(settings: FolderSettings, error: unknown): string {
  const { code, message } = error as { code?: string; message: string };
  if (code === 'ENOENT') return `The folder ${settings.path} does not exist. Create it, or change the path.`;
  if (code === 'EACCES' || code === 'EPERM') return `The folder ${settings.path} may not be read or written by this program. Change its rights.`;
  if (code === 'ENOSPC') return 'The disk is full; files wait in the folder until there is room.';
  return `The folder ${settings.path} cannot be watched now (${message.slice(0, 150)}).`;
}
