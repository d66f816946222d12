import { safeFileName } from './limits';

describe(safeFileName, () => {
  test.each([
    ['bill.pdf', 'bill.pdf'], ['../../etc/passwd', 'passwd'], ['C:\\temp\\bill.pdf', 'bill.pdf'], ['a\u0000b\u202egnp.pdf', 'abgnp.pdf'], ['<script>.pdf', 'script.pdf'],
    ['...', 'file'], ['', 'file'], [null, 'file'], ['Rechnung März №7.pdf', 'Rechnung März №7.pdf'],
  ])('%j becomes %j', (name, expected) => {
    expect(safeFileName(name, 'file')).toBe(expected);
  });
  test('a long name keeps its ending', () => {
    const name = safeFileName(`${'x'.repeat(500)}.pdf`, 'file');
    expect([name.length, name.endsWith('.pdf')]).toEqual([200, true]);
  });
});
