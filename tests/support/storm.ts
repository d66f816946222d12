import { execFileSync } from 'node:child_process';
import { existsSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { startDatabase, type Database } from '../../bin/lib/database.mjs';
import { pause } from '@/settings/clock';
import type { Chance } from '@/settings/random';
import type { Started } from './processes';

/** What befell, and how often. */
export interface Log {
  kills: number;
  cuts: number;
  restarts: number;
  /** Seconds without room in the folder of workbooks. */
  full: number;
}

export interface Sea {
  readonly chance: Chance;
  readonly workers: Started[];
  readonly startWorker: () => Promise<Started>;
  /** Control port of the simulated mail server. */
  readonly mailControl: number;
  /** Folder of the private database, and the server that runs on it now. */
  readonly database: { readonly folder: string; server: Database };
  /** Folder of the workbooks, where it can be filled up; else null. */
  readonly disk: string | null;
  readonly log: Log;
}

/** One worker is killed as by a crash, and another one comes in its place. */
async function kill({ chance, workers, startWorker, log }: Sea): Promise<void> {
  const unlucky = Math.floor(chance() * workers.length);
  await workers[unlucky]?.kill();
  // The database may be away just now, and then no worker gets ready; it is started when it is back.
  workers[unlucky] = await startWorker();
  log.kills += 1;
}

/** Every mail connection is cut; where nobody is connected just then, because its worker was killed, somebody is waited for. */
async function cutMail({ mailControl, log }: Sea): Promise<void> {
  for (let turn = 0; turn < 40; turn += 1) {
    const { cut } = (await (await fetch(`http://127.0.0.1:${mailControl}/drop`, { method: 'POST' })).json()) as { cut: number };
    log.cuts += cut;
    if (cut > 0) return;
    await pause(100);
  }
}

/** The database is stopped in the middle of everything, and started again on the same files. */
async function restartDatabase({ chance, database, log }: Sea): Promise<void> {
  await database.server.stop();
  await pause(500 + chance() * 2_500);
  database.server = await startDatabase(database.folder);
  log.restarts += 1;
}

/** The disk of the workbooks is full for some seconds. */
async function fillDisk({ chance, disk, log }: Sea): Promise<void> {
  if (disk === null) return;
  const ballast = path.join(disk, '.ballast');
  const { bavail, bsize } = statfsSync(disk);
  const seconds = 3 + chance() * 4;
  try {
    writeFileSync(ballast, Buffer.alloc(bavail * bsize));
  } catch {
    // Others write at the same time, and the last bytes were theirs: it is full all the same.
  }
  await pause(seconds * 1000);
  rmSync(ballast);
  log.full += seconds;
}

const FORCES: readonly { readonly share: number; readonly strike: (sea: Sea) => Promise<void> }[] = [
  { share: 0.45, strike: kill },
  { share: 0.25, strike: cutMail },
  { share: 0.12, strike: restartDatabase },
  { share: 0.18, strike: fillDisk },
];

/** One force after the other, at moments drawn from the chance, until told to stop. */
export async function blow(sea: Sea, calm: AbortSignal): Promise<void> {
  while (!calm.aborted) {
    await pause(300 + sea.chance() * 1_500, calm);
    if (calm.aborted) return;
    let draw = sea.chance();
    const force = FORCES.find(({ share }) => (draw -= share) < 0) ?? FORCES[0];
    await force?.strike(sea);
  }
}

/** A small disk of its own in place of a folder, so that it can run full; false where this machine does not allow it. */
export function mountSmallDisk(folder: string, megabytes: number): boolean {
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

export function unmountDisk(folder: string): void {
  if (existsSync(folder)) execFileSync('umount', ['-l', folder], { stdio: 'ignore' });
}
