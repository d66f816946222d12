/**
 * Words and boxes of the text layer against a second, independent tool: pdf.js, which shares no code with poppler.
 * pdf.js gives runs of text with their origin and width, poppler gives words; compared are the words and where they stand.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { inspectFile } from '@/digitise/inspect';
import { recogniseAgain } from '@/digitise/second';
import { scanPage } from '../../demo/papers/scan';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';

interface Run { readonly text: string; readonly x: number; readonly y: number; readonly width: number }

/** pdf.js is an ES module and runs in a process of its own, so that the two readers share nothing. */
const SCRIPT = `
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { readFileSync } from 'node:fs';
const pdf = await getDocument({ data: new Uint8Array(readFileSync(process.argv[1])), verbosity: 0 }).promise;
const pages = [];
for (let number = 1; number <= pdf.numPages; number += 1) {
  const page = await pdf.getPage(number);
  const { height } = page.getViewport({ scale: 1 });
  const { items } = await page.getTextContent();
  pages.push(items.filter((item) => item.str.trim() !== '').map((item) => ({ text: item.str, x: item.transform[4], y: height - item.transform[5], width: item.width })));
}
process.stdout.write(JSON.stringify(pages));
`;

function readIndependently(bytes: Buffer): Run[][] {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'leadline-pdf-'));
  try {
    const file = path.join(folder, 'a.pdf');
    writeFileSync(file, bytes);
    return JSON.parse(execFileSync(process.execPath, ['--input-type=module', '-e', SCRIPT, file], { encoding: 'utf8', maxBuffer: 50_000_000, stdio: ['ignore', 'pipe', 'ignore'] })) as Run[][];
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

describe.each([1, 2, 22, 27])('bill %i', (seed) => {
  test('has the same words at the same places for both tools', async () => {
    const bytes = await printBill(makeBill(seed));
    const { pages } = await inspectFile(bytes);
    const other = readIndependently(bytes);
    expect(pages.length).toBe(other.length);
    for (const [index, page] of pages.entries()) {
      const runs = other[index] ?? [];
      expect(page.words.map((word) => word.text).sort()).toEqual(runs.flatMap((run) => run.text.trim().split(/\s+/)).sort());
      for (const run of runs) {
        const [first] = run.text.trim().split(/\s+/);
        const near = page.words.filter((word) => word.text === first && Math.abs(word.box[0] - run.x) < 1 && run.y > word.box[1] && run.y < word.box[3] + 1);
        expect(near.length).toBeGreaterThanOrEqual(1);
        const last = run.text.trim().split(/\s+/).at(-1);
        expect(page.words.some((word) => word.text === last && Math.abs(word.box[2] - (run.x + run.width)) < 1.5)).toBe(true);
      }
    }
  });
});

// Word error rate as usual for recognition (edits of words ÷ words of the truth); the truth is the text layer that the page was printed from.
test('a second recogniser, sharing neither method nor training with the first, reads a scan of 200 dpi nearly as well, with other mistakes', async () => {
  const pdf = await printBill(makeBill(2));
  const truth = new Set((await inspectFile(pdf)).pages[0]!.words.map((word) => word.text));
  const { pages, pictures } = await inspectFile(await scanPage(pdf, 1, { dpi: 200, skew: 1.2, noise: 6, seed: 5 }));
  const words = { first: pages[0]!.words.map((word) => word.text), second: (await recogniseAgain(pictures.get(1)!, pages[0]!)).map((word) => word.text) };
  const missed = (found: readonly string[]) => [...truth].filter((text) => !found.includes(text));
  expect(missed(words.first).length / truth.size).toBeLessThan(0.1);
  expect(missed(words.second).length / truth.size).toBeLessThan(0.25);
  // What both get wrong is less than what either does: that is what reading twice is good for.
  const both = missed(words.first).filter((text) => missed(words.second).includes(text)).length;
  expect(both).toBeLessThanOrEqual(Math.min(missed(words.first).length, missed(words.second).length));
  expect(missed([...words.first, ...words.second]).length / truth.size).toBeLessThan(0.06);
}, 60_000);
