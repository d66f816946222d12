import type Decimal from 'decimal.js';
import { TAX_RATE, type Bill, type BillRow } from './bill';
import { Paper } from './paper';

const BOTTOM = 740;

interface Columns {
  readonly heads: readonly { readonly text: string; readonly x: number; readonly align: 'left' | 'right' }[];
  readonly cells: (row: BillRow, index: number) => readonly (string | null)[];
  /** Index of the column that wraps, and its width. */
  readonly wraps: { readonly column: number; readonly width: number };
  readonly carried: string;
  readonly money: (value: Decimal) => string;
}

/** The bill as PDF bytes, in the layout of its haulier. */
export async function printBill(bill: Bill): Promise<Buffer> {
  return bill.haulier === 'merrow' ? printMerrow(bill) : printTollan(bill);
}

function point(value: Decimal): string {
  return value.toFixed(2).replace(/\B(?=(\d{3})+(?!\d))/g, ',');
}

function comma(value: Decimal): string {
  return point(value).replace(/[.,]/g, (mark) => (mark === '.' ? ',' : '.'));
}

async function printMerrow(bill: Bill): Promise<Buffer> {
  const paper = new Paper({ regular: 'Helvetica', bold: 'Helvetica-Bold' });
  paper.pdf.rect(48, 44, 8, 40).fill('#8a2f1d');
  paper.say('Merrow Haulage', 66, 46, { size: 19, bold: true });
  paper.say('Yard 3, Old Tannery Road, Hallan', 66, 70, { size: 8.5, colour: '#555' });
  paper.say('HAULAGE BILL', 547, 48, { size: 13, bold: true, align: 'right' });
  for (const [index, line] of ['Skarrow Quay Co-operative', 'Harbour Office', 'The Quay 1', 'Skarrow'].entries()) paper.say(line, 66, 122 + index * 13);
  const facts = [['Bill no.', bill.number], ['Bill date', longDate(bill.date)], ['Account no.', bill.account]];
  for (const [index, [label, value]] of facts.entries()) {
    paper.say(label ?? '', 370, 122 + index * 16, { colour: '#555' });
    paper.say(value ?? '', 547, 122 + index * 16, { align: 'right', bold: true });
  }
  const columns: Columns = {
    heads: [{ text: 'Description', x: 66, align: 'left' }, { text: 'Qty', x: 352, align: 'right' }, { text: 'Unit', x: 366, align: 'left' }, { text: 'Unit price', x: 468, align: 'right' }, { text: 'Amount', x: 547, align: 'right' }],
    cells: (row) => [null, row.quantity.toFixed(), row.unit, point(row.price), point(row.amount)],
    wraps: { column: 0, width: 250 },
    carried: 'Carried forward',
    money: point,
  };
  printRows(paper, bill.rows, columns, 210);
  const totals: [string, Decimal | null][] = [['Fuel supplement', bill.fuel], ['Waiting time', bill.waiting], ['Less early-payment discount', bill.discount?.neg() ?? null], [`Tax ${TAX_RATE} %`, bill.tax]];
  printTotals(paper, { label: 360, amount: 547, first: ['Total of services', sumOf(bill.rows)], parts: totals, last: [bill.oddity === 'smudged label' ? 'Totel due' : 'Total due', `EUR ${point(bill.total)}`], money: point });
  if (bill.remarkedDiscount) remark(paper, [`Agreed harbour discount of EUR ${point(bill.remarkedDiscount)} has been`, 'taken off. With our thanks for prompt payment.']);
  paper.onEachPage((page, of) => paper.say(`Merrow Haulage, registered in Hallan, page ${page} of ${of}`, 66, 800, { size: 7.5, colour: '#777' }));
  return paper.bytes();
}

async function printTollan(bill: Bill): Promise<Buffer> {
  const paper = new Paper({ regular: 'Times-Roman', bold: 'Times-Bold' });
  paper.say('Tollan & Daughters Reefer Lines', 297 + 130, 40, { size: 20, bold: true, align: 'right', colour: '#123a5c' });
  paper.rule(48, 547, 68, 1.4, '#123a5c');
  paper.say('Quayside 12, Port Ennet', 48, 74, { size: 8.5, colour: '#555' });
  for (const [index, line] of ['Skarrow Quay Co-operative', 'The Quay 1, Skarrow'].entries()) paper.say(line, 48, 112 + index * 13, { size: 10.5 });
  const facts = [['Invoice', bill.number, 48], ['Dated', shortDate(bill.date), 190], ['Customer ref', bill.account, 330]] as const;
  for (const [label, value, x] of facts) {
    paper.say(label, x, 160, { size: 8.5, colour: '#555' });
    paper.say(value, x, 173, { size: 11.5, bold: true });
  }
  const columns: Columns = {
    heads: [{ text: 'Pos', x: 48, align: 'left' }, { text: 'Pieces', x: 118, align: 'right' }, { text: 'Kind', x: 130, align: 'left' }, { text: 'Trip and load', x: 176, align: 'left' }, { text: 'Rate EUR', x: 462, align: 'right' }, { text: 'Sum EUR', x: 547, align: 'right' }],
    cells: (row, index) => [String(index + 1), row.quantity.toFixed(), row.unit, null, comma(row.price), comma(row.amount)],
    wraps: { column: 3, width: 225 },
    carried: 'Running sum',
    money: comma,
  };
  printRows(paper, bill.rows, columns, 214);
  const totals: [string, Decimal | null][] = [['Diesel supplement', bill.fuel], ['Standing time', bill.waiting], ['Settlement discount', bill.discount?.neg() ?? null], [`VAT ${TAX_RATE},0 %`, bill.tax]];
  printTotals(paper, { label: 330, amount: 547, first: ['Sum of trips', sumOf(bill.rows)], parts: totals, last: [bill.oddity === 'smudged label' ? 'Payabie' : 'Payable', comma(bill.total)], money: comma });
  if (bill.remarkedDiscount) remark(paper, ['Your seasonal allowance for the month', `EUR ${comma(bill.remarkedDiscount)} is already deducted.`]);
  paper.onEachPage((page, of) => {
    paper.rule(48, 547, 790, 0.6, '#123a5c');
    paper.say(`Tollan & Daughters, Port Ennet. Sheet ${page}/${of}`, 48, 796, { size: 8, colour: '#555' });
  });
  return paper.bytes();
}

function printRows(paper: Paper, rows: readonly BillRow[], columns: Columns, top: number): void {
  paper.y = top;
  printHead(paper, columns);
  let running = rows[0]?.amount.minus(rows[0].amount);
  for (const [index, row] of rows.entries()) {
    const lines = paper.wrap(row.description, columns.wraps.width);
    if (paper.y + lines.length * 12 + 5 > BOTTOM) {
      const carried = columns.money(running ?? row.amount);
      const [left = 66, right = 547] = [columns.heads[columns.wraps.column]?.x, columns.heads.at(-1)?.x];
      paper.say(columns.carried, left, paper.y + 6, { bold: true });
      paper.say(carried, right, paper.y + 6, { bold: true, align: 'right' });
      paper.newPage();
      paper.y = 60;
      printHead(paper, columns);
    }
    const cells = columns.cells(row, index);
    for (const [column, head] of columns.heads.entries()) {
      const text = cells[column];
      if (typeof text === 'string') paper.say(text, head.x, paper.y, { align: head.align });
      else for (const [number, line] of lines.entries()) paper.say(line, head.x, paper.y + number * 12, { align: 'left' });
    }
    running = running?.plus(row.amount);
    paper.y += lines.length * 12 + 5;
  }
}

function printHead(paper: Paper, columns: Columns): void {
  for (const head of columns.heads) paper.say(head.text, head.x, paper.y, { bold: true, size: 9, align: head.align });
  paper.rule(48, 547, paper.y + 13);
  paper.y += 20;
}

interface Totals {
  readonly label: number;
  readonly amount: number;
  readonly first: readonly [string, Decimal];
  readonly parts: readonly (readonly [string, Decimal | null])[];
  readonly last: readonly [string, string];
  readonly money: (value: Decimal) => string;
}

function printTotals(paper: Paper, totals: Totals): void {
  if (paper.y + 130 > BOTTOM) {
    paper.newPage();
    paper.y = 60;
  }
  paper.y += 8;
  paper.rule(totals.label, totals.amount, paper.y);
  paper.y += 8;
  for (const [label, value] of [totals.first, ...totals.parts]) {
    if (!value) continue;
    paper.say(label, totals.label, paper.y);
    paper.say(totals.money(value), totals.amount, paper.y, { align: 'right' });
    paper.y += 16;
  }
  paper.rule(totals.label, totals.amount, paper.y);
  paper.say(totals.last[0], totals.label, paper.y + 6, { bold: true, size: 11 });
  paper.say(totals.last[1], totals.amount, paper.y + 6, { bold: true, size: 11, align: 'right' });
  paper.y += 30;
}

function remark(paper: Paper, lines: readonly string[]): void {
  for (const [index, line] of lines.entries()) paper.say(line, 66, paper.y + 12 + index * 13, { size: 9 });
}

const sumOf = (rows: readonly BillRow[]): Decimal => rows.slice(1).reduce((sum, row) => sum.plus(row.amount), rows[0]?.amount as Decimal);

const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'];

function longDate(iso: string): string {
  const [year, month, day] = iso.split('-').map(Number);
  return `${day} ${MONTHS[(month ?? 1) - 1]} ${year}`;
}

const shortDate = (iso: string): string => iso.split('-').reverse().join('.');
