import { entryOf } from '@/core/pipeline/catalogue';
import { valueText } from '@/core/pipeline/catalogue/entry';
import type { RowPlan, Step } from '@/core/pipeline/definition';
import type { Known } from '@/core/pipeline/facts';
import { planRows, valueOf, type Scope } from '@/core/pipeline/values';

export interface InputFact {
  readonly name: string;
  readonly value: string;
}

/** Rows of a write that are shown one by one; the rest is counted. */
const MOST_ROWS = 3;

/** What went into a step, for people: the pages, the values it looked at, or the rows it was to write. */
export async function inputOf(step: Step, scope: Scope, pages: number): Promise<InputFact[]> {
  if (step.do === 'sort' || step.do === 'read') return [{ name: 'Pages', value: String(pages) }];
  if (step.do === 'check' || step.do === 'desk') return [{ name: 'Values', value: countOf(scope.known) }];
  const plans = plansOf(step);
  return plans.length > 0 ? (await Promise.all(plans.map(({ target, plan }) => rowsOf(target, plan, scope)))).flat() : usedValues(step, scope);
}

function plansOf(step: Step): { target: string; plan: RowPlan }[] {
  if (step.do === 'write-workbook') return step.tabs.map((tab) => ({ target: tab.tab, plan: tab }));
  if (step.do === 'write-list') return [{ target: step.list, plan: step }];
  if (step.do === 'write-csv') return [{ target: step.file, plan: step }];
  return step.do === 'write-table' ? [{ target: step.table, plan: step }] : [];
}

function countOf({ readings }: Known): string {
  const fields = Object.values(readings.fields).filter((reading) => reading.value !== null).length;
  const rows = Object.values(readings.tables).reduce((sum, table) => sum + table.length, 0);
  return `${fields} fields and ${rows} rows`;
}

/** The values that a step draws on, each once. */
async function usedValues(step: Step, scope: Scope): Promise<InputFact[]> {
  const uses = new Map((entryOf(step).uses?.(step) ?? []).map(({ value }) => [valueText(value), value]));
  const facts: InputFact[] = [];
  for (const [name, value] of uses) facts.push({ name, value: await valueOf(value, scope).then((made) => made.value ?? 'nothing', (error: unknown) => (error as Error).message) });
  return facts;
}

async function rowsOf(target: string, plan: RowPlan, scope: Scope): Promise<InputFact[]> {
  const rows = await planRows(plan, scope).catch((error: unknown) => (error as Error).message);
  if (typeof rows === 'string') return [{ name: target, value: rows }];
  const shown = rows.slice(0, MOST_ROWS).map((row) => ({ name: target, value: Object.entries(row).map(([column, { value }]) => `${column} ${value ?? '–'}`).join(' · ') }));
  return rows.length > MOST_ROWS ? [...shown, { name: target, value: `and ${rows.length - MOST_ROWS} more rows` }] : shown;
}
