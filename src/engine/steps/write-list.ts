import type { Place } from '@/core/page/page';
import type { WriteListStep } from '@/core/pipeline/definition';
import { planRows, type PlannedRow } from '@/core/pipeline/values';
import { columnsMissing, StepFailure } from '@/core/resilience/failure';
import { hasRowWith, insertListRows, listByKey, type NewListRow } from '@/store/queries/lists';
import { recordDelivery } from '@/store/queries/deliveries';
import { columnsLeft, deliveryKey, type StepHandler } from '../step';

/** Rows of our own lists commit together with the fact, so there is nothing to confirm later. */
export const writeList: StepHandler<WriteListStep> = async (whole, context) => {
  const step = columnsLeft(whole, context);
  const { engine, claim, spot, scope, document } = context;
  const list = await listByKey(engine.db, step.list);
  if (!list) throw new StepFailure('no-such-list', `“${step.list}”. Make it, then refloat`);
  const missing = Object.keys(step.columns).filter((column) => !list.columns.some((known) => known.name === column));
  if (missing.length > 0) throw columnsMissing(`list:${list.key}`, `“${list.name}”`, missing, 'Put it back, or change the mapping of the pipeline');
  const planned = await planRows(step, scope);
  const rows: PlannedRow[] = [];
  for (const row of planned) {
    const value = step.unless === undefined ? null : (row[step.unless]?.value ?? null);
    if (value === null || !(await hasRowWith(engine.db, list.key, step.unless ?? '', value))) rows.push(row);
  }
  const key = deliveryKey(context);
  return {
    then: 'record',
    result: { made: 'rows', target: list.name, rows: rows.length, left: planned.length - rows.length },
    alongside: async (tx) => {
      await recordDelivery(tx, { key, runId: claim.runId, stepId: spot.id, target: `list ${list.key}`, rows: rows.length, proof: { list: list.key, rows: rows.length } });
      await insertListRows(tx, { listKey: list.key, deliveryKey: key, documentId: document.id, runId: claim.runId }, rows.map(newRow));
    },
  };
};

function newRow(row: PlannedRow): NewListRow {
  const places = Object.entries(row).flatMap(([column, { place }]): [string, Place][] => (place ? [[column, place]] : []));
  return { cells: Object.fromEntries(Object.entries(row).map(([column, { value }]) => [column, value])), places: Object.fromEntries(places) };
}
