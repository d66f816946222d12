import { glimpseOf } from './glimpse';

test.each([['', ''], ['4711', '4711'], ['[{"a":1},{"a":2}]', '2 records'], ['[{"a":1}]', '1 record'], ['[]', '0 records'], ['[1,2]', '[1,2]'], ['[{"a":', '[{"a":'], ['x'.repeat(12), 'xxxxxxxxxx …']])('%s is shown as %s', (value, shown) => {
  expect(glimpseOf(value, 10)).toBe(shown);
});
