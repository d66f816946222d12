import type { Line } from '@/core/page/lines';
import type { LocaleHints } from '@/core/value/normalise';
import { answerKey, type Aids } from './aids';
import { crossed, needsSecond } from './cross';
import type { FieldDefinition, KindDefinition } from './kind';
import { lookUp } from './looked-up';
import { type Cost, type DocumentReading, type Reading, type Row, type Want } from './reading';
import { withRemembered } from './remembered';
import { isWanted, withAnswer } from './service';

interface Helping {
  readonly kind: KindDefinition;
  readonly lines: readonly Line[];
  readonly locale: LocaleHints;
  readonly aids: Aids;
}

/** What the pages say, helped out by what stands elsewhere: a second recognition, bound lists, remembered answers, services that cost something, in this order. */
export function helped(local: DocumentReading, helping: Helping): DocumentReading {
  const twice = readTwice(local, helping);
  const found = lookUp(helping.lines, helping.kind, helping.aids.lists, twice.reading.fields);
  const looked = withRemembered<DocumentReading>({ ...twice.reading, fields: { ...twice.reading.fields, ...found.fields }, alternatives: merged(twice.reading, found) }, helping.kind, helping.aids.remembered);
  // A service is asked last, and not before all that costs nothing has been tried.
  const served = twice.wants.length > 0 ? { reading: looked, wants: [], costs: [] } : askedServices(looked, helping);
  const wants = [...twice.wants, ...served.wants];
  return { ...served.reading, ...(wants.length > 0 ? { wants } : {}), ...(served.costs.length > 0 ? { costs: served.costs } : {}) };
}

/** What a page said before the list spoke stays a suggestion. */
function merged(reading: DocumentReading, found: ReturnType<typeof lookUp>): DocumentReading['alternatives'] {
  const changed = Object.keys(found.fields).map((key): [string, readonly Reading[]] => {
    const before = reading.fields[key];
    const own = before?.value != null && before.value !== found.fields[key]?.value ? [before] : [];
    return [key, [...(found.alternatives[key] ?? []), ...own, ...(reading.alternatives[key] ?? [])].filter((other) => other.value !== found.fields[key]?.value).slice(0, 4)];
  });
  return { ...reading.alternatives, ...Object.fromEntries(changed) };
}

function readTwice(reading: DocumentReading, { kind, locale, aids }: Helping): { readonly reading: DocumentReading; readonly wants: readonly Want[] } {
  const missing = new Set<number>();
  const alternatives: Record<string, readonly Reading[]> = { ...reading.alternatives };
  const again = (field: FieldDefinition, found: Reading): { reading: Reading; other: Reading | null } => {
    if (!needsSecond(field, found) || !found.place) return { reading: found, other: null };
    const words = aids.second.get(found.place.page);
    if (!words) missing.add(found.place.page);
    return words ? crossed(field, found, words, locale) : { reading: found, other: null };
  };
  const fields = { ...reading.fields };
  for (const field of kind.fields) {
    const found = reading.fields[field.key];
    if (!found) continue;
    const { reading: best, other } = again(field, found);
    fields[field.key] = best;
    if (other) alternatives[field.key] = [other, ...(alternatives[field.key] ?? [])].slice(0, 4);
  }
  const tables = { ...reading.tables };
  for (const table of kind.tables) {
    const cell = (row: Row, column: FieldDefinition): [string, Reading][] => (row[column.key] ? [[column.key, again(column, row[column.key] as Reading).reading]] : []);
    tables[table.key] = (reading.tables[table.key] ?? []).map((row): Row => ({ ...row, ...Object.fromEntries(table.columns.flatMap((column) => cell(row, column))) }));
  }
  return { reading: { ...reading, fields, tables, alternatives }, wants: [...missing].map((page): Want => ({ want: 'second recognition', page })) };
}

function askedServices(reading: DocumentReading, { kind, aids }: Helping): { readonly reading: DocumentReading; readonly wants: readonly Want[]; readonly costs: readonly Cost[] } {
  const costs: Cost[] = [];
  let standing = reading;
  for (const use of kind.services ?? []) {
    if (!isWanted(use, kind, standing)) continue;
    const answer = aids.answers.get(answerKey(use.service, use.tier));
    if (answer === undefined) return { reading: standing, wants: [{ want: 'service', service: use.service, tier: use.tier }], costs };
    if (answer === null) continue;
    costs.push({ service: use.service, tier: use.tier, amount: answer.cost, currency: answer.currency });
    standing = withAnswer(standing, kind, use, answer);
  }
  return { reading: standing, wants: [], costs };
}
