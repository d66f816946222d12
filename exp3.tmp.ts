import { makePaper, type PaperKind } from './demo/papers/content';
import { printPaper } from './demo/papers/print';
import { scanPage } from './demo/papers/scan';
import { readPdfText } from '@/digitise/pdf';
import { ALL_CLEAN, cleanUp, forRecognition, openPicture, withoutRules } from '@/digitise/picture';
import { recognise } from '@/digitise/recognise';
const scans: any[] = [];
for (let i = 0; i < 8; i += 1) {
  const layout = 100 + i;
  const pdf = await printPaper(makePaper((['bill', 'delivery-note'] as PaperKind[])[i % 2]!, layout, 11));
  const text = await readPdfText(pdf, 1); if (!text.ok) throw 1;
  scans.push({ bytes: await scanPage(pdf, 1, { dpi: 200, skew: ((layout * 37 + 11 * 11) % 61) / 10 - 3, noise: 10, seed: layout + 11 }), words: text.pages[0]!.words.map((w) => w.text) });
}
const cleaned: any[] = [], raw: any[] = [];
for (const s of scans) { const p = await openPicture(s.bytes); cleaned.push(await cleanUp(p, ALL_CLEAN)); raw.push(await cleanUp(p, { ...ALL_CLEAN, contrast: false, despeckle: false })); }
const nodesp: any[] = []; for (const s of scans) nodesp.push(await cleanUp(await openPicture(s.bytes), { ...ALL_CLEAN, despeckle: false }));
for (const [name, set, psm, dpi, rules] of [['c11-200', cleaned, '11', 200, true], ['n11-200', nodesp, '11', 200, true], ['c6-200', cleaned, '6', 200, true], ['c12-200', cleaned, '12', 200, true]] as any[]) {
  const t0 = performance.now(); let [all, found, single, singleAll, num, numAll] = [0, 0, 0, 0, 0, 0]; const missed: string[] = [];
  await Promise.all(set.map(async (c: any, i: number) => {
    const pic = dpi === 300 ? await forRecognition(c) : withoutRules(c);
    const { words } = await recognise(pic, { segmentation: psm });
    const bag = new Map<string, number>(); for (const w of words) bag.set(w.text, (bag.get(w.text) ?? 0) + 1);
    for (const w of scans[i].words) { all++; const is1 = w.length === 1, isN = /\d/.test(w) && w.length > 1; if (is1) singleAll++; if (isN) numAll++; const n = bag.get(w) ?? 0; if (n > 0) { found++; bag.set(w, n - 1); if (is1) single++; if (isN) num++; } else missed.push(w); }
  }));
  console.log(name.padEnd(10), (100 * found / all).toFixed(1), 'single', `${single}/${singleAll}`, 'numbers', `${num}/${numAll}`, ((performance.now() - t0) / 1000).toFixed(1) + 's', missed.slice(0, 40).join(' '));
}
