/**
 * How well papers are read that nobody has taught, that were taught with three samples, and after one correction; with a text layer
 * and as scans of 200 dpi, crooked by up to three degrees and noisy. Layout seeds from 1,000 on are used nowhere else. Prints a table
 * of shares; absolute times are for interest only.
 */
import { parseArgs } from 'node:util';
import { starterKind } from '@/core/definition/starters';
import { isRight, judge, type Judged } from '@/core/measuring/compare';
import type { Page, Word } from '@/core/page/page';
import { readWithAids } from '@/core/reading/read-with-aids';
import type { KindDefinition } from '@/core/reading/kind';
import type { Sample } from '@/core/teaching/sample';
import { teach } from '@/core/teaching/teach';
import { inspectFile } from '@/digitise/inspect';
import { recogniseAgain } from '@/digitise/second';
import { readPdfText } from '@/digitise/pdf';
import { makePaper, PAPER_KINDS, type PaperKind } from '../demo/papers/content';
import { printPaper } from '../demo/papers/print';
import { scanPage } from '../demo/papers/scan';

const { values: options } = parseArgs({ options: { layouts: { type: 'string', default: '24' }, scans: { type: 'string', default: '6' }, from: { type: 'string', default: '1000' }, only: { type: 'string' } } });
const FROM = Number(options.from);
/** Pages of a long scan beyond this are left out: they cost time and show nothing new. */
const MOST_SCANNED = 2;
const DEFAULT_THRESHOLD = 0.8;

type Ways = 'never seen' | 'after one correction' | 'taught with three';
type Tally = Map<string, Judged[]>;

/** A sample with what its pages' second recognition gave, made when first asked for. */
type Benched = Sample & { readonly second: (page: number) => Promise<readonly Word[]> };

async function sampleOf(kind: PaperKind, layout: number, seed: number, scanned: boolean): Promise<Benched> {
  const made = makePaper(kind, layout, seed);
  const pdf = await printPaper(made);
  const text = await readPdfText(pdf, 200);
  if (!text.ok) throw new Error(text.detail);
  const name = `${kind}-${layout}-${seed}`;
  if (!scanned) return { name, pages: text.pages, truth: made.truth, second: async () => [] };
  const pictures = new Map<number, Buffer>();
  const known = new Map<number, Promise<readonly Word[]>>();
  const skew = ((layout * 37 + seed * 11) % 61) / 10 - 3;
  const pages = await Promise.all(text.pages.slice(0, MOST_SCANNED).map(async (page): Promise<Page> => {
    const { pages: [read], pictures: made } = await inspectFile(await scanPage(pdf, page.number, { dpi: 200, skew, noise: 10, seed: layout + seed + page.number }));
    if (!read) throw new Error(`${name} was not read`);
    pictures.set(page.number, made.get(1) as Buffer);
    return { ...read, number: page.number };
  }));
  const second = (number: number): Promise<readonly Word[]> => {
    const asked = known.get(number) ?? recogniseAgain(pictures.get(number) as Buffer, pages.find((page) => page.number === number) as Page);
    known.set(number, asked);
    return asked;
  };
  return { name, pages, truth: made.truth, second };
}

async function add(tally: Tally, way: string, kind: KindDefinition, sample: Benched): Promise<void> {
  const { reading } = await readWithAids(sample.pages, kind, { lists: async () => new Map(), remembered: async () => [], second: sample.second, answer: async () => null });
  tally.set(way, [...(tally.get(way) ?? []), ...judge(kind, reading, sample.truth)]);
}

async function measure(kind: PaperKind, layouts: number, scanned: boolean, tally: Tally): Promise<void> {
  const bare = starterKind(kind);
  if (!bare) throw new Error(kind);
  for (let layout = FROM; layout < FROM + layouts; layout += 1) {
    const [one, two, three, ...fresh] = await Promise.all([1, 2, 3, 11, ...(scanned ? [] : [12])].map((seed) => sampleOf(kind, layout, seed, scanned)));
    // A document that would have more pages than were scanned has rows nobody could read.
    const fair = fresh.filter((sample) => !scanned || sample.pages.length < MOST_SCANNED);
    if (!one || !two || !three) continue;
    const ways: [Ways, KindDefinition][] = [['never seen', bare], ['after one correction', teach(bare, [one]).kind], ['taught with three', teach(bare, [one, two, three]).kind]];
    for (const sample of fair) for (const [way, definition] of ways) await add(tally, way, definition, sample);
  }
}

const share = (list: readonly Judged[]): string => (list.length === 0 ? '–' : `${((100 * list.filter((judged) => isRight(judged.verdict)).length) / list.length).toFixed(1)} %`);

function print(title: string, tally: Tally, aims: Readonly<Record<Ways, string>>): void {
  console.log(`\n${title}`);
  for (const [way, judged] of tally) {
    const [header, cells] = [judged.filter((each) => !each.path.includes('.')), judged.filter((each) => each.path.includes('.'))];
    const accepted = judged.filter((each) => each.found !== null && each.confidence >= DEFAULT_THRESHOLD);
    const wrong = accepted.filter((each) => !isRight(each.verdict)).length;
    console.log(`  ${way.padEnd(22)} fields ${share(header).padStart(7)} of ${String(header.length).padEnd(5)} cells ${share(cells).padStart(7)} of ${String(cells.length).padEnd(6)} accepted without a look ${accepted.length}, wrong ${wrong} (${((100 * wrong) / Math.max(1, accepted.length)).toFixed(2)} %)   aim ${aims[way as Ways]}`);
  }
}

for (const [title, layouts, scanned, aims] of [
  ['Text layer', Number(options.layouts), false, { 'never seen': '85 / 75 %', 'after one correction': '97 / 95 %', 'taught with three': '99 / 98 %' }],
  ['Scans, 200 dpi, up to 3° crooked, noisy', Number(options.scans), true, { 'never seen': '80 / 75 %', 'after one correction': '95 / 95 %', 'taught with three': '97 / 98 %' }],
] as const) {
  if (options.only && !title.toLowerCase().startsWith(options.only)) continue;
  const whole: Tally = new Map();
  for (const kind of PAPER_KINDS) await measure(kind, layouts, scanned, whole);
  print(title, whole, aims);
}
