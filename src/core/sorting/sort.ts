import { findKeys } from '@/core/list/find-key';
import type { Lists } from '@/core/list/list';
import { linesOf, type Line } from '@/core/page/lines';
import type { Page } from '@/core/page/page';
import type { KindDefinition } from '@/core/reading/kind';
import { findLandmarks } from '@/core/reading/landmark';
import { fitOf, SHARE } from '@/core/reading/layout';
import { invoiceData } from '@/core/reading/structured';
import { heldOutWith, NONE, trainSorter, wordEvidence, wordSetOf, type Sorter, type SortSample } from './sorter';

/** A document to be sorted. */
export interface Unsorted {
  readonly pages: readonly Page[];
  readonly sender: string | null;
  readonly subject: string | null;
}

export interface Candidate {
  readonly kind: string;
  readonly name: string;
  /** 0..1; of all candidates and "none of them" together 1. */
  readonly share: number;
  /** In plain words, the weightiest first. */
  readonly reasons: readonly string[];
}

/** Which kind a document is. */
export interface Sorted {
  /** Null when none is sure enough. */
  readonly kind: string | null;
  readonly ranked: readonly Candidate[];
}

/** Share from which on nobody is asked. */
export const SURE_ENOUGH = 0.8;

interface Reason {
  readonly text: string;
  /** Logarithm of how many times likelier it makes the kind. */
  readonly weight: number;
}

/** Weights by judgement: a layout recognised word by word or data that says what it is leave no doubt; a sender may send anything. */
const WEIGHTS = { sender: 1.8, wording: 1.5, never: -20, layout: 4, key: 1.2, data: 6 } as const;
const MOST_BY_WORDINGS = 4;

/** Sort a document among kinds; the reasons are kept, so that a person can judge or mend them. */
export function sortDocument(document: Unsorted, kinds: readonly KindDefinition[], sorter: Sorter, lists: Lists = new Map(), sureEnough = SURE_ENOUGH, without: readonly SortSample[] = []): Sorted {
  const lines = document.pages.flatMap(linesOf);
  const words = wordSetOf(document.pages, document.subject);
  const isData = invoiceData(document.pages, lines) !== null;
  const weighed = kinds.map((kind) => {
    const { score, telling } = wordEvidence(sorter, kind.key, words, without);
    const spoken: Reason[] = score === 0 ? [] : [{ text: score > 0 ? `words as on its samples${telling.length > 0 ? `: ${telling.join(', ')}` : ''}` : 'other words than on its samples', weight: sorter.weight * score }];
    const reasons = [...spoken, ...hintReasons(document, lines, kind), ...placeReasons(lines, kind, lists), ...(isData && kind.sorting?.data ? [{ text: 'it carries the data of an e-invoice', weight: WEIGHTS.data }] : [])];
    return { kind, reasons, weight: reasons.reduce((sum, reason) => sum + reason.weight, 0) };
  });
  const most = Math.max(NONE, ...weighed.map(({ weight }) => weight));
  const total = weighed.reduce((sum, { weight }) => sum + Math.exp(weight - most), Math.exp(NONE - most));
  const ranked = weighed.map(({ kind, reasons, weight }): Candidate => ({ kind: kind.key, name: kind.name, share: Math.round((1000 * Math.exp(weight - most)) / total) / 1000, reasons: [...reasons].sort((a, b) => Math.abs(b.weight) - Math.abs(a.weight)).map(({ text }) => text) })).sort((a, b) => b.share - a.share);
  const [first] = ranked;
  return { kind: first && first.share >= sureEnough ? first.kind : null, ranked };
}

function hintReasons({ sender, subject }: Unsorted, lines: readonly Line[], { sorting }: KindDefinition): Reason[] {
  const from = sender?.toLowerCase() ?? '';
  const stands = (wording: string): boolean => findLandmarks(lines, [wording]).length > 0 || (subject?.toLowerCase().includes(wording.toLowerCase()) ?? false);
  const senders = (sorting?.senders ?? []).filter((part) => from.includes(part.toLowerCase())).slice(0, 1);
  const wordings = (sorting?.words ?? []).filter(stands);
  return [
    ...senders.map((part) => ({ text: `the sender has ${part}`, weight: WEIGHTS.sender })),
    ...wordings.map((wording) => ({ text: `“${wording}” stands on it`, weight: Math.min(WEIGHTS.wording, MOST_BY_WORDINGS / wordings.length) })),
    ...(sorting?.never ?? []).filter(stands).map((wording) => ({ text: `“${wording}” stands on it, which never stands on this kind`, weight: WEIGHTS.never })),
  ];
}

/** A known layout, and a key of a list that only this kind is bound to. */
function placeReasons(lines: readonly Line[], kind: KindDefinition, lists: Lists): Reason[] {
  const layout = kind.layouts.find((candidate) => (candidate.recognise.length > 0 ? candidate.recognise.every((wording) => findLandmarks(lines, [wording]).length > 0) : fitOf(lines, candidate.landmarks ?? []).share >= SHARE));
  const bound = (kind.bindings ?? []).flatMap((binding) => {
    const list = lists.get(binding.list);
    const [found] = list ? findKeys(lines, list).filter((one) => one.how !== 'close') : [];
    return list && found ? [{ text: `${found.key} of ${list.name} stands on it`, weight: WEIGHTS.key }] : [];
  });
  return [...(layout ? [{ text: `laid out as ${layout.name}`, weight: WEIGHTS.layout }] : []), ...bound];
}

/** How well a sorter does on its own samples, each sorted as if it had not been seen. */
export interface SorterAccuracy {
  readonly samples: number;
  readonly right: number;
  /** Sure enough and wrong: what nobody would have looked at. */
  readonly wronglySure: number;
  /** Not sure enough: for the desk. */
  readonly asked: number;
  readonly mistakes: readonly { readonly sample: string; readonly is: string; readonly taken: string | null }[];
}

export interface NamedSortSample extends SortSample {
  readonly name: string;
  readonly pages: readonly Page[];
}

/** Each sample is sorted without itself and one of every other kind, see `heldOutWith`. Layouts that were learned from a sample know it, so layouts do not count here; nor do senders, which samples do not have. */
export function measureSorter(samples: readonly NamedSortSample[], kinds: readonly KindDefinition[], lists: Lists = new Map()): SorterAccuracy {
  const sorter = trainSorter(samples);
  const bare = kinds.map((kind) => ({ ...kind, layouts: [] }));
  const outcomes = samples.map((sample) => ({ sample, sorted: sortDocument({ pages: sample.pages, sender: null, subject: null }, bare, sorter, lists, SURE_ENOUGH, heldOutWith(sample, samples)) }));
  const best = (sorted: Sorted): string | null => sorted.ranked[0]?.kind ?? null;
  return {
    samples: samples.length,
    right: outcomes.filter(({ sample, sorted }) => best(sorted) === sample.kind).length,
    wronglySure: outcomes.filter(({ sample, sorted }) => sorted.kind !== null && sorted.kind !== sample.kind).length,
    asked: outcomes.filter(({ sorted }) => sorted.kind === null).length,
    mistakes: outcomes.filter(({ sample, sorted }) => best(sorted) !== sample.kind).slice(0, 20).map(({ sample, sorted }) => ({ sample: sample.name, is: sample.kind, taken: best(sorted) })),
  };
}
