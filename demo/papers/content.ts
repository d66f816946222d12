import Decimal from 'decimal.js';
import { seededChance, type Chance } from '@/settings/random';
import type { MadePaper, PaperColumn, PaperSpec, PaperTable, Truth } from './paper-spec';
import { makeStyle, printedDate, printedFigure, printedMoney, type Style } from './style';
import { COMPANIES, CUSTOMERS, GOODS, REMARKS, STREETS, SUFFIXES, TOWNS, UNITS } from './words';

/** Kinds of paper that can be generated in any number of layouts, with their true values. */
export const PAPER_KINDS = ['bill', 'delivery-note', 'order', 'statement'] as const;
export type PaperKind = (typeof PAPER_KINDS)[number];

const cents = (value: Decimal): Decimal => value.toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
const pick = <T>(chance: Chance, items: readonly T[]): T => items[Math.floor(chance() * items.length)] as T;
const whole = (chance: Chance, from: number, to: number): number => from + Math.floor(chance() * (to - from + 1));
const digits = (chance: Chance, count: number): string => Array.from({ length: count }, () => whole(chance, 0, 9)).join('');
const dateFrom = (chance: Chance, plusDays = 0): { iso: string; later: (days: number) => string } => {
  const base = Date.UTC(2026, 0, 1 + whole(chance, 0, 330) + plusDays);
  const at = (days: number) => new Date(base + days * 86_400_000).toISOString().slice(0, 10);
  return { iso: at(0), later: at };
};

/** Wordings that senders use. The reader has its own list; some of these are not on it on purpose. */
const WORDINGS = {
  billTitle: ['INVOICE', 'Invoice', 'Tax Invoice', 'BILL', 'Sales Invoice'],
  billNumber: ['Invoice No.', 'Invoice number', 'Invoice #', 'Bill no.', 'Document no.', 'Invoice', 'Our invoice', 'Inv. No'],
  billDate: ['Date', 'Invoice date', 'Date of invoice', 'Issue date', 'Bill date', 'Tax point', 'Dated'],
  dueDate: ['Due date', 'Payment due', 'Payable by', 'Due', 'Please pay by', 'Date due'],
  orderNumber: ['Order no.', 'Your order', 'PO number', 'Purchase order', 'Order reference', 'Your ref.', 'P.O. #'],
  customerNumber: ['Customer no.', 'Account no.', 'Customer number', 'Your account', 'Customer ID', 'Client no.'],
  net: ['Subtotal', 'Net amount', 'Total net', 'Net total', 'Goods total', 'Amount excl. VAT', 'Sub-total'],
  tax: ['VAT 20%', 'VAT', 'Tax', 'Sales tax', 'VAT @ 20 %', 'Plus VAT 20.00 %'],
  total: ['Total', 'Total due', 'Amount due', 'Invoice total', 'Grand total', 'Total amount', 'Balance due', 'Total to pay'],
  description: ['Description', 'Item', 'Details', 'Article', 'Goods', 'Product'],
  quantity: ['Qty', 'Quantity', 'Qty.', 'Units', 'No.'],
  unit: ['Unit', 'UoM', 'Per'],
  price: ['Unit price', 'Price', 'Rate', 'Price each', 'Unit cost'],
  amount: ['Amount', 'Total', 'Line total', 'Net', 'Value', 'Sum'],
  code: ['Item no.', 'Code', 'Article no.', 'Part no.', 'SKU', 'Ref.'],
  noteTitle: ['DELIVERY NOTE', 'Delivery Note', 'Despatch Note', 'Delivery docket', 'Packing slip'],
  noteNumber: ['Delivery note no.', 'Note no.', 'Delivery no.', 'Despatch no.', 'Docket number', 'Document no.'],
  noteDate: ['Date', 'Delivery date', 'Date of delivery', 'Despatched', 'Ship date'],
  carrier: ['Carrier', 'Delivered by', 'Carried by', 'Haulier', 'Shipped via'],
  orderTitle: ['PURCHASE ORDER', 'Purchase Order', 'Order', 'ORDER'],
  poNumber: ['Order no.', 'PO number', 'Order number', 'Purchase order no.', 'Our order', 'P.O. No.'],
  poDate: ['Date', 'Order date', 'Date of order', 'Ordered on', 'Issued'],
  deliveryDate: ['Deliver by', 'Delivery date', 'Required by', 'Wanted by', 'Date required'],
  supplierNumber: ['Supplier no.', 'Vendor no.', 'Vendor ID', 'Supplier code'],
  statementTitle: ['STATEMENT OF ACCOUNT', 'Account statement', 'Statement', 'Monthly statement'],
  account: ['Account no.', 'Account number', 'Account', 'Customer account', 'A/C no.'],
  statementDate: ['Statement date', 'Date', 'As at', 'Closing date'],
  opening: ['Opening balance', 'Balance brought forward', 'Previous balance', 'Brought forward'],
  closing: ['Closing balance', 'Balance carried forward', 'New balance', 'Balance due', 'Amount outstanding'],
  entryDate: ['Date', 'Posted', 'Day'],
  entryText: ['Details', 'Transaction', 'Description', 'Reference'],
  entryAmount: ['Amount', 'Debit/Credit', 'Movement', 'Value'],
  balance: ['Balance', 'Running balance', 'Balance after'],
} as const;

class Writer {
  constructor(
    readonly style: Style,
    readonly chance: Chance,
  ) {}

  label(name: keyof typeof WORDINGS): string {
    const options = WORDINGS[name];
    const text = options[this.style.wording(name, options.length)] ?? options[0];
    return this.style.upperLabels && text.length > 2 ? text.toUpperCase() : text;
  }

  fact(name: keyof typeof WORDINGS, printed: string): { label: string; printed: string } {
    return { label: `${this.label(name)}${this.style.colon}`, printed };
  }

  head(name: keyof typeof WORDINGS, money = false): string {
    return money && this.style.currency === 'in head' ? `${this.label(name)} EUR` : this.label(name);
  }

  money = (value: Decimal): string => printedMoney(this.style, value);
  figure = (value: Decimal, places: number): string => printedFigure(this.style, value, places);
  date = (iso: string): string => printedDate(this.style, iso);
}

interface Sender {
  readonly name: string;
  readonly lines: readonly string[];
}

/** Who a layout belongs to; the same on every paper of the layout. */
function senderOf(layout: number): Sender {
  const chance = seededChance(layout * 31_337 + 5);
  chance();
  const suffix = pick(chance, SUFFIXES);
  const name = `${COMPANIES[layout % COMPANIES.length] ?? ''}${suffix === '' ? '' : ` ${suffix}`}`;
  return { name, lines: [`${whole(chance, 1, 140)} ${pick(chance, STREETS)}`, `${pick(chance, TOWNS)} ${digits(chance, 5)}`, `Tel. 0${digits(chance, 3)} ${digits(chance, 6)}`] };
}

function footerOf(layout: number, sender: Sender): string[] {
  const chance = seededChance(layout * 911 + 3);
  chance();
  return [`${sender.name}, registered in ${pick(chance, TOWNS)} no. ${digits(chance, 7)}`, ...(chance() < 0.6 ? [`VAT reg. ZZ${digits(chance, 9)}`] : [])];
}

function recipientOf(chance: Chance): string[] {
  return [pick(chance, CUSTOMERS), `${whole(chance, 1, 90)} ${pick(chance, STREETS)}`, `${pick(chance, TOWNS)} ${digits(chance, 5)}`];
}

interface Goods {
  readonly description: string;
  readonly code: string;
  readonly quantity: Decimal;
  readonly unit: string;
  readonly price: Decimal;
  readonly amount: Decimal;
}

function goodsFrom(chance: Chance, most: number): Goods[] {
  const counts = [1, 2, 3, 4, 5, 6, 8, 11, 15, most];
  return Array.from({ length: pick(chance, counts) }, () => {
    const quantity = new Decimal(whole(chance, 1, 40));
    const price = cents(new Decimal(1.5 + chance() * (chance() < 0.2 ? 900 : 60)));
    const remark = chance() < 0.25 ? `, ${pick(chance, REMARKS)}` : '';
    return { description: `${pick(chance, GOODS)}${remark}`, code: `${pick(chance, ['A', 'B', 'K', 'T'])}${digits(chance, 4)}`, quantity, unit: pick(chance, UNITS), price, amount: cents(quantity.times(price)) };
  });
}

type Columns = readonly (PaperColumn & { readonly printed: (row: Goods) => string; readonly truth: (row: Goods) => string })[];

/** The goods columns that this layout has, in its order. */
function goodsColumns(writer: Writer, wanted: readonly string[]): Columns {
  const { style } = writer;
  const all: Columns = [
    { key: 'code', head: writer.head('code'), align: 'left', weight: 1.4, printed: (row) => row.code, truth: (row) => row.code },
    { key: 'description', head: writer.head('description'), align: 'left', weight: 5, printed: (row) => row.description, truth: (row) => row.description },
    { key: 'quantity', head: writer.head('quantity'), align: 'right', weight: 1.2, printed: (row) => row.quantity.toFixed(), truth: (row) => row.quantity.toFixed() },
    { key: 'unit', head: writer.head('unit'), align: 'left', weight: 1, printed: (row) => row.unit, truth: (row) => row.unit },
    { key: 'price', head: writer.head('price', true), align: 'right', weight: 1.6, printed: (row) => writer.figure(row.price, 2), truth: (row) => row.price.toFixed(2) },
    { key: 'amount', head: writer.head('amount', true), align: 'right', weight: 1.8, printed: (row) => writer.figure(row.amount, 2), truth: (row) => row.amount.toFixed(2) },
  ];
  const chosen = all.filter((column) => wanted.includes(column.key));
  const quantityFirst = style.wording('quantity first', 4) === 0;
  if (!quantityFirst) return chosen;
  const first = chosen.filter((column) => column.key === 'quantity' || column.key === 'unit');
  return [...first, ...chosen.filter((column) => !first.includes(column))];
}

function goodsTable(writer: Writer, rows: readonly Goods[], columns: Columns): PaperTable {
  const total = (count: number) => rows.slice(0, count).reduce((sum, row) => sum.plus(row.amount), new Decimal(0));
  return {
    columns,
    rows: rows.map((row) => Object.fromEntries(columns.map((column) => [column.key, column.printed(row)]))),
    running: writer.style.runningSum && columns.some((column) => column.key === 'amount') ? (count) => ({ label: 'Carried forward', printed: writer.figure(total(count), 2) }) : null,
  };
}

const truthRows = (rows: readonly Goods[], columns: Columns, keys: readonly string[]) =>
  rows.map((row) => Object.fromEntries(keys.map((key) => [key, columns.find((column) => column.key === key)?.truth(row) ?? null])));

interface Made {
  readonly spec: PaperSpec;
  readonly truth: Truth;
}

type Has = (name: string, share: number) => boolean;

/** Whether this layout prints something at all: a decision of the layout, not of the paper. */
const hasFor = (style: Style): Has => (name, share) => style.wording(`has ${name}`, 1000) < share * 1000;

function makeBillPaper(writer: Writer, sender: Sender): Made {
  const { chance, style } = writer;
  const has = hasFor(style);
  const date = dateFrom(chance);
  const rows = goodsFrom(chance, 46);
  const net = rows.reduce((sum, row) => sum.plus(row.amount), new Decimal(0));
  const tax = cents(net.times('0.2'));
  const number = `${['INV-', 'R', '', '26/', 'SI'][style.wording('prefix', 5)] ?? ''}${digits(chance, 6)}`;
  const order = has('order', 0.6) ? `${['PO-', '45', 'B'][style.wording('order prefix', 3)] ?? ''}${digits(chance, 5)}` : null;
  const customer = has('customer', 0.6) ? `${['C', '', 'K-'][style.wording('customer prefix', 3)] ?? ''}${digits(chance, 5)}` : null;
  const due = has('due', 0.7) ? date.later(whole(chance, 10, 45)) : null;
  const keys = ['description', 'quantity', 'unit', 'price', 'amount'];
  const columns = goodsColumns(writer, [...(has('code', 0.3) ? ['code'] : []), 'description', 'quantity', ...(has('unit', 0.4) ? ['unit'] : []), 'price', 'amount']);
  const facts = [writer.fact('billNumber', number), writer.fact('billDate', writer.date(date.iso)), ...(order ? [writer.fact('orderNumber', order)] : []), ...(customer ? [writer.fact('customerNumber', customer)] : []), ...(due ? [writer.fact('dueDate', writer.date(due))] : [])];
  const totals = [
    { ...writer.fact('net', writer.money(net)) }, { ...writer.fact('tax', writer.money(tax)) }, { ...writer.fact('total', writer.money(net.plus(tax))), strong: true },
  ];
  return {
    spec: { sender, title: writer.label('billTitle'), recipient: recipientOf(chance), facts, table: goodsTable(writer, rows, columns), totals, notes: has('note', 0.5) ? ['Goods remain our property until they are paid for in full.'] : [], footer: footerOf(style.layout, sender) },
    truth: {
      fields: { supplier: sender.name, number, date: date.iso, due_date: due, order_number: order, customer_number: customer, net: net.toFixed(2), tax: tax.toFixed(2), total: net.plus(tax).toFixed(2) },
      tables: { lines: truthRows(rows, columns, keys) },
    },
  };
}

function makeDeliveryNote(writer: Writer, sender: Sender): Made {
  const { chance, style } = writer;
  const has = hasFor(style);
  const date = dateFrom(chance);
  const rows = goodsFrom(chance, 40);
  const number = `${['DN', 'L-', ''][style.wording('prefix', 3)] ?? ''}${digits(chance, 6)}`;
  const order = `PO${digits(chance, 5)}`;
  const carrier = has('carrier', 0.5) ? pick(chance, ['Merrow Haulage', 'own van', 'Tollan & Daughters', 'collected']) : null;
  const customer = recipientOf(chance);
  const columns = goodsColumns(writer, ['code', 'description', 'quantity', 'unit']);
  const facts = [writer.fact('noteNumber', number), writer.fact('noteDate', writer.date(date.iso)), writer.fact('orderNumber', order), ...(carrier ? [writer.fact('carrier', carrier)] : [])];
  return {
    spec: { sender, title: writer.label('noteTitle'), recipient: customer, facts, table: goodsTable(writer, rows, columns), totals: [], notes: ['Received in good order:', 'Signature ........................'], footer: footerOf(style.layout, sender) },
    truth: { fields: { supplier: sender.name, number, date: date.iso, order_number: order, carrier }, tables: { lines: truthRows(rows, columns, ['code', 'description', 'quantity', 'unit']) } },
  };
}

function makeOrder(writer: Writer, sender: Sender): Made {
  const { chance, style } = writer;
  const has = hasFor(style);
  const date = dateFrom(chance);
  const rows = goodsFrom(chance, 30);
  const total = rows.reduce((sum, row) => sum.plus(row.amount), new Decimal(0));
  const number = `${['PO-', '45', ''][style.wording('prefix', 3)] ?? ''}${digits(chance, 6)}`;
  const wanted = date.later(whole(chance, 5, 30));
  const supplierNumber = has('supplier no', 0.6) ? digits(chance, 6) : null;
  const columns = goodsColumns(writer, [...(has('code', 0.6) ? ['code'] : []), 'description', 'quantity', 'price', 'amount']);
  const facts = [writer.fact('poNumber', number), writer.fact('poDate', writer.date(date.iso)), writer.fact('deliveryDate', writer.date(wanted)), ...(supplierNumber ? [writer.fact('supplierNumber', supplierNumber)] : [])];
  return {
    spec: { sender, title: writer.label('orderTitle'), recipient: recipientOf(chance), facts, table: goodsTable(writer, rows, columns), totals: [{ ...writer.fact('total', writer.money(total)), strong: true }], notes: [], footer: footerOf(style.layout, sender) },
    truth: { fields: { buyer: sender.name, number, date: date.iso, delivery_date: wanted, supplier_number: supplierNumber, total: total.toFixed(2) }, tables: { lines: truthRows(rows, columns, ['code', 'description', 'quantity', 'price', 'amount']) } },
  };
}

function makeStatement(writer: Writer, sender: Sender): Made {
  const { chance, style } = writer;
  const start = dateFrom(chance);
  const account = digits(chance, 8);
  const opening = cents(new Decimal(50 + chance() * 3000));
  let balance = opening;
  const entries = Array.from({ length: pick(chance, [3, 5, 8, 14, 30, 55]) }, (_, index) => {
    const amount = cents(new Decimal((chance() < 0.4 ? -1 : 1) * (5 + chance() * 700)));
    balance = balance.plus(amount);
    return { date: start.later(Math.floor(index / 2)), text: pick(chance, [`Invoice ${digits(chance, 6)}`, 'Payment received, thank you', `Credit note ${digits(chance, 5)}`, 'Berth hire', 'Ice and water']), amount, balance };
  });
  const columns: PaperColumn[] = [
    { key: 'date', head: writer.head('entryDate'), align: 'left', weight: 1.6 }, { key: 'description', head: writer.head('entryText'), align: 'left', weight: 4 },
    { key: 'amount', head: writer.head('entryAmount', true), align: 'right', weight: 1.8 }, { key: 'balance', head: writer.head('balance', true), align: 'right', weight: 1.8 },
  ];
  const end = start.later(31);
  const facts = [writer.fact('account', account), writer.fact('statementDate', writer.date(end)), writer.fact('opening', writer.money(opening))];
  return {
    spec: {
      sender, title: writer.label('statementTitle'), recipient: recipientOf(chance), facts,
      table: { columns, rows: entries.map((entry) => ({ date: writer.date(entry.date), description: entry.text, amount: writer.figure(entry.amount, 2), balance: writer.figure(entry.balance, 2) })), running: null },
      totals: [{ ...writer.fact('closing', writer.money(balance)), strong: true }], notes: [], footer: footerOf(style.layout, sender),
    },
    truth: {
      fields: { issuer: sender.name, account, date: end, opening_balance: opening.toFixed(2), closing_balance: balance.toFixed(2) },
      tables: { lines: entries.map((entry) => ({ date: entry.date, description: entry.text, amount: entry.amount.toFixed(2), balance: entry.balance.toFixed(2) })) },
    },
  };
}

const MAKERS: Readonly<Record<PaperKind, (writer: Writer, sender: Sender) => Made>> = { bill: makeBillPaper, 'delivery-note': makeDeliveryNote, order: makeOrder, statement: makeStatement };

/** A paper of a kind in a layout. The same three values give the same paper. */
export function makePaper(kind: PaperKind, layout: number, seed: number): MadePaper {
  const chance = seededChance(seed * 7919 + layout * 131 + 29);
  chance();
  const made = MAKERS[kind](new Writer(makeStyle(layout), chance), senderOf(layout));
  return { kind, layout, seed, ...made };
}
