import Decimal from 'decimal.js';
import { seededChance, type Chance } from '@/settings/random';

/** How the facts of a paper (number, date, …) stand: one per line beside their labels, under them, run together, or in ruled boxes. */
export type FactsShape = 'right column' | 'left column' | 'row above' | 'inline' | 'boxes' | 'stacked';
export type TableShape = 'plain' | 'ruled' | 'boxed' | 'banded';

/** Everything that makes one sender's paper look like itself. Drawn from a layout seed, the same for every paper of that sender. */
export interface Style {
  readonly layout: number;
  readonly faces: { readonly regular: string; readonly bold: string };
  readonly size: number;
  readonly margin: number;
  readonly facts: FactsShape;
  readonly table: TableShape;
  readonly headSide: 'left' | 'right' | 'centre';
  readonly titleSide: 'left' | 'right';
  readonly colon: string;
  readonly decimal: '.' | ',';
  readonly grouped: boolean;
  readonly date: 'dmy/' | 'dmy.' | 'dmy-' | 'iso' | 'long' | 'short' | 'american';
  readonly currency: 'none' | 'before' | 'after' | 'sign' | 'in head';
  readonly totalsSide: 'right' | 'left label' | 'boxed';
  readonly factsFirst: boolean;
  readonly upperLabels: boolean;
  readonly runningSum: boolean;
  readonly wrapped: 'below' | 'above';
  /** Which wording of each label this sender uses: an index into a list of any length. */
  readonly wording: (name: string, count: number) => number;
}

const pick = <T>(chance: Chance, items: readonly T[]): T => items[Math.floor(chance() * items.length)] as T;

const FACES = [
  { regular: 'Helvetica', bold: 'Helvetica-Bold' },
  { regular: 'Times-Roman', bold: 'Times-Bold' },
  { regular: 'Courier', bold: 'Courier-Bold' },
] as const;

const hashOf = (text: string): number => [...text].reduce((sum, letter) => Math.imul(sum ^ letter.charCodeAt(0), 0x01000193) >>> 0, 0x811c9dc5);

/** The style of a sender. The same seed gives the same style. */
export function makeStyle(layout: number): Style {
  const chance = seededChance(layout * 104_729 + 17);
  for (let spin = 0; spin < 3; spin += 1) chance();
  const american = chance() < 0.15;
  const decimal = !american && chance() < 0.3 ? ',' : '.';
  return {
    layout,
    faces: chance() < 0.1 ? FACES[2] : pick(chance, FACES.slice(0, 2)),
    size: pick(chance, [8.5, 9, 9.5, 10, 10.5]),
    margin: pick(chance, [36, 44, 48, 56, 64]),
    facts: pick(chance, ['right column', 'right column', 'left column', 'row above', 'inline', 'boxes', 'stacked'] as const),
    table: pick(chance, ['plain', 'ruled', 'ruled', 'boxed', 'banded'] as const),
    headSide: pick(chance, ['left', 'left', 'right', 'centre'] as const),
    titleSide: pick(chance, ['left', 'right'] as const),
    colon: pick(chance, ['', '', ':', ':', ' :']),
    decimal,
    grouped: chance() < 0.8,
    date: american ? 'american' : pick(chance, ['dmy/', 'dmy.', 'dmy-', 'iso', 'long', 'short'] as const),
    currency: american ? 'sign' : pick(chance, ['none', 'none', 'before', 'after', 'sign', 'in head'] as const),
    totalsSide: pick(chance, ['right', 'right', 'left label', 'boxed'] as const),
    factsFirst: chance() < 0.35,
    upperLabels: chance() < 0.15,
    runningSum: chance() < 0.6,
    wrapped: 'below',
    wording: (name, count) => hashOf(`${layout}/${name}`) % count,
  };
}

const MONTHS = ['January', 'February', 'March', 'April', 'May', 'June', 'July', 'August', 'September', 'October', 'November', 'December'];

/** An ISO date as this sender prints it. */
export function printedDate(style: Style, iso: string): string {
  const [year = '', month = '', day = ''] = iso.split('-');
  const name = MONTHS[Number(month) - 1] ?? '';
  switch (style.date) {
    case 'dmy/': return `${day}/${month}/${year}`;
    case 'dmy.': return `${day}.${month}.${year}`;
    case 'dmy-': return `${day}-${month}-${year}`;
    case 'iso': return iso;
    case 'long': return `${Number(day)} ${name} ${year}`;
    case 'short': return `${day}-${name.slice(0, 3)}-${year}`;
    case 'american': return `${month}/${day}/${year}`;
  }
}

/** A plain decimal with this sender's marks and the given number of places. */
export function printedFigure(style: Style, value: Decimal, places: number): string {
  const [whole = '', fraction] = value.abs().toFixed(places).split('.');
  const grouped = style.grouped ? whole.replace(/\B(?=(\d{3})+(?!\d))/g, style.decimal === ',' ? '.' : ',') : whole;
  return `${value.isNegative() ? '-' : ''}${grouped}${fraction === undefined ? '' : `${style.decimal}${fraction}`}`;
}

/** An amount outside the table, with the currency where this sender puts it. */
export function printedMoney(style: Style, value: Decimal): string {
  const figure = printedFigure(style, value, 2);
  const sign = style.date === 'american' ? '$' : '€';
  switch (style.currency) {
    case 'none': case 'in head': return figure;
    case 'before': return `EUR ${figure}`;
    case 'after': return `${figure} EUR`;
    case 'sign': return `${sign}${figure}`;
  }
}
