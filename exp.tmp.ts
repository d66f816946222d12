import { makePaper, type PaperKind } from './demo/papers/content';
import { printPaper } from './demo/papers/print';
import { scanPage } from './demo/papers/scan';
import { readPdfText } from '@/digitise/pdf';
import { ALL_CLEAN, cleanUp, forRecognition, openPicture } from '@/digitise/picture';
import { recognise } from '@/digitise/recognise';
import { writeFileSync } from 'node:fs';

const cases = process.argv[2] === 'few' ? 6 : 16;
const variants: [string, Partial<typeof ALL_CLEAN>, string, boolean, string[]?][] = [
  ['psm11', {}, '11', true], ['psm11 nocontrast', { contrast: false }, '11', true], ['psm11 nodesp', { despeckle: false }, '11', true],
];
const scans: { bytes: Buffer; words: string[] }[] = [];
for (let i = 0; i < cases; i += 1) {
  const made = makePaper((['bill', 'delivery-note', 'order', 'statement'] as PaperKind[])[i % 4]!, 20 + i, 1);
  const pdf = await printPaper(made);
  const text = await readPdfText(pdf, 1);
  if (!text.ok) throw new Error();
  scans.push({ bytes: await scanPage(pdf, 1, { dpi: 200, skew: ((i * 37) % 61) / 10 - 3, noise: 12, seed: i, stain: i % 3 === 0 }), words: text.pages[0]!.words.map((w) => w.text) });
}
writeFileSync('/tmp/scan0.jpg', scans[0]!.bytes);
for (const [name, off, psm, up, args] of variants) {
  let [found, all] = [0, 0]; const t0 = performance.now(); const skews: string[] = [];
  await Promise.all(scans.map(async (scan, i) => {
    const cleaned = await cleanUp(await openPicture(scan.bytes), { ...ALL_CLEAN, ...off });
    skews.push(`${(((i * 37) % 61) / 10 - 3).toFixed(1)}/${cleaned.skew.toFixed(1)}`);
    
    const { words } = await recognise(up ? await forRecognition({ ...cleaned, dpi: 300 }) : cleaned, { segmentation: psm, ...(args ? { args } : {}) });
    const missed: string[] = [];
    const bag = new Map<string, number>();
    for (const w of words) bag.set(w.text, (bag.get(w.text) ?? 0) + 1);
    for (const w of scan.words) { all += 1; const n = bag.get(w) ?? 0; if (n > 0) { found += 1; bag.set(w, n - 1); } else if (name === 'psm11') missed.push(w); }
    if (name === 'psm11') console.log(i, scan.words.length, 'missed', missed.slice(0, 30).join(' '), '| extra', [...bag].filter(([, n]) => n > 0).map(([w]) => w).slice(0, 30).join(' '));
  }));
  console.log(name.padEnd(14), (100 * found / all).toFixed(2), ((performance.now() - t0) / 1000).toFixed(1) + 's', name === 'all psm4' ? skews.join(' ') : '');
}
