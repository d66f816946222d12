import Decimal from 'decimal.js';
import { seededChance, type Chance } from '@/settings/random';

/** Ways in which a generated bill is not like the others. */
export type Oddity = 'none' | 'does not add up' | 'discount elsewhere' | 'smudged label' | 'wrong row';

export type Haulier = 'merrow' | 'tollan';

export interface BillRow {
  readonly description: string;
  readonly quantity: Decimal;
  readonly unit: string;
  readonly price: Decimal;
  readonly amount: Decimal;
}

/** A haulage bill with its true values. Everything printed follows from this. */
export interface Bill {
  readonly haulier: Haulier;
  readonly number: string;
  /** ISO 8601. */
  readonly date: string;
  readonly account: string;
  readonly rows: readonly BillRow[];
  readonly discount: Decimal | null;
  readonly fuel: Decimal | null;
  readonly waiting: Decimal | null;
  readonly tax: Decimal;
  /** As printed; differs from the parts where the oddity says so. */
  readonly total: Decimal;
  /** A discount that is only mentioned in the closing remark. */
  readonly remarkedDiscount: Decimal | null;
  readonly oddity: Oddity;
}

/** Rate of tax on every bill of the scenario. */
export const TAX_RATE = '20';

const CARGO = ['crab in brine', 'langoustine, live', 'mixed whitefish on ice', 'herring, boxed', 'scallop meat', 'monkfish tails', 'mackerel, iced', 'whole squid', 'smoked sprat', 'empty fish boxes', 'salt, big bags', 'ice flakes'];
const PLACES = ['Skarrow Quay', 'Hallan Market', 'Port Ennet', 'Dunmarrow', 'Wester Voe', 'Ballock Cross', 'the Lunt cold hall', 'Carrick Sound ferry'];
const REMARKS = ['refrigerated at two degrees, door opened at both ends', 'collected after hours from the north gate, key handed back to the harbour office', 'split load with two drops, second drop signed for by the night shift', 'temperature log enclosed with the driver\u2019s papers'];

const cents = (value: Decimal): Decimal => value.toDecimalPlaces(2, Decimal.ROUND_HALF_UP);

/** A bill from a seed. The same seed gives the same bill. */
export function makeBill(seed: number, oddity: Oddity = 'none'): Bill {
  const chance = seededChance(seed * 7919 + 13);
  const haulier: Haulier = seed % 2 === 0 ? 'merrow' : 'tollan';
  const rows = makeRows(chance);
  const net = rows.reduce((sum, row) => sum.plus(row.amount), new Decimal(0));
  const share = (percent: number): Decimal => cents(net.times(percent).div(100));
  const discount = oddity !== 'discount elsewhere' && chance() < 0.35 ? share(2) : null;
  const fuel = chance() < 0.6 ? share(4 + Math.floor(chance() * 5)) : null;
  const waiting = chance() < 0.3 ? cents(new Decimal(38.5).times(1 + Math.floor(chance() * 4))) : null;
  const taxable = net.minus(discount ?? 0).plus(fuel ?? 0).plus(waiting ?? 0);
  const tax = cents(taxable.times(TAX_RATE).div(100));
  const remarkedDiscount = oddity === 'discount elsewhere' ? share(3) : null;
  const slip = oddity === 'does not add up' ? new Decimal(10 + Math.floor(chance() * 80)).plus('0.37') : new Decimal(0);
  return {
    haulier,
    number: haulier === 'merrow' ? `MH-${104000 + seed}` : `26/${String(5100 + seed).padStart(6, '0')}`,
    date: new Date(Date.UTC(2026, 8, 1 + (seed % 70))).toISOString().slice(0, 10),
    account: haulier === 'merrow' ? 'SQ-0417' : '00088231',
    rows: oddity === 'wrong row' ? rows.map((row, index) => (index === 0 ? { ...row, price: row.price.plus(1) } : row)) : rows,
    discount,
    fuel,
    waiting,
    tax,
    total: taxable.plus(tax).minus(remarkedDiscount ?? 0).plus(slip),
    remarkedDiscount,
    oddity,
  };
}

function makeRows(chance: Chance): BillRow[] {
  const sizes = [2, 3, 4, 5, 6, 8, 9, 12, 26, 48];
  const count = sizes[Math.floor(chance() * sizes.length)] ?? 4;
  return Array.from({ length: count }, () => makeRow(chance));
}

function makeRow(chance: Chance): BillRow {
  const from = Math.floor(chance() * PLACES.length);
  const to = (from + 1 + Math.floor(chance() * (PLACES.length - 1))) % PLACES.length;
  const cargo = CARGO[Math.floor(chance() * CARGO.length)];
  const remark = chance() < 0.3 ? `, ${REMARKS[Math.floor(chance() * REMARKS.length)]}` : '';
  const quantity = new Decimal(1 + Math.floor(chance() * 24));
  const price = cents(new Decimal(6 + chance() * 34));
  return { description: `${PLACES[from]} to ${PLACES[to]}, ${cargo}${remark}`, quantity, unit: chance() < 0.7 ? 'pallet' : 'box', price, amount: cents(quantity.times(price)) };
}

/** The true values, normalised, in the shape of a reading: what a perfect reader finds. */
export function truthOf(bill: Bill) {
  const money = (value: Decimal | null): string | null => value?.toFixed(2) ?? null;
  return {
    fields: {
      haulier: bill.haulier === 'merrow' ? 'Merrow Haulage' : 'Tollan & Daughters Reefer Lines',
      number: bill.number, date: bill.date, account: bill.account,
      discount: money(bill.discount), fuel: money(bill.fuel), waiting: money(bill.waiting), tax: money(bill.tax), total: money(bill.total),
    },
    tables: {
      lines: bill.rows.map((row) => ({ description: row.description, quantity: row.quantity.toFixed(), unit: row.unit, price: row.price.toFixed(2), amount: row.amount.toFixed(2) })),
    },
  };
}
