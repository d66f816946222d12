import { readDocument } from '@/core/reading/chain';
import { judge, isRight, type Judged } from '@/core/measuring/compare';
import { starterKind } from '@/core/definition/starters';
import { teach } from '@/core/teaching/teach';
import { inspectFile } from '@/digitise/inspect';
import { readPdfText } from '@/digitise/pdf';
import { makePaper, PAPER_KINDS, type PaperKind } from '../demo/papers/content';
import { printPaper } from '../demo/papers/print';
import { scanPage } from '../demo/papers/scan';
import type { Page } from '@/core/page/page';

const kinds = process.argv[2] ? [process.argv[2] as PaperKind] : PAPER_KINDS;
const [from, count, samples] = [Number(process.argv[3] ?? 100), Number(process.argv[4] ?? 20), Number(process.argv[5] ?? 1)];
const scan = process.argv[6] === 'scan';
async function pagesOf(kind: PaperKind, layout: number, seed: number): Promise<{ pages: readonly Page[]; truth: any }> {
  const made = makePaper(kind, layout, seed);
  const pdf = await printPaper(made);
  const text = await readPdfText(pdf, 200);
  if (!text.ok) throw new Error(text.detail);
  if (!scan) return { pages: text.pages, truth: made.truth };
  const pages = await Promise.all(text.pages.slice(0, 3).map(async (p) => {
    const r = await inspectFile(await scanPage(pdf, p.number, { dpi: 200, skew: ((layout * 37 + seed * 11) % 61) / 10 - 3, noise: 10, seed: layout + seed }));
    return { ...r.pages[0]!, number: p.number };
  }));
  return { pages, truth: made.truth };
}
for (const kind of kinds) {
  const def = starterKind(kind)!;
  const sets: Record<string, (Judged & { layout: number })[]> = { described: [], taught: [] };
  const t0 = performance.now();
  for (let layout = from; layout < from + count; layout += 1) {
    const train = [];
    for (let s = 1; s <= samples; s += 1) train.push({ name: `s${s}`, ...(await pagesOf(kind, layout, s)) });
    const taught = samples > 0 ? teach(def, train) : { kind: def, lessons: [] };
    for (let s = 11; s <= (scan ? 11 : 12); s += 1) {
      const test = await pagesOf(kind, layout, s);
      for (const [name, k] of [['described', def], ['taught', taught.kind]] as const) for (const j of judge(k, readDocument(test.pages, k), test.truth)) sets[name]!.push({ ...j, layout });
    }
  }
  for (const [name, all] of Object.entries(sets)) {
    const share = (of: Judged[]) => `${(100 * of.filter((j) => isRight(j.verdict)).length / of.length).toFixed(1)}% of ${of.length}`;
    const header = all.filter((j) => !j.path.includes('.')), cells = all.filter((j) => j.path.includes('.'));
    const sure = all.filter((j) => j.confidence >= 0.8 && j.found !== null);
    const wrong = sure.filter((j) => !isRight(j.verdict));
    console.log(kind.padEnd(14), name.padEnd(10), 'header', share(header), 'cells', share(cells), 'accepted', sure.length, 'wrong', wrong.length, `${(100 * wrong.length / sure.length).toFixed(2)}%`, ((performance.now() - t0) / 1000).toFixed(0) + 's');
    if (process.argv.includes('all') || name === 'taught') for (const field of new Set(all.map((j) => j.field))) {
      const of = all.filter((j) => j.field === field), bad = of.filter((j) => !isRight(j.verdict));
      if (bad.length) console.log('   ', field.padEnd(20), share(of), bad.slice(0, 6).map((j) => `L${j.layout}:${j.verdict} ${JSON.stringify(j.found)} for ${JSON.stringify(j.expected)} ${j.confidence} ${j.reader}`).join(' | '));
    }
  }
}
