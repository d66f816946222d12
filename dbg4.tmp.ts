import { linesOf } from '@/core/page/lines';
import { readDocument } from '@/core/reading/chain';
import { starterKind } from '@/core/definition/starters';
import { inspectFile } from '@/digitise/inspect';
import { makePaper } from './demo/papers/content';
import { printPaper } from './demo/papers/print';
import { scanPage } from './demo/papers/scan';
for (const layout of process.argv.slice(2).map(Number)) {
const pdf = await printPaper(makePaper('bill', layout, 11));
const { pages } = await inspectFile(await scanPage(pdf, 1, { dpi: 200, skew: ((layout * 37 + 11 * 11) % 61) / 10 - 3, noise: 10, seed: layout + 11 }));
for (const l of pages.flatMap(linesOf)) console.log(l.box.map(Math.round).join(','), l.phrases.map((p) => p.text).join(' ¦ '));
const r = readDocument(pages, starterKind('bill')!);
for (const [k, v] of Object.entries(r.fields)) console.log(k, v.value, v.confidence, r.alternatives[k]?.map((a) => `${a.value} ${a.confidence}`).join(' | '));
}
