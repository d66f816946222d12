import { linesOf } from '@/core/page/lines';
import { readDocument } from '@/core/reading/chain';
import { starterKind } from '@/core/definition/starters';
import { readPdfText } from '@/digitise/pdf';
import { makePaper, type PaperKind } from './demo/papers/content';
import { printPaper } from './demo/papers/print';
import { wordingsOf } from '@/core/reading/wordings';
const [kind, layout] = [process.argv[2] as PaperKind, Number(process.argv[3])];
const made = makePaper(kind, layout, layout % 7);
const text = await readPdfText(await printPaper(made), 200);
if (!text.ok) throw 1;
for (const l of text.pages.flatMap(linesOf).slice(0, Number(process.argv[4] ?? 30))) console.log(l.page, l.box.map(Math.round).join(','), l.phrases.map((p) => p.text).join(' ¦ '));
const def = starterKind(kind)!;
for (const f of def.fields) { const w = wordingsOf(f, 'field', def.name); console.log(f.key, '→', w.concept, w.wordings.slice(0, 6).join(', ')); }
for (const f of def.tables[0]!.columns) { const w = wordingsOf(f, 'column', def.name); console.log('col', f.key, '→', w.concept); }
const r = readDocument(text.pages, def);
for (const [k, v] of Object.entries(r.fields)) console.log(k, v.value, v.confidence, r.alternatives[k]?.map((a) => `${a.value} ${a.confidence}`).join(' | '));
console.log(r.tables.lines?.slice(0, 3).map((row) => Object.entries(row).map(([k, c]) => `${k}=${c.value ?? c.text}`).join(' ; ')), made.truth.tables.lines?.slice(0, 2));
