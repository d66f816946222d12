import type { ValueType } from '@/core/value/normalise';
import type { Surroundings } from './catalogue/entry';
import type { RowPlan, Step } from './definition';

/** A column of something that is written to. */
export interface TargetColumn {
  readonly name: string;
  /** Absent: it takes anything. */
  readonly type?: ValueType;
  /** A row without it is refused. */
  readonly needed?: boolean;
}

/** Rows that a step writes, and the columns of the place they go to; null where that is not known, or not there yet. */
export interface Target {
  readonly name: string;
  readonly plan: RowPlan;
  readonly columns: readonly TargetColumn[] | null;
}

/** Where a step writes rows. */
export function targetsOf(step: Step, around: Surroundings): Target[] {
  if (step.do === 'write-list') {
    const list = around.lists.find(({ key }) => key === step.list);
    return [{ name: list?.name ?? step.list, plan: step, columns: list?.columns.map((name) => ({ name, ...typeOf(list.types?.[name]) })) ?? null }];
  }
  if (step.do === 'write-table') return [{ name: step.table, plan: step, columns: tableOf(step, around)?.columns.filter(({ name }) => name !== step.keyColumn) ?? null }];
  if (step.do === 'write-csv') return [{ name: step.file, plan: step, columns: headingsOf(step.file, null, around) }];
  if (step.do === 'write-workbook') return step.tabs.map((tab) => ({ name: `${tab.tab} of ${step.file}`, plan: tab, columns: headingsOf(step.file, tab.tab, around) }));
  return [];
}

const typeOf = (type: ValueType | undefined): { type?: ValueType } => (type === undefined ? {} : { type });

/** A table of a database as it showed itself when its connection was tried; null where it is not known. */
export const tableOf = (step: { readonly connection: string; readonly table: string }, { connections }: Surroundings) => connections.find(({ key }) => key === step.connection)?.tables?.find(({ name }) => name === step.table) ?? null;

const headingsOf = (file: string, tab: string | null, { files }: Surroundings): TargetColumn[] | null => files?.find((known) => known.file === file && known.tab === tab)?.columns.map((name) => ({ name })) ?? null;

/** Types of values as people call them. */
const TYPE_NAMES: Readonly<Record<ValueType, string>> = { text: 'a text', number: 'a number', money: 'an amount', date: 'a date', identifier: 'a number or code', choice: 'a choice', 'yes-no': 'yes or no' };

const FIGURES: readonly ValueType[] = ['number', 'money'];

/** Whether a value of one type can go into a column of another. Texts take anything; figures are figures. */
export const fits = (from: ValueType, to: ValueType): boolean => from === to || to === 'text' || to === 'identifier' || to === 'choice' || (FIGURES.includes(from) && FIGURES.includes(to));

export const misfit = (column: string, to: ValueType, value: string, from: ValueType): string => `“${column}” takes ${TYPE_NAMES[to]}, and “${value}” is ${TYPE_NAMES[from]}. Pick another value, or compute one.`;
