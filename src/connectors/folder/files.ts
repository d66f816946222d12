import { createHash } from 'node:crypto';
import { access, mkdir, readdir, readFile, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { safeFileName } from '../limits';
import type { Arrival } from '../source';

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

/** Names that programs give to files they have not finished. */
const UNFINISHED = /^[.~]|~$|\.(part|partial|tmp|temp|crdownload|download|filepart|swp)$/i;
/** Larger files are recorded but not read into memory. */
const MOST_BYTES = 200_000_000;

/** Files that may be taken, by name; folders, hidden files and unfinished ones are none. */
export const filesIn = async (folder: string): Promise<string[]> => (await readdir(folder, { withFileTypes: true })).filter((entry) => entry.isFile() && !UNFINISHED.test(entry.name)).map((entry) => entry.name).sort();

/** Record first, move after: a crash in between only makes it be noticed twice, and the key sorts that out. */
export async function takeFile(settings: Pick<FolderSettings, 'path' | 'doneFolder'>, name: string, emit: (arrival: Arrival) => Promise<void>): Promise<void> {
  const file = path.join(settings.path, name);
  const facts = await stat(file);
  const bytes = facts.size > MOST_BYTES ? Buffer.alloc(0) : await readFile(file);
  await emit(arrivalFrom(name, bytes, facts));
  await moveAside(file, path.join(settings.path, settings.doneFolder), name);
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

export function plainTrouble(settings: Pick<FolderSettings, 'path'>, error: unknown): string {
  const { code, message } = error as { code?: string; message: string };
  if (code === 'ENOENT') return `The folder ${settings.path} does not exist. Create it, or change the path.`;
  if (code === 'EACCES' || code === 'EPERM') return `The folder ${settings.path} may not be read or written by this program. Change its rights.`;
  if (code === 'ENOSPC') return 'The disk is full; files wait in the folder until there is room.';
  return `The folder ${settings.path} cannot be watched now (${message.slice(0, 150)}).`;
}
