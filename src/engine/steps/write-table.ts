import type { WriteTableStep } from '@/core/pipeline/definition';
import { planRows } from '@/core/pipeline/values';
import { deliveryKey, rowsWritten, type StepHandler } from '../step';

export const writeTable: StepHandler<WriteTableStep> = async (step, context) => {
  const { engine, scope } = context;
  const planned = await planRows(step, scope);
  const key = deliveryKey(context);
  const target = `table ${step.table}`;
  const rows = { connection: step.connection, table: step.table, keyColumn: step.keyColumn, key, rows: planned.map((row) => Object.fromEntries(Object.entries(row).map(([column, { value }]) => [column, value]))) };
  return { then: 'send', delivery: { key, target, rows: planned.length, confirm: () => engine.outside.rowsThere(rows), send: () => engine.outside.insertRows(rows), result: rowsWritten(target) } };
};
