import { typedReading } from '@/core/reading/edit';
import type { FieldDefinition, KindDefinition, RuleCheck } from '@/core/reading/kind';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { checkRule } from './rules';

const fields: FieldDefinition[] = [{ key: 'total', label: 'Total', type: 'money' }, { key: 'number', label: 'Number', type: 'identifier' }, { key: 'ordered', label: 'Ordered', type: 'date' }, { key: 'delivered', label: 'Delivered', type: 'date' }];
const kind: KindDefinition = { leadline: 'kind/1', key: 'k', name: 'K', fields, tables: [], layouts: [], checks: [] };

function findings(check: RuleCheck, values: Readonly<Record<string, string>>) {
  const readings = { fields: Object.fromEntries(fields.map((field) => [field.key, typedReading(field, values[field.key] ?? '', PLAIN_LOCALE, null)])), tables: {} };
  return checkRule(kind, readings, check).map((finding) => [finding.severity, finding.text, finding.paths]);
}

describe(checkRule, () => {
  test.each<[string, RuleCheck, Record<string, string>, string | null]>([
    ['an amount in its range', { check: 'range', field: 'total', min: '0', max: '2500' }, { total: '2500.00' }, null],
    ['an amount above it', { check: 'range', field: 'total', max: '2500' }, { total: '2500.01' }, 'Total is 2,500.01, above the most of 2,500.'],
    ['a number written otherwise', { check: 'pattern', field: 'number', pattern: 'MH-\\d{6}', says: 'MH- and six figures' }, { number: 'MH-10' }, 'Number “MH-10” is not written as it should be: MH- and six figures.'],
    ['check digits that do not fit', { check: 'check-digits', field: 'number', scheme: 'container' }, { number: 'CSQU3054384' }, 'Number “CSQU3054384” is not a container number: its check digits do not fit.'],
    ['dates in their order', { check: 'date-order', first: 'ordered', then: 'delivered' }, { ordered: '2026-03-01', delivered: '2026-03-01' }, null],
    ['dates the wrong way round', { check: 'date-order', first: 'ordered', then: 'delivered' }, { ordered: '2026-03-02', delivered: '2026-03-01' }, 'Delivered 2026-03-01 is before ordered 2026-03-02.'],
    ['a formula that does not hold, with its figures', { check: 'formula', holds: 'total < 100', says: 'Too much.', concerns: ['total'] }, { total: '120.00' }, 'Too much (total 120.00).'],
    ['nothing to judge', { check: 'formula', holds: 'total < 100', says: 'Too much.' }, {}, null],
  ])('%s', (_, check, values, text) => expect(findings(check, values).map(([, said]) => said)).toEqual(text === null ? [] : [text]));

  test('is only a hint where it says so', () => {
    expect(findings({ check: 'range', field: 'total', max: '1', severity: 'look' }, { total: '2' })).toEqual([['look', 'Total is 2, above the most of 1.', ['total']]]);
  });
});
