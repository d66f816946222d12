import type { putList } from '@/store/queries/lists';
import type { ValueType } from '@/core/value/normalise';

type NewList = Parameters<typeof putList>[1];
const list = (key: string, name: string, description: string, columns: Readonly<Record<string, ValueType>>): NewList => ({ key, name, description, columns: Object.entries(columns).map(([column, type]) => ({ name: column, type })) });

/** The list that the haulage pipeline writes to. */
export const LEDGER = list('haulage-ledger', 'Haulage ledger', 'One row for every bill of a haulier that was read and checked.', { Haulier: 'text', Bill: 'identifier', Date: 'date', Account: 'identifier', Discount: 'money', Tax: 'money', Total: 'money', Pay: 'text' });

/** The lists that the pipelines of the scenario write to. */
export const RESULT_LISTS: readonly NewList[] = [
  LEDGER,
  list('weighings', 'Weighings', 'One row for every slip of the weighbridge.', { Ticket: 'identifier', Date: 'date', Vehicle: 'identifier', Goods: 'text', Gross: 'number', Tare: 'number', Net: 'number' }),
  list('berth-power', 'Berth power', 'Power that each berth has used, with the boat that lies there.', { Statement: 'identifier', Date: 'date', Meter: 'identifier', Berth: 'identifier', Boat: 'text', Used: 'number', Total: 'money' }),
  list('water-results', 'Ice-water results', 'Every result of every certificate.', { Certificate: 'identifier', Date: 'date', Sample: 'text', Parameter: 'text', Result: 'text', Unit: 'text', Limit: 'text' }),
  list('slip-bookings', 'Slip bookings', 'Slips that skippers have asked for by mail.', { Boat: 'text', Owner: 'text', Length: 'number', Arrival: 'date', Departure: 'date', Power: 'yes-no' }),
  list('deliveries', 'Chandlery deliveries', 'Every line of every delivery note.', { Note: 'identifier', Date: 'date', Supplier: 'text', Order: 'identifier', Line: 'number', Item: 'text', Quantity: 'number', Unit: 'text', 'Was open': 'number' }),
  list('e-invoices', 'E-invoices', 'Bills that came as data.', { Seller: 'text', Invoice: 'identifier', Date: 'date', Net: 'money', Tax: 'money', Total: 'money' }),
];
