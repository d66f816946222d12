import Decimal from 'decimal.js';
import type { Page, Place } from '@/core/page/page';
import type { CheckDefinition, KindDefinition, LineAmountCheck, ReconcileCheck } from '@/core/reading/kind';
import { cellPath, type Reading, type Readings } from '@/core/reading/reading';
import { decimalOf, plainAmount, shownAmount, type DecimalMark } from '@/core/value/amount';
import { checkDuplicate, checkInList, type Elsewhere } from './elsewhere';
import type { Finding } from './finding';
import { checkRule } from './rules';
import { explainGap, strayAmounts, type GapField } from './gap';
import { explainByTax, ratesOn } from './gap-tax';

export interface CheckInput extends Elsewhere {
  readonly kind: KindDefinition;
  /** Key of the layout that was used; decides how amounts on the page are written. */
  readonly layout: string | null;
  readonly readings: Readings;
  /** For the search of amounts that explain a gap; empty where the pages are not at hand. */
  readonly pages: readonly Page[];
}

/** Every breach of the kind's rules, those that must be fixed first. */
export function checkDocument(input: CheckInput): Finding[] {
  const findings = [...layoutFinding(input), ...fieldFindings(input), ...tableFindings(input), ...input.kind.checks.flatMap((check) => findingsOf(input, check))];
  return findings.sort((a, b) => Number(a.severity === 'look') - Number(b.severity === 'look'));
}

function findingsOf(input: CheckInput, check: CheckDefinition): Finding[] {
  switch (check.check) {
    case 'line-amount':
      return lineAmounts(input, check);
    case 'reconcile':
      return reconcile(input, check);
    case 'in-list':
      return checkInList(input.kind, input.readings, check, input.lists);
    case 'duplicate':
      return checkDuplicate(input.kind, input.readings, check, input.earlier ?? []);
    case 'range':
    case 'pattern':
    case 'check-digits':
    case 'date-order':
    case 'formula':
      return checkRule(input.kind, input.readings, check);
  }
}

/** A paper of no known layout is still read from the descriptions of the kind; each value's own confidence decides. */
function layoutFinding({ kind, layout }: CheckInput): Finding[] {
  if (layout !== null || kind.layouts.length === 0) return [];
  return [{ check: 'layout', severity: 'look', text: `This page looks like none of the ${kind.layouts.length} layouts known for ${kind.name}; its values were found from their descriptions.`, paths: [] }];
}

function fieldFindings({ kind, readings }: CheckInput): Finding[] {
  return kind.fields.flatMap((field) => valueFinding(field.label, field.required === true, readings.fields[field.key], field.key));
}

function tableFindings({ kind, readings }: CheckInput): Finding[] {
  return kind.tables.flatMap((table) => {
    const rows = readings.tables[table.key] ?? [];
    const empty: Finding[] = table.required && rows.length === 0 ? [{ check: 'required', severity: 'must fix', text: `${table.label} has no rows.`, paths: [table.key] }] : [];
    const cells = rows.flatMap((row, index) => table.columns.flatMap((column) => valueFinding(`${column.label} in row ${index + 1}`, column.required === true, row[column.key], cellPath(table.key, index, column.key))));
    return [...empty, ...cells];
  });
}

function valueFinding(label: string, required: boolean, reading: Reading | undefined, path: string): Finding[] {
  if (reading?.problem !== undefined && reading.value === null) return [{ check: 'type', severity: 'must fix', text: `${label}: ${reading.problem}.`, paths: [path] }];
  if (required && (reading?.value ?? null) === null) return [{ check: 'required', severity: 'must fix', text: `${label} was not found.`, paths: [path] }];
  return [];
}

/** Trade practice: line amount = quantity × unit price, rounded to the places of the amount. */
function lineAmounts({ readings }: CheckInput, check: LineAmountCheck): Finding[] {
  return (readings.tables[check.table] ?? []).flatMap((row, index) => {
    const [quantity, price, amount] = [check.quantity, check.price, check.amount].map((column) => decimalOf(row[column]?.value));
    if (!quantity || !price || !amount) return [];
    const computed = quantity.times(price).toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
    if (computed.minus(amount).abs().lte(check.tolerance ?? '0.01')) return [];
    const text = `Row ${index + 1}: ${plainAmount(quantity)} × ${shown(price)} is ${shown(computed)}, but ${shown(amount)} is printed.`;
    return [{ check: 'line-amount', severity: 'must fix', text, paths: [check.quantity, check.price, check.amount].map((column) => cellPath(check.table, index, column)) }];
  });
}

const shown = (amount: Decimal): string => shownAmount(plainAmount(amount, 2));

/** lines − discounts + charges + tax = total, as EN 16931 BR-CO-10, -13 and -15 put it together. */
function reconcile(input: CheckInput, check: ReconcileCheck): Finding[] {
  const { readings } = input;
  const rows = readings.tables[check.lines.table] ?? [];
  const cells = rows.map((row) => row[check.lines.column]);
  const total = decimalOf(readings.fields[check.equals]?.value);
  if (!total || rows.length === 0 || cells.some((cell) => decimalOf(cell?.value) === null)) return [];
  const lines = cells.reduce((sum, cell) => sum.plus(decimalOf(cell?.value) ?? 0), new Decimal(0));
  const fields = [...gapFields(input, check.minus ?? [], -1), ...gapFields(input, check.plus ?? [], 1)];
  const computed = fields.reduce((sum, field) => sum.plus(field.current.times(field.sign)), lines);
  const difference = total.minus(computed);
  const tolerance = new Decimal(check.tolerance ?? '0.01');
  if (difference.abs().lte(tolerance)) return [];
  // Figures that stand in a row have their meaning already, whether this check adds them or not.
  const inRows = rows.flatMap((row) => Object.values(row));
  const counted = [...inRows, ...fields.map((field) => readings.fields[field.key]), readings.fields[check.equals]].flatMap((reading): Place[] => (reading?.place ? [reading.place] : []));
  const search = { difference, tolerance, fields, amounts: strayAmounts(input.pages, decimalMark(input), counted) };
  const plain = explainGap(search);
  // A single amount that fits to the cent is the smallest explanation; a rate comes before sets of several.
  const explanations = plain[0]?.amounts.length === 1 ? plain : [...explainByTax(search, ratesOn(input.pages, decimalMark(input)), computed), ...plain];
  const text = `The parts come to ${shown(computed)}, but ${shown(total)} is printed as the total: ${shown(difference.abs())} too ${difference.isNegative() ? 'much in the parts' : 'little in the parts'}.`;
  return [{ check: 'reconcile', severity: 'must fix', text: explanations[0] ? `${text} ${explanations[0].text}` : text, paths: [check.equals], gap: { difference: plainAmount(difference, 2), explanations } }];
}

function gapFields({ kind, readings }: CheckInput, keys: readonly string[], sign: 1 | -1): GapField[] {
  return keys.map((key) => ({ key, sign, label: kind.fields.find((field) => field.key === key)?.label ?? key, current: decimalOf(readings.fields[key]?.value) ?? new Decimal(0) }));
}

const decimalMark = ({ kind, layout }: CheckInput): DecimalMark => kind.layouts.find((candidate) => candidate.key === layout)?.locale.decimal ?? '.';
