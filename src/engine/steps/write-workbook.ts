import path from 'node:path';
import { appendOnce, confirmInWorkbook, type TabRow, type TabWrite } from '@/connectors/workbook/workbook';
import type { Place } from '@/core/page/page';
import type { WriteWorkbookStep } from '@/core/pipeline/definition';
import { planRows, type PlannedRow } from '@/core/pipeline/values';
import { decimalOf } from '@/core/value/amount';
import { columnsLeft, deliveryKey, rowsWritten, type StepContext, type StepHandler } from '../step';

export const writeWorkbook: StepHandler<WriteWorkbookStep> = async (step, context) => {
  const { engine } = context;
  // The name is checked by the schema; taking its last part again costs nothing and keeps writing inside the folder.
  const file = path.join(engine.workbookFolder, path.basename(step.file));
  const tabs: TabWrite[] = [];
  for (const tab of step.tabs) tabs.push(await tabWrite(columnsLeft(tab, context), context));
  const key = deliveryKey(context);
  const target = `workbook ${step.file}`;
  return {
    then: 'send',
    delivery: {
      key,
      target,
      rows: tabs.reduce((sum, tab) => sum + tab.rows.length, 0),
      confirm: () => confirmInWorkbook(file, key, engine.exclusive),
      send: () => appendOnce(file, key, tabs, engine.exclusive),
      result: rowsWritten(target),
    },
  };
};

async function tabWrite(tab: WriteWorkbookStep['tabs'][number], { scope, document, engine }: StepContext): Promise<TabWrite> {
  const rows = await planRows(tab, scope);
  const columns = Object.keys(tab.columns);
  return {
    tab: tab.tab,
    columns,
    // An identifier keeps its leading zeros, so only values read as amounts or numbers become numbers.
    numeric: columns.filter((column) => rows.some((row) => row[column]?.value) && rows.every((row) => isFigure(row[column]?.value ?? null))),
    rows: rows.map((row): TabRow => ({ values: Object.fromEntries(columns.map((column) => [column, row[column]?.value ?? null])), link: linkTo(engine.url, document.id, row) })),
    ...(tab.unless === undefined ? {} : { unless: tab.unless }),
  };
}

const isFigure = (value: string | null): boolean => value === null || (decimalOf(value) !== null && !/^-?0\d/.test(value));

function linkTo(url: string, documentId: string, row: PlannedRow): string {
  const place = Object.values(row).map((value) => value.place).find((candidate): candidate is Place => candidate !== null);
  return `${url}/documents/${documentId}${place ? `?page=${place.page}&at=${place.box.map(Math.round).join(',')}` : ''}`;
}
