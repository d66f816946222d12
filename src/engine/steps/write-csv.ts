import path from 'node:path';
import { appendToCsv, confirmInCsv } from '@/connectors/csv/csv';
import type { WriteCsvStep } from '@/core/pipeline/definition';
import { planRows } from '@/core/pipeline/values';
import { columnsLeft, deliveryKey, rowsWritten, type StepHandler } from '../step';

export const writeCsv: StepHandler<WriteCsvStep> = async (whole, context) => {
  const step = columnsLeft(whole, context);
  const { engine, scope } = context;
  const file = path.join(engine.workbookFolder, path.basename(step.file));
  const rows = (await planRows(step, scope)).map((row) => Object.fromEntries(Object.entries(row).map(([column, { value }]) => [column, value])));
  const key = deliveryKey(context);
  const target = `CSV file ${step.file}`;
  const write = { file, key, columns: Object.keys(step.columns), rows, ...(step.unless === undefined ? {} : { unless: step.unless }) };
  return { then: 'send', delivery: { key, target, rows: rows.length, confirm: () => confirmInCsv(file, key, engine.exclusive), send: () => appendToCsv(write, engine.exclusive), result: rowsWritten(target) } };
};
