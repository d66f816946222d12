import { writeFileSync } from 'node:fs';
import { stringify } from 'yaml';
import { isRight, judge } from '@/core/measuring/compare';
import { soundingOf, type SoundedSample } from '@/core/measuring/sounding';
import { readWithAids } from '@/core/reading/read-with-aids';
import { teach, withoutSample } from '@/core/teaching/teach';
import { listsFrom, localAids } from './aids';
import { cleanUpOf, kindFrom } from './read';
import { loadSamples } from './samples';

const percent = ({ right, all }: { readonly right: number; readonly all: number }): string => (all === 0 ? '–' : `${((100 * right) / all).toFixed(1)} % of ${all}`);

/** Measure a kind on a folder of samples. Exit code: 0 all right, 1 something is not, 2 it could not be done. */
export async function soundFolder(kindName: string, folder: string, options: { readonly list: readonly string[]; readonly json?: boolean }): Promise<number> {
  const kind = kindFrom(kindName);
  const { samples, problems } = await loadSamples(folder, cleanUpOf(kind));
  const lists = await listsFrom(options.list);
  const sounded = await Promise.all(samples.map(async (sample): Promise<SoundedSample> => {
    const fair = withoutSample(kind, samples, sample.name);
    const begun = performance.now();
    const { reading } = await readWithAids(sample.pages, fair, localAids(sample, lists));
    return { name: sample.name, layout: reading.layout, tookMs: performance.now() - begun, cost: 0, judged: judge(fair, reading, sample.truth) };
  }));
  const sounding = soundingOf(kind, sounded);
  const allRight = problems.length === 0 && sounded.every((sample) => sample.judged.every((judged) => isRight(judged.verdict)));
  if (options.json) console.log(JSON.stringify({ kind: kind.key, ...sounding, perSample: sounded, problems }, null, 2));
  else print(kind.name, sounding, sounded, problems);
  return allRight ? 0 : 1;
}

function print(name: string, sounding: ReturnType<typeof soundingOf>, sounded: readonly SoundedSample[], problems: readonly { text: string }[]): void {
  console.log(`${name} on ${sounding.samples} samples: fields ${percent(sounding.header)}, table cells ${percent(sounding.cells)}, straight through ${(sounding.straightThrough * 100).toFixed(0)} %`);
  console.log(`accepted without a look ${sounding.accepted.all}, wrong among them ${sounding.accepted.wrong}\n`);
  for (const { label, counts, accuracy, guarantee } of sounding.fields) {
    const bought = guarantee.ok ? `threshold ${guarantee.point.threshold.toFixed(2)} → ${(guarantee.point.straightThrough * 100).toFixed(0)} % straight through` : `not enough samples yet: ${guarantee.missing} more`;
    console.log(`${label.padEnd(24)} ${(accuracy * 100).toFixed(1).padStart(5)} %  wrong ${counts.wrong}, missing ${counts.missing}, too many ${counts.extra}   ${bought}`);
  }
  for (const sample of sounded) for (const judged of sample.judged) if (!isRight(judged.verdict)) console.log(`${sample.name}: ${judged.path} ${judged.verdict}: read ${judged.found ?? 'nothing'}, confirmed ${judged.expected ?? 'nothing'} (${judged.reader}, ${Math.round(judged.confidence * 100)})`);
  for (const { text } of problems) console.log(`left out: ${text}`);
}

/** Teach a kind with a folder of samples and write the result. */
export async function teachFolder(kindName: string, folder: string, options: { readonly out: string; readonly json?: boolean }): Promise<number> {
  const kind = kindFrom(kindName);
  const { samples, problems } = await loadSamples(folder, cleanUpOf(kind));
  const taught = teach(kind, samples);
  writeFileSync(options.out, stringify(taught.kind, { lineWidth: 0, aliasDuplicateObjects: false }));
  if (options.json) console.log(JSON.stringify({ kind: kind.key, out: options.out, layouts: taught.kind.layouts.map(({ key, name, samples: from }) => ({ key, name, samples: from ?? [] })), lessons: taught.lessons, problems }, null, 2));
  else {
    for (const lesson of taught.lessons) console.log(`${lesson.sample}: ${lesson.isNew ? 'a new layout' : 'one more of'} ${lesson.layout}${lesson.unseen.length > 0 ? `; not found on its pages: ${lesson.unseen.join(', ')}` : ''}`);
    for (const { text } of problems) console.log(`left out: ${text}`);
    console.log(`${options.out}: ${taught.kind.layouts.length} ${taught.kind.layouts.length === 1 ? 'layout' : 'layouts'}`);
  }
  return problems.length === 0 ? 0 : 1;
}
