import { matchByName } from './match-names';

const offer = (source: string, label = source) => ({ source, label });

describe(matchByName, () => {
  test('columns get the values of the same name, however it is written', () => {
    expect(matchByName(['Bill number', 'TOTAL', 'due-date'], [offer('number', 'Bill number'), offer('total', 'Total due'), offer('due_date', 'To be paid by')])).toEqual({ 'Bill number': 'number', TOTAL: 'total', 'due-date': 'due_date' });
  });
  test('one letter more or less does not matter, and the beginning of a name is enough', () => {
    expect(matchByName(['Hauliers', 'Bill'], [offer('haulier', 'Haulier'), offer('number', 'Bill number')])).toEqual({ Hauliers: 'haulier', Bill: 'number' });
  });
  test('nothing is guessed where nothing is alike, and no value is used twice', () => {
    expect(matchByName(['Colour', 'Total', 'Totals'], [offer('total', 'Total')])).toEqual({ Total: 'total' });
  });
  test('of rows the last part of the name counts', () => expect(matchByName(['Amount'], [offer('row.amount', 'Betrag')])).toEqual({ Amount: 'row.amount' }));
});
