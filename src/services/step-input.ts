import type { Condition, Step } from '@/core/pipeline/definition';
import type { Known } from '@/core/pipeline/facts';
import { planRows, valueAt, type DocumentFacts } from '@/core/pipeline/values';

export interface InputFact {
  readonly name: string;
  readonly value: string;
}

/** Rows of a write that are shown one by one; the rest is counted. */
const MOST_ROWS = 3;

/** What went into a step, for people: the pages, the values it looked at, or the rows it was to write. */
export function inputOf(step: Step, known: Known, document: DocumentFacts, pages: number): InputFact[] {
  switch (step.do) {
    case 'read':
      return [{ name: 'Pages', value: String(pages) }];
    case 'check':
    case 'desk':
      return [{ name: 'Values', value: countOf(known) }];
    case 'branch':
      return [...new Set(step.ways.flatMap((way) => sourcesOf(way.when)))].map((source) => ({ name: source, value: valueAt(source, known, document).value ?? 'nothing' }));
    case 'write-list':
      return rowsOf(step.list, planRows(step, known, document));
    case 'write-workbook':
      return step.tabs.flatMap((tab) => rowsOf(tab.tab, planRows(tab, known, document)));
    case 'set':
    case 'stop':
      return [];
  }
}

function countOf({ readings }: Known): string {
  const fields = Object.values(readings.fields).filter((reading) => reading.value !== null).length;
  const rows = Object.values(readings.tables).reduce((sum, table) => sum + table.length, 0);
  return `${fields} fields and ${rows} rows`;
}

function sourcesOf(condition: Condition): string[] {
  if ('all' in condition) return condition.all.flatMap(sourcesOf);
  if ('any' in condition) return condition.any.flatMap(sourcesOf);
  return 'value' in condition ? [condition.value] : [];
}

function rowsOf(target: string, rows: ReturnType<typeof planRows>): InputFact[] {
  const shown = rows.slice(0, MOST_ROWS).map((row) => ({ name: target, value: Object.entries(row).map(([column, { value }]) => `${column} ${value ?? '–'}`).join(' · ') }));
  return rows.length > MOST_ROWS ? [...shown, { name: target, value: `and ${rows.length - MOST_ROWS} more rows` }] : shown;
}
