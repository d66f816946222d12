import type { Line } from '@/core/page/lines';
import { bareKey, findKeys, hasNeighbour, type KeyFound } from '@/core/list/find-key';
import type { Lists, ListRow, ReferenceList } from '@/core/list/list';
import type { KindDefinition, ListBinding } from './kind';
import { findLandmarks } from './landmark';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

/** What looking through a bound list did to the fields of a document. */
export interface LookedUp {
  readonly fields: Readonly<Record<string, Reading>>;
  /** Other rows whose keys stand on the page; suggestions at the desk. */
  readonly alternatives: Readonly<Record<string, readonly Reading[]>>;
}

/** How far each way of finding a key is trusted. A single wrong letter is as well another account, so it is never enough alone. */
const HOW: Readonly<Record<KeyFound['how'], Evidence>> = {
  exact: { what: 'the key stands on the page', factor: 0.98 },
  alike: { what: 'the key stands on the page, with letters that are easily confused', factor: 0.92 },
  close: { what: 'the key stands on the page with one letter different', factor: 0.6 },
};
/** Two keys on the page, and nothing says which is meant. */
const UNDECIDED = 0.3;
/** A text of a row as long as this is hardly on the page by chance. */
const LEAST_WITNESS = 5;

/** Find which rows of the bound lists a document is about, and fill the fields that they answer. */
export function lookUp(lines: readonly Line[], kind: KindDefinition, lists: Lists, read: Readonly<Record<string, Reading>>): LookedUp {
  const fields: Record<string, Reading> = {};
  const alternatives: Record<string, readonly Reading[]> = {};
  for (const binding of kind.bindings ?? []) {
    const list = lists.get(binding.list);
    if (!list) continue;
    const candidates = candidatesOf(lines, list, read[binding.field]);
    const [first, ...others] = candidates;
    if (!first) continue;
    const undecided = others.length > 0 && others[0]?.confidence === first.confidence;
    const best = undecided ? { ...first, confidence: UNDECIDED, evidence: [...first.evidence, { what: `${candidates.length} rows of ${list.name} have their key on the page`, factor: UNDECIDED }] } : first;
    fields[binding.field] = keyReading(best, list);
    alternatives[binding.field] = others.map((other) => keyReading(other, list));
    for (const [field, column] of Object.entries(binding.fill ?? {})) fields[field] = filled(best, list, column);
    if (undecided) for (const [field, column] of Object.entries(binding.fill ?? {})) alternatives[field] = others.map((other) => filled(other, list, column));
  }
  return { fields, alternatives };
}

interface Candidate {
  readonly found: KeyFound;
  readonly evidence: readonly Evidence[];
  readonly confidence: number;
}

/** Rows whose key stands on the page, best first. The one that a reader found as this field's value, and the one of which more stands on the page, come before others. */
function candidatesOf(lines: readonly Line[], list: ReferenceList, own: Reading | undefined): Candidate[] {
  const found = findKeys(lines, list);
  const meant = found.filter((one) => own?.value != null && bareKey(one.words.map((word) => word.text).join('')) === bareKey(own.text));
  const witnessed = new Map((meant.length > 0 ? meant : found).map((one) => [one, witnessesOf(one.row, list, lines)]));
  const most = Math.max(0, ...[...witnessed.values()].map((names) => names.length));
  const kept = [...witnessed].filter(([, names]) => names.length === most);
  return kept.map(([one, names]): Candidate => {
    const evidence = [...evidenceOf(one, names), ...(one.how !== 'close' && surenessOf(one.words).length > 0 && names.length === 0 && hasNeighbour(list, one.row) ? [{ what: `another key of ${list.name} is one letter away`, factor: 0.8 }] : []), ...surenessOf(one.words)];
    return { found: one, evidence, confidence: confidenceOf(evidence) };
  }).sort((a, b) => b.confidence - a.confidence);
}

function evidenceOf({ how }: KeyFound, names: readonly string[]): Evidence[] {
  if (names.length === 0) return [HOW[how]];
  return [{ what: `${HOW[how].what}, and so does its ${names.join(' and ')}`, factor: how === 'exact' ? 0.995 : how === 'alike' ? 0.98 : 0.93 }];
}

/** Names of the columns whose text also stands on the page. */
function witnessesOf(row: ListRow, list: ReferenceList, lines: readonly Line[]): string[] {
  const texts = list.columns.filter((column) => column.type === 'text' && column.name !== list.keyColumn);
  return texts.filter(({ name }) => (row[name]?.length ?? 0) >= LEAST_WITNESS && findLandmarks(lines, [row[name] ?? '']).length > 0).map(({ name }) => name);
}

const keyReading = ({ found, evidence, confidence }: Candidate, list: ReferenceList): Reading => ({ text: found.words.map((word) => word.text).join(' '), value: found.row[list.keyColumn] ?? null, place: found.place, anchor: null, reader: 'list', confidence, evidence });

/** A value that stands in the list and not on the page; the key's place is where it comes from. */
const filled = ({ found, evidence, confidence }: Candidate, list: ReferenceList, column: string): Reading => ({ text: '', value: found.row[column] ?? null, place: null, anchor: found.place, reader: 'list', confidence, evidence: [{ what: `${column} of ${found.key} in ${list.name}`, factor: 1 }, ...evidence] });

/** The row that a value of the bound field names, for filling the other fields after somebody has typed or chosen it. */
export function rowFor(binding: ListBinding, lists: Lists, value: string | null): ListRow | null {
  const list = lists.get(binding.list);
  return (value === null ? undefined : list?.rows.find((row) => row[list.keyColumn] === value)) ?? null;
}
