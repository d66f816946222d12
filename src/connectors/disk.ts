import path from 'node:path';
import { StepFailure } from '@/core/resilience/failure';
import { LockTimeout, type StillHeld } from '@/store/lock';

/** Runs something while no other worker touches the file. */
export type Exclusive = <T>(name: string, work: (held: StillHeld) => Promise<T>) => Promise<T>;

/** Write to a file while no other worker does. */
export async function alone<T>(file: string, exclusive: Exclusive, work: (held: StillHeld) => Promise<T>): Promise<T> {
  try {
    return await exclusive(`workbook:${path.resolve(file)}`, work);
  } catch (error) {
    if (error instanceof LockTimeout) throw new StepFailure('lock-timeout', `${path.basename(file)} was busy`, { cause: error });
    throw error;
  }
}

/** Raised in time, nothing was changed: the lock went with its connection. */
export async function insist(held: StillHeld, file: string): Promise<void> {
  if (!(await held())) throw new StepFailure('connection-lost', `the lock on ${path.basename(file)} went away while it was written; nothing was changed`);
}

/** What the disk said, as a failure: who can do something about it. */
export function diskFailure(file: string, error: unknown): unknown {
  const { code } = error as { code?: string };
  if (code === 'ENOSPC' || code === 'EDQUOT') return new StepFailure('no-space', `${path.basename(file)} could not be written; it is unchanged. Make room and it goes on by itself`, { cause: error });
  if (code === 'EACCES' || code === 'EPERM' || code === 'EBUSY') return new StepFailure('file-locked', `${path.basename(file)} may not be written now (${code})`, { cause: error });
  return error;
}
