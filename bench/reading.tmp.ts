import { linesOf } from '@/core/page/lines';
import { readDocument } from '@/core/reading/chain';
import { judge, isRight, type Judged } from '@/core/measuring/compare';
import { starterKind } from '@/core/definition/starters';
import { readPdfText } from '@/digitise/pdf';
import { makePaper, PAPER_KINDS, type PaperKind } from '../demo/papers/content';
import { printPaper } from '../demo/papers/print';

const kinds = process.argv[2] ? [process.argv[2] as PaperKind] : PAPER_KINDS;
const from = Number(process.argv[3] ?? 100), count = Number(process.argv[4] ?? 40);
const show = process.argv[5] === 'show';
for (const kind of kinds) {
  const def = starterKind(kind)!;
  const all: (Judged & { layout: number })[] = [];
  for (let layout = from; layout < from + count; layout += 1) {
    const made = makePaper(kind, layout, layout % 7);
    const text = await readPdfText(await printPaper(made), 200);
    if (!text.ok) throw new Error(text.detail);
    const reading = readDocument(text.pages, def);
    for (const j of judge(def, reading, made.truth)) all.push({ ...j, layout });
  }
  const share = (of: Judged[]) => `${(100 * of.filter((j) => isRight(j.verdict)).length / of.length).toFixed(1)}% of ${of.length}`;
  const header = all.filter((j) => !j.path.includes('.')), cells = all.filter((j) => j.path.includes('.'));
  const sure = all.filter((j) => j.confidence >= 0.8 && j.found !== null);
  const wrong = sure.filter((j) => !isRight(j.verdict));
  console.log(kind.padEnd(14), 'header', share(header), 'cells', share(cells), 'accepted', sure.length, 'wrong', wrong.length, `${(100 * wrong.length / sure.length).toFixed(2)}%`);
  for (const field of new Set(all.map((j) => j.field))) {
    const of = all.filter((j) => j.field === field), bad = of.filter((j) => !isRight(j.verdict));
    console.log('   ', field.padEnd(20), share(of), bad.length ? bad.slice(0, 4).map((j) => `L${j.layout}:${j.verdict} ${JSON.stringify(j.found)} for ${JSON.stringify(j.expected)} ${j.confidence}`).join(' | ') : '');
  }
  if (show) for (const j of wrong.slice(0, 30)) console.log('  ACCEPTED WRONG', j.layout, j.path, j.verdict, j.found, '≠', j.expected, j.confidence);
}
