import { boxHeight, centreX, overlap, unionOf, type Page, type Place, type Word } from '@/core/page/page';
import { phraseOf, textOf, type Line, type Phrase } from '@/core/page/lines';
import { parseDate } from '@/core/value/date';
import type { LocaleHints } from '@/core/value/normalise';
import { describedTotals } from './described-totals';
import { findTable, type FoundTable } from './described-table';
import { normaliseWords, type FieldDefinition, type KindDefinition } from './kind';
import { behind, labelsOn, type Label, type Labels } from './labels';
import { readLetterhead } from './letterhead';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';
import { readTicked } from './ticks';
import { CONCEPTS, wordingsOf, type Concept } from './wordings';

/** What can be found on a document from the descriptions of a kind alone, without any teaching. */
export interface Described {
  /** Proposals for a field, best first. */
  field(key: string): readonly Reading[];
  table(key: string): FoundTable | null;
}

export interface DescribedInput {
  readonly pages: readonly Page[];
  readonly lines: readonly Line[];
  readonly kind: KindDefinition;
  readonly locale: LocaleHints;
}

/** Words that only rows have; a line with three of them is the heading of a table, whatever the kind describes. */
const ROW_HEADS: readonly Concept[] = ['quantity', 'unit of measure', 'description', 'item code', 'unit price', 'line amount', 'running balance', 'debit', 'credit', 'result', 'parameter'];

/** Look at a whole document once; what the fields compete for is settled among them. */
export function describe(input: DescribedInput): Described {
  const { kind, lines, locale } = input;
  const tables = new Map(kind.tables.map((table) => [table.key, findTable(lines, table, kind.name, locale)]));
  const inTables = new Set([...tables.values()].flatMap((table) => (table ? [...table.lines] : [])));
  const outside = lines.filter((line) => !inTables.has(line));
  const fields = kind.fields.map((field) => ({ field, ...wordingsOf(field, 'field', kind.name) }));
  const labels = labelsOn(outside, fields.map((field) => field.wordings));
  const heads = headLines(outside, labels);
  const free = outside.filter((line) => !heads.has(line));
  const search: Search = { ...input, lines: free, labels };
  const found = new Map(fields.map(({ field, wordings, concept }) => [field.key, candidatesFor(search, field, wordings, concept)]));
  settle(found);
  describedTotals(found, fields, { tables: [...tables.values()], ...search, candidates: (field, wordings, concept) => candidatesFor(search, field, wordings, concept) });
  return { field: (key) => found.get(key) ?? [], table: (key) => tables.get(key) ?? null };
}

function headLines(lines: readonly Line[], labels: Labels): Set<Line> {
  const counts = new Map<Line, number>();
  for (const concept of ROW_HEADS) for (const line of new Set(labels.find(CONCEPTS[concept]).map((label) => label.line))) counts.set(line, (counts.get(line) ?? 0) + 1);
  return new Set([...counts].filter(([line, count]) => count >= 3 && count >= line.phrases.length * 0.6).map(([line]) => line));
}

export interface Search extends DescribedInput {
  readonly labels: Labels;
}

/** Suggestions that are carried along per field. */
const MOST_CANDIDATES = 8;

function candidatesFor(search: Search, field: FieldDefinition, wordings: readonly string[], concept: Concept | null): Reading[] {
  const beside = search.labels.find(wordings).flatMap((label) => besideLabel(search, label, field));
  const ticked = field.type === 'choice' || field.type === 'yes-no' ? readTicked(search.lines, field, wordings) : [];
  const named = field.type === 'text' && isIssuer(field, concept, search.kind.name) ? readLetterhead(search.lines, search.pages) : [];
  const bare = beside.length + ticked.length > 0 ? [] : withoutLabel(search, field, concept);
  const all = [...bare, ...ticked, ...beside, ...named.map((reading) => (beside.length > 0 ? weakened(reading, 'a label names another', 0.9) : reading))];
  return ranked(all, search.pages, concept).slice(0, MOST_CANDIDATES);
}

const OWN_DATES: readonly (Concept | null)[] = ['document date', 'delivery date', 'order date', 'statement date'];

/** The date of a slip has no label now and then, and a way of payment is just printed. Doubtful enough to be looked at. */
function withoutLabel(search: Search, field: FieldDefinition, concept: Concept | null): Reading[] {
  if (field.type === 'choice') {
    const found = (field.options ?? []).flatMap((option) => search.labels.find([option]).filter((label) => label.alone).slice(0, 1).map((label) => ({ option, label })));
    return found.length === 1 ? found.map(({ option, label }) => bareReading(option, label.phrase.text, label.line.page, label.phrase.words, 'the only choice that is printed', 0.75)) : [];
  }
  if (field.type !== 'date' || !(OWN_DATES.includes(concept) || field.key === 'date')) return [];
  const dates = search.lines.flatMap((line) => line.phrases.flatMap((phrase) => offers(phrase, field).map((words) => ({ line, words })))).flatMap(({ line, words }) => {
    const fit = normaliseWords(field, words, search.locale);
    return fit.ok ? [{ line, words, value: fit.value }] : [];
  });
  const only = new Set(dates.map(({ value }) => value)).size === 1;
  return dates.slice(0, 1).map(({ line, words, value }) => bareReading(value, textOf(words), line.page, words, only ? 'the only date on the paper' : 'the first date on the paper', only ? 0.76 : 0.55));
}

function bareReading(value: string, text: string, page: number, words: readonly Word[], what: string, factor: number): Reading {
  const evidence: Evidence[] = [{ what, factor }, ...surenessOf(words)];
  return { text, value, place: { page, box: unionOf(words.map((word) => word.box)) }, anchor: null, reader: 'described', confidence: confidenceOf(evidence), evidence };
}

/** Who a paper comes from: the seller on a bill, the buyer on an order. */
function isIssuer(field: FieldDefinition, concept: Concept | null, kindName: string): boolean {
  const name = `${field.key} ${field.label}`.toLowerCase();
  const ordering = /\border\b/i.test(kindName);
  if (concept === 'customer name') return ordering;
  if (concept === 'supplier name') return !ordering;
  const sender = /issuer|sender|company|merchant|shop|store|laborator|bank|utility|provider|organi[sz]ation|buyer|vendor|supplier/.test(name);
  // A carrier is somebody else's, except where the whole paper is about carrying.
  return sender || (/haulier|carrier/.test(name) && /haul|carriage|freight|transport/i.test(kindName));
}

function besideLabel(search: Search, label: Label, field: FieldDefinition): Reading[] {
  const right = behind(label, search.labels).slice(0, 4).flatMap((phrase, index) => offers(phrase, field).map((words) => ({ words, how: 'right' as const, passed: index })));
  const fitting = right.filter(({ words }) => fitsWell(words, field, search.locale));
  const under = fitting.length > 0 ? [] : underLabel(search, label).flatMap((phrase) => offers(phrase, field).map((words) => ({ words, how: 'below' as const, passed: 0 })));
  return [...fitting, ...under.filter(({ words }) => fitsWell(words, field, search.locale))].map((offer) => readingFrom(search, label, field, offer)).slice(0, 3);
}

/** Farthest line below a label that still belongs to it, in heights of the label. */
const BELOW = 2.4;

/** The phrases on the nearest line below a label that stand under it and are no labels themselves. */
function underLabel({ lines, labels }: Search, label: Label): Phrase[] {
  const box = label.phrase.box;
  const below = lines
    .filter((line) => line.page === label.line.page && line !== label.line && line.box[1] > box[1] + boxHeight(box) / 2)
    .flatMap((line) => line.phrases.filter((phrase) => overlap(phrase.box[0], phrase.box[2], box[0] - 4, box[2] + 4) > 0).map((phrase) => ({ line, phrase })))
    .sort((a, b) => a.phrase.box[1] - b.phrase.box[1]);
  const nearest = below[0];
  if (!nearest || nearest.phrase.box[1] - box[3] > BELOW * boxHeight(box)) return [];
  const first = nearest.phrase.words[0];
  if (first && labels.isLabel(first)) return [];
  if (nearest.phrase.box[0] > box[0] - 8) return [nearest.phrase];
  // Columns that stand close together come as one phrase; the words under the label are the value then.
  const under = nearest.phrase.words.filter((word) => overlap(word.box[0], word.box[2], box[0] - 3, box[2] + 3) > 0);
  return under.length > 0 ? [phraseOf(under)] : [nearest.phrase];
}

/** Runs of words of a phrase that may be the value, the likeliest first. */
function offers(phrase: Phrase, field: FieldDefinition): (readonly Word[])[] {
  const words = phrase.words.filter((word, index) => !(index === 0 && /^[:#\-–—.]+$/.test(word.text)));
  if (words.length === 0) return [];
  if (field.type === 'text' || field.type === 'choice' || field.type === 'yes-no') return [words.slice(0, 14)];
  if (field.type === 'identifier') return [identifierWords(words)];
  const runs: Word[][] = [];
  for (let start = 0; start < words.length; start += 1) for (let end = Math.min(words.length, start + 5); end > start; end -= 1) runs.push(words.slice(start, end));
  const usable = runs.filter((run) => /\d/.test(textOf(run)));
  return field.type === 'money' ? usable.filter((run) => !isRate(words, run)).sort((a, b) => Number(hasCents(b)) - Number(hasCents(a))) : usable;
}

/** "20 %" beside a tax is its rate. */
function isRate(words: readonly Word[], run: readonly Word[]): boolean {
  const next = words[words.indexOf(run.at(-1) as Word) + 1];
  return textOf(run).includes('%') || next?.text.startsWith('%') === true;
}

const hasCents = (run: readonly Word[]): boolean => /[.,]\d{2}\D*$/.test(textOf(run));

/** The words that together are one number: as long as each holds a figure or is a short mark in capitals. */
function identifierWords(words: readonly Word[]): readonly Word[] {
  const end = words.findIndex((word) => !/\d/.test(word.text) && !/^[A-Z]{1,4}[-/.]?$/.test(word.text) && !/^[-/–]$/.test(word.text));
  const run = words.slice(0, end < 0 ? words.length : end).slice(0, 6);
  if (run.some((word) => /\d/.test(word.text))) return run;
  const figure = words.find((word) => /\d/.test(word.text));
  return figure ? [figure] : words.slice(0, 3);
}

function fitsWell(words: readonly Word[], field: FieldDefinition, locale: LocaleHints): boolean {
  const text = textOf(words);
  if (!normaliseWords(field, words, locale).ok) return false;
  if (field.type === 'identifier') return /\d/.test(text);
  return field.type !== 'text' || /\p{L}|\d/u.test(text);
}

interface Offer {
  readonly words: readonly Word[];
  readonly how: 'right' | 'below';
  /** Phrases that stand nearer to the label and were passed over. */
  readonly passed: number;
}

function readingFrom(search: Search, label: Label, field: FieldDefinition, { words, how, passed }: Offer): Reading {
  const text = textOf(words).replace(field.type === 'text' || field.type === 'identifier' ? /^[:#\s]+/ : /^/, '').replace(field.type === 'identifier' ? /^\$(?=\S)/ : /^(?!)/, 'S');
  const fit = normaliseWords(field, words, search.locale, text);
  const box = unionOf(words.map((word) => word.box));
  const far = how === 'right' ? Math.max(0, box[0] - label.phrase.box[2]) : Math.abs(centreX(box) - centreX(label.phrase.box)) / 4;
  const evidence: Evidence[] = [
    { what: `“${label.phrase.text}” is a name for ${field.label}`, factor: Math.min(0.99, label.similarity) * (1 - 0.06 * label.rank) },
    { what: label.alone ? 'the label stands alone' : 'the label is part of a longer one', factor: label.alone ? 1 : label.phrase.text.length <= 4 ? 0.5 : 0.72 },
    { what: how === 'right' ? `stands ${Math.round(far)} points to the right of it` : 'stands under it', factor: how === 'right' ? (far <= 260 ? 0.99 : 0.93) : 0.965 },
    ...formEvidence(field, text),
    ...(fit.mended ? [{ what: 'letters stood where figures belong', factor: 0.75 }] : []),
    ...(passed > 0 ? [{ what: 'something else stands nearer to the label', factor: 0.9 ** passed }] : []),
    ...surenessOf(words),
  ];
  const page = label.line.page;
  return { text, value: fit.ok ? fit.value : null, place: { page, box }, anchor: { page, box: label.phrase.box }, reader: 'described', confidence: confidenceOf(evidence), evidence };
}

/** Whether the text has the form that values of its type usually have. */
function formEvidence(field: FieldDefinition, text: string): Evidence[] {
  if (field.type === 'identifier' && parseDate(text, 'dmy') !== null && /[^\d]/.test(text)) return [{ what: 'looks like a date rather than an identifier', factor: 0.4 }];
  if (field.type === 'identifier' && text.replace(/\D/g, '').length < 3) return [{ what: 'is short for an identifier', factor: 0.85 }];
  if (field.type === 'money' && !/[.,]\d{2}\D*$/.test(text)) return [{ what: 'has no cents', factor: 0.8 }];
  return [];
}

export const weakened = (reading: Reading, what: string, factor: number): Reading => {
  const evidence = [...reading.evidence, { what, factor }];
  return { ...reading, evidence, confidence: confidenceOf(evidence) };
};

/** Totals stand at the end: of equally good labels the last counts. Other values stand first. Values that differ make each other doubtful. */
function ranked(readings: readonly Reading[], pages: readonly Page[], concept: Concept | null): Reading[] {
  const atEnd = concept === 'grand total' || concept === 'net total' || concept === 'tax total' || concept === 'closing balance';
  const order = (place: Place | null): number => (place ? place.page * 10_000 + place.box[1] : 0) * (atEnd ? -1 : 1);
  const sorted = [...readings].sort((a, b) => (Math.abs(b.confidence - a.confidence) > 0.06 ? b.confidence - a.confidence : order(a.place) - order(b.place)));
  const best = sorted[0];
  if (!best || pages.length === 0) return sorted;
  const rivals = new Set(sorted.filter((other) => other.value !== best.value && other.confidence > best.confidence * 0.93).map((other) => other.value)).size;
  return rivals === 0 ? sorted : [weakened(best, `${rivals} other value${rivals > 1 ? 's stand' : ' stands'} at such a label too`, rivals > 1 ? 0.7 : 0.84), ...sorted.slice(1)];
}

/** One place on the page is the value of one field: the surer claim wins, the other field takes its next best. */
function settle(found: Map<string, Reading[]>): void {
  const nameOf = (reading: Reading): string => (reading.anchor ? `${reading.anchor.page}/${reading.anchor.box.join(',')}` : '');
  for (let round = 0; round < 4; round += 1) {
    const claims = new Map<string, { key: string; confidence: number }>();
    for (const [key, [best]] of found) {
      const name = best ? nameOf(best) : '';
      const other = claims.get(name);
      if (best && name !== '' && best.confidence > (other?.confidence ?? 0)) claims.set(name, { key, confidence: best.confidence });
    }
    let changed = false;
    for (const [key, readings] of found) {
      const best = readings[0];
      const claim = best ? claims.get(nameOf(best)) : undefined;
      if (!best || !claim || claim.key === key || claim.confidence < best.confidence + 0.004) continue;
      found.set(key, [...readings.slice(1), weakened(best, 'the label says more about another field', 0.5)].sort((a, b) => b.confidence - a.confidence));
      changed = true;
    }
    if (!changed) return;
  }
}
