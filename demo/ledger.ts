import type { ListHead } from '@/store/queries/lists';

/** The list that the haulage pipeline writes to. */
export const LEDGER: ListHead = {
  key: 'haulage-ledger',
  name: 'Haulage ledger',
  description: 'One row for every bill of a haulier that was read and checked.',
  columns: [
    { name: 'Haulier', type: 'text' }, { name: 'Bill', type: 'identifier' }, { name: 'Date', type: 'date' }, { name: 'Account', type: 'identifier' },
    { name: 'Discount', type: 'money' }, { name: 'Tax', type: 'money' }, { name: 'Total', type: 'money' }, { name: 'Pay', type: 'text' },
  ],
};
