import { thresholdOf, type FieldDefinition, type KindDefinition } from '@/core/reading/kind';
import type { ReaderName } from '@/core/reading/reading';
import { isRight, type Judged, type Verdict } from './compare';
import { DEFAULT_TARGET, guarantee, type Guarantee, type Target } from './threshold';

/** What reading one sample gave. */
export interface SoundedSample {
  readonly name: string;
  readonly layout: string | null;
  readonly judged: readonly Judged[];
  /** Reading alone, without drawing or recognising the pages, ms. */
  readonly tookMs: number;
  /** Price of readers that cost something. */
  readonly cost: number;
}

export type Counts = Readonly<Record<Verdict, number>>;

export interface FieldScore {
  /** `total`, or `lines.amount` for a column. */
  readonly field: string;
  readonly label: string;
  readonly counts: Counts;
  /** right and equal ÷ all. */
  readonly accuracy: number;
  /** Values that would go on alone at the threshold now set, and how many of them are wrong. */
  readonly accepted: number;
  readonly acceptedWrong: number;
  readonly guarantee: Guarantee;
}

export interface ReaderScore {
  readonly reader: ReaderName;
  readonly values: number;
  readonly right: number;
}

/** A measured test of a kind on its confirmed samples. */
export interface Sounding {
  readonly samples: number;
  readonly target: Target;
  readonly fields: readonly FieldScore[];
  readonly readers: readonly ReaderScore[];
  /** Header fields and table cells apart, right ÷ all. */
  readonly header: { readonly right: number; readonly all: number };
  readonly cells: { readonly right: number; readonly all: number };
  /** Values accepted at the thresholds now set, and wrong ones among them. */
  readonly accepted: { readonly wrong: number; readonly all: number };
  /** Samples of which every value is right and above its threshold ÷ samples. */
  readonly straightThrough: number;
  readonly tookMs: number;
  readonly cost: number;
}

const NO_COUNTS: Counts = { right: 0, equal: 0, wrong: 0, missing: 0, extra: 0 };

export function soundingOf(kind: KindDefinition, samples: readonly SoundedSample[], target: Target = DEFAULT_TARGET): Sounding {
  const all = samples.flatMap((sample) => sample.judged);
  const definitions = new Map<string, FieldDefinition>([...kind.fields.map((field): [string, FieldDefinition] => [field.key, field]), ...kind.tables.flatMap((table) => table.columns.map((column): [string, FieldDefinition] => [`${table.key}.${column.key}`, column]))]);
  const fields = [...definitions].flatMap(([key, definition]) => {
    const own = all.filter((judged) => judged.field === key);
    return own.length === 0 ? [] : [fieldScore(key, definition, own, target)];
  });
  const share = (list: readonly Judged[]) => ({ right: list.filter((judged) => isRight(judged.verdict)).length, all: list.length });
  return {
    samples: samples.length, target, fields,
    readers: readerScores(all),
    header: share(all.filter((judged) => !judged.path.includes('.'))),
    cells: share(all.filter((judged) => judged.path.includes('.'))),
    accepted: { wrong: fields.reduce((sum, field) => sum + field.acceptedWrong, 0), all: fields.reduce((sum, field) => sum + field.accepted, 0) },
    straightThrough: samples.length === 0 ? 0 : samples.filter((sample) => sample.judged.every((judged) => isRight(judged.verdict) && (judged.found === null || judged.confidence >= thresholdOf(definitions.get(judged.field) as FieldDefinition)))).length / samples.length,
    tookMs: samples.reduce((sum, sample) => sum + sample.tookMs, 0),
    cost: samples.reduce((sum, sample) => sum + sample.cost, 0),
  };
}

function fieldScore(key: string, definition: FieldDefinition, own: readonly Judged[], target: Target): FieldScore {
  const counts = own.reduce<Counts>((sum, judged) => ({ ...sum, [judged.verdict]: sum[judged.verdict] + 1 }), NO_COUNTS);
  const accepted = own.filter((judged) => judged.found !== null && judged.confidence >= thresholdOf(definition));
  const scored = own.filter((judged) => judged.found !== null).map((judged) => ({ confidence: judged.confidence, right: isRight(judged.verdict) }));
  return { field: key, label: definition.label, counts, accuracy: (counts.right + counts.equal) / own.length, accepted: accepted.length, acceptedWrong: accepted.filter((judged) => !isRight(judged.verdict)).length, guarantee: guarantee(scored, target) };
}

function readerScores(all: readonly Judged[]): ReaderScore[] {
  const names = [...new Set(all.filter((judged) => judged.found !== null).map((judged) => judged.reader))] as ReaderName[];
  return names.map((reader) => {
    const own = all.filter((judged) => judged.reader === reader && judged.found !== null);
    return { reader, values: own.length, right: own.filter((judged) => isRight(judged.verdict)).length };
  }).sort((a, b) => b.values - a.values);
}
