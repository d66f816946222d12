import Decimal from 'decimal.js';
import { printPaper } from '../../demo/papers/print';
import type { MadePaper } from '../../demo/papers/paper-spec';

const money = (value: Decimal): string => value.toFixed(2).replace(/\B(?=(\d{3})+(?!\d))/g, ',');

/** A haulage bill in a layout that nobody has taught, one of whose labels nobody would guess. */
export function strangeBill(number: number): MadePaper {
  const rows = [1, 2, 3].map((step) => {
    const [quantity, price] = [new Decimal(step + number % 5), new Decimal('12.50').plus(step)];
    return { description: `Load ${step} of crates to Port Ennet`, quantity, price, amount: quantity.times(price) };
  });
  const net = rows.reduce((sum, row) => sum.plus(row.amount), new Decimal(0));
  const tax = net.times('0.2').toDecimalPlaces(2);
  const account = `Q-${7000 + number}`;
  return {
    kind: 'haulage-bill', layout: 4, seed: number,
    spec: {
      sender: { name: 'Corran Coast Carriers', lines: ['2 Ferry Lane', 'Ballock 40771'] }, title: 'Invoice', recipient: ['Skarrow Quay Co-operative', 'The Quay 1'],
      facts: [{ label: 'Invoice no.', printed: `CC-${5000 + number}` }, { label: 'Invoice date', printed: '12 Oct 2026' }, { label: 'Leaf in our book', printed: account }],
      table: { columns: [{ key: 'description', head: 'Description', align: 'left', weight: 5 }, { key: 'quantity', head: 'Qty', align: 'right', weight: 1 }, { key: 'price', head: 'Unit price', align: 'right', weight: 1.6 }, { key: 'amount', head: 'Amount', align: 'right', weight: 1.8 }], rows: rows.map((row) => ({ description: row.description, quantity: row.quantity.toFixed(), price: money(row.price), amount: money(row.amount) })), running: null },
      totals: [{ label: 'Subtotal', printed: money(net) }, { label: 'VAT 20 %', printed: money(tax) }, { label: 'Total due', printed: money(net.plus(tax)), strong: true }], notes: ['With thanks from the coast'], footer: ['Corran Coast Carriers, registered in Ballock'],
    },
    truth: { fields: { haulier: 'Corran Coast Carriers', number: `CC-${5000 + number}`, date: '2026-10-12', account, tax: tax.toFixed(2), total: net.plus(tax).toFixed(2), fuel: null, waiting: null, discount: null }, tables: { lines: rows.map((row) => ({ description: row.description, quantity: row.quantity.toFixed(), unit: null, price: row.price.toFixed(2), amount: row.amount.toFixed(2) })) } },
  };
}

export const printStrangeBill = (number: number): Promise<Buffer> => printPaper(strangeBill(number));
