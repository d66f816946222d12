import { linesOf, type Line } from '@/core/page/lines';
import { boxesMeet, type Box } from '@/core/page/page';
import { isRight, judge, type Judged, type Truth } from '@/core/measuring/compare';
import { readDocument } from '@/core/reading/chain';
import { describe, type Described } from '@/core/reading/described';
import type { FieldReaderSettings, KindDefinition, LayoutDefinition, LayoutLandmark, LearnedSettings, Spot, TableSettings } from '@/core/reading/kind';
import { fitOf } from '@/core/reading/layout';
import { localeOf } from '@/core/value/locale';
import type { LocaleHints } from '@/core/value/normalise';
import { locate, type Located } from './locate';
import type { Sample } from './sample';
import { spotFrom } from './spots';
import { tableSettingsFrom } from './table-settings';

/** What teaching made of one sample. */
export interface Lesson {
  readonly sample: string;
  /** Key of the layout it was put to. */
  readonly layout: string;
  readonly isNew: boolean;
  /** Confirmed values that do not stand on the pages as text, so that nothing could be learned from them. */
  readonly unseen: readonly string[];
}

export interface Taught {
  readonly kind: KindDefinition;
  readonly lessons: readonly Lesson[];
}

/** Papers of a layout resemble each other at least so much. */
const SAME_LAYOUT = 0.5;
/** Landmarks kept per layout; more cost time and tell no more. */
const MOST_LANDMARKS = 48;
const MOST_SPOTS = 8;

/** A sample looked at closely: where its confirmed values stand. */
interface Studied {
  readonly sample: Sample;
  readonly lines: readonly Line[];
  readonly locale: LocaleHints;
  readonly described: Described;
  readonly spots: ReadonlyMap<string, Spot>;
  readonly landmarks: readonly LayoutLandmark[];
  readonly unseen: readonly string[];
}

/**
 * Add to a kind what confirmed samples teach: layouts told apart by their stable words, values located relative to words beside them,
 * columns remembered. Layouts written by hand stay as they are; where they fail on a sample, a learned layout is tried before them.
 */
export function teach(kind: KindDefinition, samples: readonly Sample[]): Taught {
  const groups: { layout: LayoutDefinition | null; studied: Studied[] }[] = kind.layouts.filter((layout) => layout.landmarks !== undefined).map((layout) => ({ layout, studied: [] }));
  const lessons: Lesson[] = [];
  for (const sample of samples) {
    if (kind.layouts.some((layout) => layout.landmarks === undefined) && isAllRight(kind, sample)) continue;
    const studied = study(kind, sample);
    const fits = groups.map((group) => ({ group, share: fitOf(studied.lines, landmarksOf(group)).share })).sort((a, b) => b.share - a.share)[0];
    const group = fits && fits.share >= SAME_LAYOUT ? fits.group : { layout: null, studied: [] };
    const isNew = group.layout === null && group.studied.length === 0;
    if (isNew) groups.push(group);
    group.studied.push(studied);
    lessons.push({ sample: sample.name, layout: keyOf(group, groups), isNew, unseen: studied.unseen });
  }
  const learned = groups.map((group) => layoutFrom(kind, group, keyOf(group, groups)));
  const byHand = kind.layouts.filter((layout) => layout.landmarks === undefined);
  return { kind: { ...kind, layouts: [...byHand, ...learned] }, lessons };
}

/**
 * The kind as it would be without one of the samples it was taught with: what it would have made of that sample as a new one. Readers
 * that somebody has set by hand do not know the sample and stay.
 */
export function withoutSample(kind: KindDefinition, samples: readonly Sample[], name: string): KindDefinition {
  const layout = kind.layouts.find((candidate) => candidate.samples?.includes(name));
  if (!layout) return kind;
  const others = samples.filter((sample) => sample.name !== name && layout.samples?.includes(sample.name));
  const rest = { ...kind, layouts: kind.layouts.filter((candidate) => candidate !== layout) };
  if (others.length === 0) return rest;
  return { ...rest, layouts: [...rest.layouts, ...learnedAgain(kind, others).map((learned) => ({ ...learned, key: layout.key, fields: withHandmade(layout, learned) }))] };
}

function withHandmade(layout: LayoutDefinition, learned: LayoutDefinition): LayoutDefinition['fields'] {
  const keys = new Set([...Object.keys(layout.fields), ...Object.keys(learned.fields)]);
  const merged = [...keys].map((key): [string, LayoutDefinition['fields'][string]] => {
    const own = layout.fields[key];
    const again = (learned.fields[key] ?? []).filter((reader) => reader.reader === 'learned');
    return [key, own ? own.flatMap((reader): readonly FieldReaderSettings[] => (reader.reader === 'learned' ? again : [reader])) : (learned.fields[key] ?? [])];
  });
  return Object.fromEntries(merged.filter(([, readers]) => readers.length > 0));
}

/** What samples teach, remembered as long as their pages are in memory: while a rule is edited, the same is learned again and again. */
const remembered = new WeakMap<Sample['pages'], Map<string, readonly LayoutDefinition[]>>();
const MOST_REMEMBERED = 200;

function learnedAgain(kind: KindDefinition, samples: readonly Sample[]): readonly LayoutDefinition[] {
  const first = samples[0]?.pages ?? [];
  const known = remembered.get(first) ?? new Map<string, readonly LayoutDefinition[]>();
  const { name, fields, tables, locale } = kind;
  // Thresholds and wordings of checks change nothing in what is learned; the rest of these does.
  const signature = JSON.stringify([name, fields, tables, locale, samples.map((sample) => [sample.name, sample.truth])]);
  const before = known.get(signature);
  if (before) return before;
  const learned = teach({ ...kind, layouts: [] }, samples).kind.layouts;
  if (known.size >= MOST_REMEMBERED) known.clear();
  remembered.set(first, known.set(signature, learned));
  return learned;
}

const keyOf = (group: { layout: LayoutDefinition | null }, groups: readonly { layout: LayoutDefinition | null }[]): string => group.layout?.key ?? `learned-${groups.indexOf(group as never) + 1}`;

const isAllRight = (kind: KindDefinition, sample: Sample): boolean => judge(kind, readDocument(sample.pages, kind), sample.truth).every((judged) => isRight(judged.verdict));

const landmarksOf = (group: { layout: LayoutDefinition | null; studied: readonly Studied[] }): readonly LayoutLandmark[] => group.layout?.landmarks ?? group.studied[0]?.landmarks ?? [];

function study(kind: KindDefinition, sample: Sample): Studied {
  const printed = sample.pages.filter((page) => page.origin !== 'data');
  const lines = printed.flatMap(linesOf);
  const locale = bestLocale(kind, lines, sample.truth);
  const described = describe({ pages: printed, lines, kind, locale });
  const places = new Map<string, Located[]>();
  const unseen: string[] = [];
  for (const field of kind.fields) {
    const value = sample.truth.fields[field.key];
    if (value === undefined || value === null || value === '') continue;
    const found = locate(value, field, lines, locale);
    if (found.length > 0) places.set(field.key, found);
    else unseen.push(field.label);
  }
  const variable = [...places.values()].flatMap((found) => found.map(({ page, box }) => ({ page, box })));
  const spots = new Map<string, Spot>();
  for (const field of kind.fields) {
    const found = places.get(field.key);
    const spot = found ? spotFrom({ pages: printed, lines, field, value: sample.truth.fields[field.key] ?? '', places: found, described: described.field(field.key), variable: variable.filter((other) => !found.some((own) => own.box === other.box)) }) : null;
    if (spot) spots.set(field.key, spot);
  }
  return { sample, lines, locale, described, spots, landmarks: landmarksFrom(kind, sample, lines, variable), unseen };
}

/** The way of writing under which most of the confirmed values are found on the pages; what the page itself says goes first. */
function bestLocale(kind: KindDefinition, lines: readonly Line[], truth: Truth): LocaleHints {
  const told = localeOf(lines.flatMap((line) => line.words.map((word) => word.text)), kind.locale);
  const ways: LocaleHints[] = [told, ...(['.', ','] as const).flatMap((decimal) => (['dmy', 'mdy', 'ymd'] as const).map((dates) => ({ decimal, dates })))];
  const judged = kind.fields.filter((field) => ['money', 'number', 'date'].includes(field.type) && truth.fields[field.key]);
  const found = (way: LocaleHints): number => judged.filter((field) => locate(truth.fields[field.key] ?? '', field, lines, way).length > 0).length;
  return ways.map((way, index) => ({ way, score: found(way) - index * 0.001 })).sort((a, b) => b.score - a.score)[0]?.way ?? told;
}

/** Words of the first page that are probably on every paper of the layout: no figures, no confirmed values, no rows. */
function landmarksFrom(kind: KindDefinition, sample: Sample, lines: readonly Line[], variable: readonly { page: number; box: Box }[]): LayoutLandmark[] {
  const rows = Object.values(sample.truth.tables ?? {}).flat().flatMap((row) => Object.values(row)).filter((text): text is string => text !== null).flatMap((text) => text.toLowerCase().split(/\s+/));
  const inRows = new Set(rows);
  const words = lines
    .filter((line) => line.page === 1)
    .flatMap((line) => line.words)
    .filter((word) => /^\p{L}[\p{L}.,:&'’/-]{2,}$/u.test(word.text) && (word.sure ?? 1) >= 0.6 && !inRows.has(word.text.toLowerCase()) && !variable.some((other) => other.page === 1 && boxesMeet(other.box, word.box, 0.5)));
  const counts = new Map<string, number>();
  for (const word of words) counts.set(word.text.toLowerCase(), (counts.get(word.text.toLowerCase()) ?? 0) + 1);
  return words.sort((a, b) => (counts.get(a.text.toLowerCase()) ?? 0) - (counts.get(b.text.toLowerCase()) ?? 0) || b.text.length - a.text.length).slice(0, MOST_LANDMARKS).map((word) => ({ text: word.text, page: 1, box: word.box.map((edge) => Math.round(edge * 10) / 10) as unknown as Box }));
}

function layoutFrom(kind: KindDefinition, group: { layout: LayoutDefinition | null; studied: readonly Studied[] }, key: string): LayoutDefinition {
  const { layout, studied } = group;
  if (layout && studied.length === 0) return layout;
  const first = studied[0];
  const landmarks = stableLandmarks(landmarksOf(group), studied);
  const locale = first?.locale ?? layout?.locale ?? { decimal: '.', dates: 'dmy' };
  const fields = Object.fromEntries(kind.fields.flatMap((field): [string, readonly FieldReaderSettings[]][] => {
    const known = (layout?.fields[field.key] ?? []).flatMap((reader) => (reader.reader === 'learned' ? reader.spots : []));
    const spots = withoutDoubles([...studied.flatMap((each) => each.spots.get(field.key) ?? []), ...known]).slice(0, MOST_SPOTS);
    return spots.length === 0 ? [] : [[field.key, [{ reader: 'learned', spots } satisfies LearnedSettings]]];
  }));
  const draft: LayoutDefinition = { key, name: layout?.name ?? nameOf(kind, studied, key), recognise: [], landmarks, samples: [...new Set([...(layout?.samples ?? []), ...studied.map((each) => each.sample.name)])], locale, fields, tables: layout?.tables ?? {} };
  const withTables = { ...draft, tables: Object.fromEntries(kind.tables.flatMap((table) => {
    const settings = bestTable(kind, draft, table.key, studied);
    return settings ? [[table.key, settings]] : [];
  })) };
  return helpedOut(kind, withTables, studied);
}

function nameOf(kind: KindDefinition, studied: readonly Studied[], key: string): string {
  const constant = studied.flatMap((each) => [...each.spots.values()]).find((spot) => spot.constant !== undefined)?.constant;
  return constant ?? `${kind.name}, ${key.replace('-', ' ')}`;
}

/** Words that stand where they stood on most of the samples; those of one paper only fall out once there is a second. */
function stableLandmarks(landmarks: readonly LayoutLandmark[], studied: readonly Studied[]): readonly LayoutLandmark[] {
  const others = studied.slice(1);
  if (others.length === 0) return landmarks;
  const kept = landmarks.filter((landmark) => others.filter(({ lines }) => lines.some((line) => line.page === landmark.page && line.words.some((word) => word.text === landmark.text && Math.hypot(word.box[0] - landmark.box[0], word.box[1] - landmark.box[1]) < 60))).length >= others.length / 2);
  return kept.length >= 8 ? kept : landmarks;
}

const withoutDoubles = (spots: readonly Spot[]): Spot[] => spots.filter((spot, index) => spots.findIndex((other) => other.constant === spot.constant && other.shape === spot.shape && other.page === spot.page && other.anchors[0]?.text === spot.anchors[0]?.text && other.box.every((edge, at) => Math.abs(edge - (spot.box[at] ?? 0)) < 12)) === index);

/** Of the settings that the samples suggest, those that read the most confirmed cells of all of them right. */
function bestTable(kind: KindDefinition, layout: LayoutDefinition, key: string, studied: readonly Studied[]): TableSettings | null {
  const table = kind.tables.find((candidate) => candidate.key === key);
  const withRows = studied.filter((each) => (each.sample.truth.tables?.[key]?.length ?? 0) > 0);
  if (!table || withRows.length === 0) return layout.tables[key] ?? null;
  const candidates = [layout.tables[key], ...withRows.flatMap((each) => [tableSettingsFrom(each.lines, table, each.sample.truth.tables?.[key] ?? [], each.locale), each.described.table(key)?.settings])].filter((settings): settings is TableSettings => settings != null);
  // Values that repeat from row to row may be printed once for all of them; whether they are, the samples tell.
  const repeated = table.columns.filter((column) => withRows.some((each) => (each.sample.truth.tables?.[key] ?? []).some((row, index, rows) => index > 0 && (row[column.key] ?? null) !== null && row[column.key] === rows[index - 1]?.[column.key]))).map((column) => column.key);
  const merged = repeated.length === 0 ? [] : candidates.map((settings) => ({ ...settings, carry: repeated }));
  const only = { ...kind, fields: [], tables: [table] };
  const score = (settings: TableSettings): number => withRows.reduce((sum, each) => {
    const judged = judge(only, readDocument(each.sample.pages, { ...only, layouts: [{ ...layout, fields: {}, tables: { [key]: settings } }] }), { fields: {}, tables: { [key]: each.sample.truth.tables?.[key] ?? [] } });
    return sum + rightShare(judged);
  }, 0);
  return [...candidates, ...merged].map((settings) => ({ settings, score: score(settings) })).sort((a, b) => b.score - a.score)[0]?.settings ?? null;
}

const rightShare = (judged: readonly Judged[]): number => (judged.length === 0 ? 0 : judged.filter((each) => isRight(each.verdict)).length / judged.length);

/** A field that the learned places get wrong on a sample though its description finds it is left to the description. */
function helpedOut(kind: KindDefinition, layout: LayoutDefinition, studied: readonly Studied[]): LayoutDefinition {
  const right = (tried: LayoutDefinition): Map<string, number> => {
    const counts = new Map<string, number>();
    for (const { sample } of studied) for (const judged of judge({ ...kind, tables: [] }, readDocument(sample.pages, { ...kind, tables: [], layouts: [tried] }), { fields: sample.truth.fields })) counts.set(judged.field, (counts.get(judged.field) ?? 0) + Number(isRight(judged.verdict)));
    return counts;
  };
  const describedOnly: LayoutDefinition = { ...layout, fields: {} };
  const [learned, described] = [right(layout), right(describedOnly)];
  return { ...layout, fields: Object.fromEntries(Object.entries(layout.fields).map(([key, readers]) => [key, (described.get(key) ?? 0) > (learned.get(key) ?? 0) ? [{ reader: 'described' as const }, ...readers] : readers])) };
}
