import fc from 'fast-check';
import munkres from 'munkres';
import { assign } from '@/core/matching/assignment';
import { jaro, jaroWinkler } from '@/core/matching/jaro';
import { matchRows } from '@/core/matching/rows';

describe('Jaro and Jaro–Winkler', () => {
  // Winkler, Overview of Record Linkage and Current Research Directions, US Census Bureau RRS2006/02, table 6 (values from memory).
  // JON and JAN are 0 there, because that program asks for more than half of the letters, which the definition does not.
  test.each([
    ['SHACKLEFORD', 'SHACKELFORD', 0.97, 0.982], ['DUNNINGHAM', 'CUNNIGHAM', 0.896, 0.896], ['NICHLESON', 'NICHULSON', 0.926, 0.956], ['JONES', 'JOHNSON', 0.79, 0.832],
    ['MASSEY', 'MASSIE', 0.889, 0.933], ['ABROMS', 'ABRAMS', 0.889, 0.922], ['ITMAN', 'SMITH', 0.467, 0.467], ['JERALDINE', 'GERALDINE', 0.926, 0.926],
    ['MARHTA', 'MARTHA', 0.944, 0.961], ['MICHELLE', 'MICHAEL', 0.869, 0.921], ['JULIES', 'JULIUS', 0.889, 0.933], ['TANYA', 'TONYA', 0.867, 0.88], ['DWAYNE', 'DUANE', 0.822, 0.84], ['SEAN', 'SUSAN', 0.783, 0.805], ['JON', 'JOHN', 0.917, 0.933], ['JON', 'JAN', 0, 0],
  ])('%s and %s', (a, b, plain, winkler) => {
    if (plain === 0) return expect(jaro(a, b)).toBeCloseTo(7 / 9, 3);
    expect(jaro(a, b)).toBeCloseTo(plain, 2);
    return expect(jaroWinkler(a, b)).toBeCloseTo(winkler, 2);
  });
  test('DIXON and DICKSONX, as handbooks give them', () => {
    expect([jaro('DIXON', 'DICKSONX'), jaroWinkler('DIXON', 'DICKSONX')].map((value) => value.toFixed(3))).toEqual(['0.767', '0.813']);
  });
});

describe('the assignment', () => {
  const matrix = (rows: number, columns: number) => fc.array(fc.array(fc.integer({ min: 1, max: 60 }), { minLength: columns, maxLength: columns }), { minLength: rows, maxLength: rows });
  const shape = fc.tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 5 })).chain(([rows, columns]) => matrix(rows, columns));
  const worth = (gains: readonly (readonly number[])[], chosen: readonly (number | null)[]): number => chosen.reduce<number>((sum, column, row) => sum + (column === null ? 0 : (gains[row]?.[column] ?? 0)), 0);

  test('is as good as the best of all there are', () => {
    const best = (gains: readonly (readonly number[])[], row: number, free: readonly number[]): number => {
      if (row === gains.length) return 0;
      return Math.max(best(gains, row + 1, free), ...free.map((column) => (gains[row]?.[column] ?? 0) + best(gains, row + 1, free.filter((other) => other !== column))));
    };
    fc.assert(fc.property(shape, (gains) => expect(worth(gains, assign(gains))).toBe(best(gains, 0, gains[0]?.map((_, column) => column) ?? []))));
  });
  test('is as good as what the Hungarian method of another library finds', () => {
    fc.assert(fc.property(fc.tuple(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 30 })).chain(([rows, columns]) => matrix(rows, columns)), (gains) => {
      const theirs = munkres(gains.map((row) => row.map((gain) => 100 - gain)));
      expect(worth(gains, assign(gains))).toBe(theirs.reduce((sum, [row, column]) => sum + (gains[row]?.[column] ?? 0), 0));
    }));
  });
});

// Common practice, no source.
test('an order line is used once', () => {
  const { pairs } = matchRows([['Net twine'], ['Net twine']], [{ text: 'Net twine' }], [{ name: 'Text', theirs: 'text', by: 'text' }]);
  expect(pairs.map(({ row }) => row).sort()).toEqual([0, null]);
});
