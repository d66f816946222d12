import Decimal from 'decimal.js';
import { seededChance, type Chance } from '@/settings/random';
import type { MadePaper, PaperSpec, Truth } from './paper-spec';
import { makeStyle, printedDate, printedFigure, printedMoney } from './style';

/** Papers of the harbour that are not bills: tickets of the weighbridge, certificates of the ice water, statements of the berths' power. */

const pick = <T>(chance: Chance, items: readonly T[]): T => items[Math.floor(chance() * items.length)] as T;
const whole = (chance: Chance, from: number, to: number): number => from + Math.floor(chance() * (to - from + 1));
const digits = (chance: Chance, count: number): string => Array.from({ length: count }, () => whole(chance, 0, 9)).join('');
const cents = (value: Decimal): Decimal => value.toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
const isoDate = (seed: number): string => new Date(Date.UTC(2026, 8, 1 + (seed % 75))).toISOString().slice(0, 10);

/** Layout seeds whose looks suit each of them. */
const LAYOUTS = { ticket: 52, certificate: 33, power: 41 } as const;

const paper = (kind: string, layout: number, seed: number, spec: PaperSpec, truth: Truth): MadePaper => ({ kind, layout, seed, spec, truth });
const chanceFor = (seed: number, salt: number): Chance => {
  const chance = seededChance(seed * 6007 + salt);
  chance();
  return chance;
};

export function makeTicket(seed: number): MadePaper {
  const chance = chanceFor(seed, 11);
  const tare = whole(chance, 3200, 9800);
  const net = whole(chance, 400, 14_000);
  const vehicle = `${pick(chance, ['SK', 'HL', 'DM'])} ${digits(chance, 4)} ${pick(chance, ['A', 'C', 'K'])}`;
  const number = `W${40_000 + seed}`;
  const date = isoDate(seed);
  const style = makeStyle(LAYOUTS.ticket);
  const kg = (value: number): string => `${printedFigure(style, new Decimal(value), 0)} kg`;
  const goods = pick(chance, ['herring', 'mackerel', 'crab', 'ice', 'salt', 'mixed whitefish']);
  const facts = [['Ticket no.', number], ['Date', printedDate(style, date)], ['Vehicle', vehicle], ['Goods', goods], ['Gross', kg(tare + net)], ['Tare', kg(tare)], ['Net', kg(net)]];
  return paper('weighbridge-ticket', LAYOUTS.ticket, seed, {
    sender: { name: 'Skarrow Quay Weighbridge', lines: ['North Pier, Skarrow'] }, title: 'Weighbridge ticket', recipient: [], facts: facts.map(([label = '', printed = '']) => ({ label, printed })), table: null, totals: [],
    notes: [pick(chance, ['driver waited, thanks', 'second load today', 'boxes wet', 'for the cold hall'])], footer: ['Calibrated to class III'],
  }, { fields: { number, date, vehicle, goods, gross: String(tare + net), tare: String(tare), net: String(net) }, tables: {} });
}

const TESTS = ['Escherichia coli', 'Coliform bacteria', 'Enterococci', 'Colony count 22 C', 'Colony count 36 C', 'Clostridium perfringens', 'Turbidity', 'pH value', 'Conductivity', 'Chloride', 'Nitrate', 'Nitrite', 'Ammonium', 'Iron', 'Manganese', 'Lead', 'Copper', 'Nickel', 'Cadmium', 'Free chlorine', 'Sulphate', 'Sodium', 'Aluminium', 'Fluoride', 'Boron', 'Arsenic', 'Selenium', 'Mercury', 'Total hardness', 'Total organic carbon', 'Bromate', 'Cyanide', 'Antimony', 'Chromium', 'Benzene', 'Trichloroethene', 'Odour', 'Colour'];
const UNITS_OF = ['cfu/100 ml', 'cfu/ml', 'mg/l', 'ug/l', 'NTU'];

export function makeCertificate(seed: number): MadePaper {
  const chance = chanceFor(seed, 23);
  const style = makeStyle(LAYOUTS.certificate);
  const number = `IW-${26_000 + seed}`;
  const date = isoDate(seed);
  const sample = `Ice plant tap ${whole(chance, 1, 4)}`;
  const results = TESTS.slice(0, 24 + (seed % 14)).map((parameter, index) => {
    // On every fifth certificate the sixth result is over its limit.
    if (seed % 5 === 0 && index === 5) return { parameter, result: '0.8', unit: 'mg/l', limit: '0.5' };
    const limit = pick(chance, ['0', '0.1', '0.5', '5', '10', '50', '250']);
    const result = limit === '0' ? '0' : chance() < 0.45 ? '<0.1' : new Decimal(limit).times(chance() * 0.9).toFixed(1);
    return { parameter, result, unit: pick(chance, UNITS_OF), limit };
  });
  return paper('water-certificate', LAYOUTS.certificate, seed, {
    sender: { name: 'Ennet Coast Laboratories', lines: ['4 Chapel Walk', 'Port Ennet 21907'] }, title: 'Certificate of analysis', recipient: ['Skarrow Quay Co-operative', 'Ice plant', 'Skarrow'],
    facts: [{ label: 'Certificate no.', printed: number }, { label: 'Sample', printed: sample }, { label: 'Date', printed: printedDate(style, date) }],
    table: { columns: [{ key: 'parameter', head: 'Parameter', align: 'left', weight: 4 }, { key: 'result', head: 'Result', align: 'right', weight: 1.5 }, { key: 'unit', head: 'Unit', align: 'left', weight: 1.6 }, { key: 'limit', head: 'Limit', align: 'right', weight: 1.3 }], rows: results, running: null },
    totals: [], notes: ['Results refer to the sample as received.'], footer: ['Ennet Coast Laboratories, accreditation no. 0417-A'],
  }, { fields: { laboratory: 'Ennet Coast Laboratories', number, sample, date }, tables: { results } });
}

export const METERS = Array.from({ length: 12 }, (_, index) => ({ meter: `PM-${70_400 + index * 37}`, berth: `${pick(seededChance(index + 1), ['A', 'B', 'C'])}${index + 1}`, boat: ['Silver Tern', 'Maid of Ennet', 'Corrie', 'Harvest Light', 'Two Sisters', 'Gannet', 'Northern Star', 'Osprey', 'Blue Fulmar', 'Elsa Jane', 'Spindrift', 'Kittiwake'][index] ?? '' }));

export function makePowerStatement(seed: number): MadePaper {
  const chance = chanceFor(seed, 37);
  const style = makeStyle(LAYOUTS.power);
  const { meter, berth, boat } = pick(chance, METERS);
  const before = whole(chance, 1200, 58_000);
  const used = whole(chance, 40, 1900);
  const number = `P${300_000 + seed}`;
  const net = cents(new Decimal(used).times('0.31').plus('8.5'));
  const tax = cents(net.times('0.2'));
  const figure = (value: number): string => printedFigure(style, new Decimal(value), 0);
  return paper('power-statement', LAYOUTS.power, seed, {
    sender: { name: 'Wester Voe Energy', lines: ['Grid House', 'Wester Voe 70031'] }, title: 'Power statement', recipient: ['Skarrow Quay Co-operative', 'Harbour Office', 'Skarrow'],
    facts: [{ label: 'Statement no.', printed: number }, { label: 'Date', printed: printedDate(style, isoDate(seed)) }, { label: 'Meter no.', printed: meter }, { label: 'Last reading', printed: figure(before) }, { label: 'This reading', printed: figure(before + used) }, { label: 'Used kWh', printed: figure(used) }],
    table: null, totals: [{ label: 'Net', printed: printedMoney(style, net) }, { label: 'VAT 20 %', printed: printedMoney(style, tax) }, { label: 'Total due', printed: printedMoney(style, net.plus(tax)), strong: true }], notes: ['Thank you for using quay power.'], footer: ['Wester Voe Energy, a company of the coast'],
  }, { fields: { number, date: isoDate(seed), meter, berth, boat, last_reading: String(before), this_reading: String(before + used), used: String(used), net: net.toFixed(2), tax: tax.toFixed(2), total: net.plus(tax).toFixed(2) }, tables: {} });
}

/** A plain mail in which a skipper asks for a slip. */
export function makeBooking(seed: number): { readonly mail: string; readonly truth: Truth } {
  const chance = chanceFor(seed, 53);
  const { boat } = pick(chance, METERS);
  const owner = pick(chance, ['Aud Halloran', 'Peder Quist', 'Moira Tennick', 'Ruan Castley', 'Siv Ormstad']);
  const from = isoDate(seed);
  const until = new Date(Date.parse(from) + whole(chance, 1, 12) * 86_400_000).toISOString().slice(0, 10);
  const length = new Decimal(whole(chance, 70, 240)).div(10).toFixed(1);
  const mail = [`From: ${owner} <${owner.toLowerCase().replace(' ', '.')}@boats.example>`, 'To: office@skarrow.example', 'Subject: Slip booking', `Date: ${new Date(Date.parse(from)).toUTCString()}`, 'MIME-Version: 1.0', 'Content-Type: text/plain; charset=utf-8', '', 'Good day,', '', 'please book a slip for us.', '', `Boat: ${boat}`, `Owner: ${owner}`, `Length over all: ${length} m`, `Arrival: ${from.split('-').reverse().join('.')}`, `Departure: ${until.split('-').reverse().join('.')}`, `Power wanted: ${chance() < 0.5 ? 'yes' : 'no'}`, '', 'With kind regards', owner, ''].join('\r\n');
  return { mail, truth: { fields: { boat, owner, length, arrival: from, departure: until, power: /wanted: yes/.test(mail) ? 'yes' : 'no' }, tables: {} } };
}
