/**
 * Recognising pages against the bare recogniser: wall time of both over the same cleaned pages with as many at once. Prints the ratio;
 * absolute times are for interest only. The clean-up before it is measured apart.
 */
import { spawn } from 'node:child_process';
import os from 'node:os';
import pLimit from 'p-limit';
import { asGraymap, ALL_CLEAN, cleanUp, forRecognition, openPicture, type Picture } from '@/digitise/picture';
import { recogniseTwice } from '@/digitise/recognise';
import { makePaper, PAPER_KINDS } from '../demo/papers/content';
import { printPaper } from '../demo/papers/print';
import { scanPage } from '../demo/papers/scan';

const PAGES = Number(process.argv[2] ?? 8);
const atOnce = Math.max(1, os.availableParallelism());

async function cleaned(index: number): Promise<Picture> {
  const made = makePaper(PAPER_KINDS[index % PAPER_KINDS.length] ?? 'bill', 3000 + index, index);
  const png = await scanPage(await printPaper(made), 1, { dpi: 200, skew: ((index * 7) % 60) / 10 - 3, noise: 10, seed: index });
  return forRecognition(await cleanUp(await openPicture(png), ALL_CLEAN));
}

const bare = (picture: Picture): Promise<void> =>
  new Promise((resolve, reject) => {
    const child = spawn('tesseract', ['-', '-', '--dpi', String(Math.round(picture.dpi)), '--psm', '11', '-l', 'eng', 'tsv'], { stdio: ['pipe', 'ignore', 'ignore'], env: { ...process.env, OMP_THREAD_LIMIT: '1' } });
    child.on('error', reject);
    child.on('close', () => resolve());
    child.stdin.end(asGraymap(picture));
  });

async function timed(pages: readonly Picture[], work: (page: Picture) => Promise<unknown>): Promise<number> {
  const limit = pLimit(atOnce);
  const begun = performance.now();
  await Promise.all(pages.map((page) => limit(() => work(page))));
  return performance.now() - begun;
}

const pages = await Promise.all(Array.from({ length: PAGES }, (_, index) => cleaned(index)));
const rounds = [];
// In turn, so that a busy moment of the machine does not fall on one of them alone.
for (let round = 0; round < 2; round += 1) rounds.push({ bare: await timed(pages, bare), ours: await timed(pages, recogniseTwice) });
const [b, o] = [rounds.reduce((sum, round) => sum + round.bare, 0), rounds.reduce((sum, round) => sum + round.ours, 0)];
console.log(`${PAGES} pages of 200 dpi, ${atOnce} at once, twice: bare ${(b / 1000).toFixed(1)} s, ours ${(o / 1000).toFixed(1)} s: ratio ${(o / b).toFixed(2)} (aim: at most 1.15)`);
