import { makePaper } from './demo/papers/content';
import { printPaper } from './demo/papers/print';
import { scanPage } from './demo/papers/scan';
import { mkdirSync, writeFileSync } from 'node:fs';
mkdirSync('/tmp/samples', { recursive: true });
for (const [l, s] of [[301, 1], [301, 2], [302, 1], [303, 1]]) {
  const made = makePaper('bill', l, s); const pdf = await printPaper(made);
  const name = `b-${l}-${s}`;
  if (l === 303) writeFileSync(`/tmp/samples/${name}.png`, await (await import('sharp')).default(await scanPage(pdf, 1, { dpi: 200, skew: 1.5, noise: 8, seed: 5 })).png().toBuffer()); else writeFileSync(`/tmp/samples/${name}.pdf`, pdf);
  writeFileSync(`/tmp/samples/${name}.truth.json`, JSON.stringify(made.truth));
}
