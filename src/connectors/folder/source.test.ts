import { mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pause } from '@/settings/clock';
import type { Arrival } from '../source';
import { folderSource } from './source';

let folder = '';
beforeEach(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-folder-'))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

async function until(condition: () => boolean): Promise<void> {
  for (let turn = 0; turn < 200 && !condition(); turn += 1) await pause(25);
  expect(condition()).toBe(true);
}

async function watching(work: (seen: { arrivals: Arrival[]; reports: (string | null)[] }) => Promise<void>, emit?: (arrival: Arrival) => Promise<void>): Promise<void> {
  const stop = new AbortController();
  const seen = { arrivals: [] as Arrival[], reports: [] as (string | null)[] };
  const done = folderSource.watch({ settings: { path: folder, doneFolder: 'taken', settleMs: 120, pollSeconds: 0.2 }, secret: null, cursor: null, emit: emit ?? (async (arrival) => void seen.arrivals.push(arrival)), saveCursor: async () => undefined, report: async (problem) => void seen.reports.push(problem), signal: stop.signal });
  try {
    await work(seen);
  } finally {
    stop.abort();
    await done;
  }
}

describe('the watched folder', () => {
  test('finds what came while nothing ran, and moves it aside when it is recorded', async () => {
    writeFileSync(path.join(folder, 'early.pdf'), '%PDF');
    await watching(async ({ arrivals }) => {
      await until(() => readdirSync(folder).includes('taken') && readdirSync(path.join(folder, 'taken')).length === 1);
      expect(arrivals).toMatchObject([{ type: 'leadline.file.arrived', files: [{ name: 'early.pdf', mediaType: 'application/pdf' }] }]);
      expect(readdirSync(folder)).toEqual(['taken']);
    });
  });

  test('waits for a file that is still being written', async () => {
    await watching(async ({ arrivals }) => {
      const file = path.join(folder, 'slow.pdf');
      for (let part = 1; part <= 6; part += 1) {
        writeFileSync(file, '%PDF'.repeat(part));
        await pause(60);
      }
      await until(() => arrivals.length === 1);
      expect(arrivals[0]?.files[0]?.bytes.length).toBe(24);
    });
  });

  test('leaves files that say they are not finished', async () => {
    for (const name of ['a.pdf.part', '.hidden.pdf', '~$b.xlsx', 'c.tmp']) writeFileSync(path.join(folder, name), 'x');
    await watching(async ({ arrivals, reports }) => {
      await until(() => reports.length > 3);
      expect(arrivals).toEqual([]);
    });
  });

  test('overwrites nothing when a name comes again', async () => {
    mkdirSync(path.join(folder, 'taken'));
    writeFileSync(path.join(folder, 'taken', 'a.pdf'), 'first');
    writeFileSync(path.join(folder, 'a.pdf'), 'second');
    await watching(async () => until(() => readdirSync(path.join(folder, 'taken')).length === 2));
    expect(readdirSync(path.join(folder, 'taken')).sort()).toEqual(['a (2).pdf', 'a.pdf']);
  });

  test('leaves a file in its place until it is recorded', async () => {
    writeFileSync(path.join(folder, 'a.pdf'), '%PDF');
    let tries = 0;
    await watching(async ({ reports }) => {
      await until(() => tries >= 2);
      expect(readdirSync(folder)).toEqual(['a.pdf']);
      expect(reports.some((report) => report?.includes('cannot be watched now'))).toBe(true);
    }, async () => {
      tries += 1;
      throw new Error('no database');
    });
  });

  test('says when the folder is not there, and goes on when it is', async () => {
    rmSync(folder, { recursive: true });
    await watching(async ({ arrivals, reports }) => {
      await until(() => reports.some((report) => report?.includes('does not exist')));
      mkdirSync(folder);
      writeFileSync(path.join(folder, 'late.pdf'), '%PDF');
      await until(() => arrivals.length === 1);
    });
  });
});
