import { linesOf, phrasesOf, type Line } from '@/core/page/lines';
import { boxesMeet, type Page, type Place } from '@/core/page/page';
import { readDocument } from '@/core/reading/chain';
import type { FieldDefinition, KindDefinition } from '@/core/reading/kind';
import type { DocumentReading } from '@/core/reading/reading';
import { proposeField } from '@/core/teaching/propose';
import { STARTERS } from './starters';

/** A starter of which less than this share of the fields is found on the page is not what the paper is. */
const LEAST_FOUND = 0.45;
/** Surer than this a field of a starter is taken to stand on the page. */
const SURE = 0.6;
/** Labels beyond these are hardly all wanted. */
const MOST_EXTRA = 12;

/**
 * A kind made from one paper: the starter of which most is found on it, without the fields that it does not have, and whatever else
 * stands behind a label that ends with a colon. Everything can be renamed, added and taken away later.
 */
export function kindFromSample(pages: readonly Page[]): KindDefinition {
  const lines = pages.flatMap(linesOf);
  const tried = STARTERS.map((starter) => ({ starter, reading: readDocument(pages, starter) })).map((one) => ({ ...one, score: scoreOf(one.starter, one.reading) }));
  const [best] = tried.sort((a, b) => b.score - a.score);
  const fits = best !== undefined && best.score >= LEAST_FOUND;
  const base = fits ? found(best.starter, best.reading) : { fields: [], tables: [], checks: [] };
  const places = fits ? placesOf(best.reading) : [];
  const extra = labelled(lines, places, base.fields);
  return { leadline: 'kind/1', key: 'kind', name: fits ? best.starter.name : 'New kind', description: fits ? best.starter.description : 'Made from a sample.', layouts: [], ...base, fields: [...base.fields, ...extra] };
}

/** Share of the fields that are surely found; a table of several columns counts as two. */
function scoreOf(starter: KindDefinition, { fields, tables }: DocumentReading): number {
  const sure = starter.fields.filter((field) => (fields[field.key]?.value ?? null) !== null && (fields[field.key]?.confidence ?? 0) >= SURE);
  const full = starter.tables.filter((table) => (tables[table.key] ?? []).some((row) => table.columns.filter((column) => row[column.key]?.value != null).length >= Math.min(3, table.columns.length)));
  return (sure.length + 2 * full.length) / (starter.fields.length + 2 * starter.tables.length);
}

function found(starter: KindDefinition, { fields, tables }: DocumentReading): Pick<KindDefinition, 'fields' | 'tables' | 'checks'> {
  const kept = starter.fields.filter((field) => field.required === true || (fields[field.key]?.value ?? null) !== null);
  const withRows = starter.tables.filter((table) => (tables[table.key] ?? []).length > 0).map((table) => ({ ...table, columns: table.columns.filter((column) => (tables[table.key] ?? []).some((row) => row[column.key]?.value != null)) }));
  const columns = new Set(withRows.flatMap((table) => table.columns.map((column) => `${table.key}.${column.key}`)));
  return { fields: kept, tables: withRows, checks: starter.checks.filter((check) => check.check !== 'line-amount' || [check.quantity, check.price, check.amount].every((column) => columns.has(`${check.table}.${column}`))) };
}

const placesOf = ({ fields, tables }: DocumentReading): Place[] => [...Object.values(fields), ...Object.values(tables).flatMap((rows) => rows.flatMap((row) => Object.values(row)))].flatMap((reading) => [reading.place, reading.anchor].filter((place): place is Place => place !== null));

/** What stands behind a label with a colon and is not yet a field. */
function labelled(lines: readonly Line[], taken: readonly Place[], fields: readonly FieldDefinition[]): FieldDefinition[] {
  const extra: FieldDefinition[] = [];
  for (const line of lines) {
    const phrases = phrasesOf(line.words);
    for (const [index, phrase] of phrases.entries()) {
      const colon = phrase.words.findIndex((word) => word.text.endsWith(':'));
      const words = colon < 0 ? [] : colon + 1 < phrase.words.length ? phrase.words.slice(colon + 1) : (phrases[index + 1]?.words ?? []);
      const isTaken = words.some((word) => taken.some((place) => place.page === line.page && boxesMeet(place.box, word.box, 0)));
      if (words.length === 0 || words.length > 8 || isTaken || words.some((word) => word.text.endsWith(':')) || extra.length >= MOST_EXTRA) continue;
      const proposed = proposeField(words, lines.filter((other) => other.page === line.page), [...fields, ...extra].map((field) => field.key));
      if (!/\d{3,}/.test(proposed.label)) extra.push(proposed);
    }
  }
  return extra;
}
