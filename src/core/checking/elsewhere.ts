import { bareKey } from '@/core/list/find-key';
import type { Lists } from '@/core/list/list';
import type { DuplicateCheck, InListCheck, KindDefinition } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';
import type { Finding } from './finding';

/** An earlier document of the same kind that may be the same paper. */
export interface EarlierDocument {
  readonly id: string;
  readonly name: string;
  /** ISO 8601, UTC. */
  readonly receivedAt: string;
  /** Its values of the fields that tell papers apart. */
  readonly values: Readonly<Record<string, string>>;
  /** Share of figures and names that are the same, 0..1; see `checking/resemblance`. */
  readonly alike: number;
}

/** What checks look at besides the document. */
export interface Elsewhere {
  readonly lists?: Lists;
  readonly earlier?: readonly EarlierDocument[];
}

/** From this share on two papers are taken for copies: a scan of the same page differs in a word or two. */
export const NEARLY_SAME = 0.9;

/** A value that must stand in a list. An empty one breaks nothing; a list that is not there is a finding itself. */
export function checkInList(kind: KindDefinition, readings: Readings, check: InListCheck, lists: Lists | undefined): Finding[] {
  const value = readings.fields[check.field]?.value ?? null;
  const label = kind.fields.find((field) => field.key === check.field)?.label ?? check.field;
  if (value === null || lists === undefined) return [];
  const list = lists.get(check.list);
  const found = (text: string): Finding[] => [{ check: 'in-list', severity: check.severity ?? 'must fix', text, paths: [check.field] }];
  if (!list) return found(`${label} cannot be looked up: the list “${check.list}” is not there. Import it under Lists.`);
  const column = check.column ?? list.keyColumn;
  const bare = bareKey(value);
  return list.rows.some((row) => bareKey(row[column] ?? '') === bare) ? [] : found(`${label} “${value.slice(0, 60)}” is not in ${list.name}.`);
}

/** An earlier document that is the same paper, by its values or by its text. */
export function checkDuplicate(kind: KindDefinition, readings: Readings, check: DuplicateCheck, earlier: readonly EarlierDocument[]): Finding[] {
  const values = check.fields.map((field) => readings.fields[field]?.value ?? null);
  const same = values.includes(null) ? undefined : earlier.find((other) => check.fields.every((field, index) => sameText(other.values[field], values[index] ?? '')));
  if (same) {
    const labels = check.fields.map((key) => kind.fields.find((field) => field.key === key)?.label.toLowerCase() ?? key);
    return [{ check: 'duplicate', severity: check.severity ?? 'must fix', text: `“${same.name}” of ${same.receivedAt.slice(0, 10)} has the same ${labels.join(', ')}. It may have come twice.`, paths: [...check.fields], document: same.id }];
  }
  const alike = check.alike === false ? undefined : [...earlier].filter((other) => other.alike >= NEARLY_SAME).sort((a, b) => b.alike - a.alike)[0];
  return alike ? [{ check: 'duplicate', severity: 'look', text: `“${alike.name}” of ${alike.receivedAt.slice(0, 10)} has nearly the same text: ${Math.round(alike.alike * 100)} of 100 figures and names are the same.`, paths: [], document: alike.id }] : [];
}

const sameText = (a: string | undefined, b: string): boolean => a !== undefined && a.trim().toLowerCase() === b.trim().toLowerCase();
