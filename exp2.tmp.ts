import { ALL_CLEAN, cleanUp, forRecognition, openPicture } from '@/digitise/picture';
import { recognise } from '@/digitise/recognise';
import { readFileSync, writeFileSync } from 'node:fs';
const bytes = readFileSync('/tmp/scan0.jpg');
let t = performance.now(); const lap = (n: string) => { console.log(n, (performance.now() - t).toFixed(0)); t = performance.now(); };
const p = await openPicture(bytes); lap('open');
for (const off of [{}, { contrast: false }, { despeckle: false }, {deskew: false}]) {
const c = await cleanUp(p, { ...ALL_CLEAN, ...off }); lap(JSON.stringify(off) + 'clean ' + c.skew);

const f = await forRecognition(c); lap('up');
const r0 = await recognise(c); lap('ocr small ' + r0.words.length + ' ' + r0.sure.toFixed(3)); const r = await recognise(f); lap('ocr ' + r.words.length + ' ' + r.sure.toFixed(3));
}
