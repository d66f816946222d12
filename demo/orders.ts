import type { Order } from '@/standins/ledger/books';
import { seededChance, type Chance } from '@/settings/random';
import { FIRST_FREE_SEED } from './scenario';
import { deliveryPaper } from './papers/arriving';

/** Suppliers of the chandlery: one for each layout of its delivery notes. */
export const SUPPLIERS = [0, 1, 2].map((seed, index) => ({ number: `S-${201 + index}`, name: deliveryPaper(seed).truth.fields['supplier'] ?? '' }));

/** How the office writes what suppliers call otherwise. */
const OUR_WORDS: Readonly<Record<string, string>> = {
  'Braided rope 12 mm': 'Rope, braided, 12 mm, 220 m coil', 'Galvanised shackle': 'Shackle galv., bow', 'Marine varnish, gloss': 'Varnish marine gloss 2.5 l', 'Nitrile gloves, box of 100': 'Gloves nitrile (100)', 'Hydraulic hose assembly': 'Hose assembly, hydraulic, 3 m',
  'Stainless bolt M8 x 40': 'Bolt stainless M8x40', 'Anti-fouling paint, red': 'Antifouling red, 5 l', 'LED deck lamp 24 V': 'Deck lamp LED 24V', 'Bilge pump 2000': 'Pump, bilge, 2000 l/h', 'Fish box lids': 'Lids for fish boxes', 'Copy paper A4': 'Paper A4 for the copier', 'Toner cartridge, black': 'Toner black',
  'Plywood sheet 18 mm': 'Plywood 18 mm, sheet', 'Diesel filter': 'Filter, diesel', 'Sealing compound, grey': 'Sealing comp. grey', 'Safety boots size 43': 'Boots safety, size 43', 'First-aid kit refill': 'Refill for first-aid kit', 'Cable drum 3 x 2.5': 'Cable 3x2.5 on drum', 'Grease cartridge': 'Grease, cartridge 400 g',
  'Cleaning concentrate': 'Concentrate, cleaning, 10 l', 'Pallet wrap': 'Wrap for pallets', 'Label rolls 100 x 150': 'Labels 100x150, roll', 'Wheel bearing': 'Bearing, wheel, trailer', 'V-belt': 'V-belt for compressor', 'Thermostat housing': 'Housing, thermostat', 'Window pane, tempered': 'Pane tempered, wheelhouse',
  'Steel rope clip': 'Clip for steel rope', 'Work light, magnetic': 'Light, work, magnetic foot', 'Battery 12 V 100 Ah': 'Battery 12V 100Ah deep cycle', 'Inspection of the cold room': 'Cold room inspection',
};

const whole = (chance: Chance, from: number, to: number): number => from + Math.floor(chance() * (to - from + 1));

/**
 * The order that a delivery note answers: the office's words for the goods, often more than was delivered, now and then less, some lines without
 * the supplier's item number, one line on some that has not come, and one missing that came all the same.
 */
export function orderFor(seed: number): Order {
  const { truth } = deliveryPaper(seed);
  const chance = seededChance(seed * 421 + 17);
  chance();
  const came = (truth.tables['lines'] ?? []).filter((_, index) => !(seed % 5 === 3 && index === 1));
  const lines = came.map((row, index) => {
    const delivered = Number(row['quantity'] ?? 0);
    const quantity = seed % 4 === 2 && index === 0 ? Math.max(1, delivered - 2) : delivered + (chance() < 0.4 ? whole(chance, 1, 12) : 0);
    const name = (row['description'] ?? '').split(', ')[0] ?? '';
    const known = OUR_WORDS[row['description'] ?? ''] ?? OUR_WORDS[name] ?? Object.entries(OUR_WORDS).find(([theirs]) => (row['description'] ?? '').startsWith(theirs))?.[1] ?? name;
    return { line: (index + 1) * 10, item: chance() < 0.35 ? '' : (row['code'] ?? ''), text: known, quantity: String(quantity), unit: row['unit'] ?? '', price: (1 + chance() * 60).toFixed(2) };
  });
  const later = seed % 3 === 1 ? [{ line: (lines.length + 1) * 10, item: `B${whole(chance, 1000, 9999)}`, text: 'Rope, floating, orange, 8 mm', quantity: '6', unit: 'roll', price: '38.40' }] : [];
  return { id: truth.fields['order_number'] ?? '', supplier: SUPPLIERS[seed % 3]?.number ?? '', lines: [...lines, ...later] };
}

/** Orders for the notes of the scenario, and for some that are sent by hand. */
export const ORDERS: readonly Order[] = [...Array.from({ length: 12 }, (_, seed) => seed), ...Array.from({ length: 30 }, (_, index) => FIRST_FREE_SEED + index)].map(orderFor);
