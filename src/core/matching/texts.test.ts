import { Texts, wordLikeness, wordsOf } from './texts';

describe(wordsOf, () => {
  test.each([
    ['Rope 12mm, 1,50 kg', ['rope', '12', 'mm', '1.5', 'kg']],
    ['Ölzeug-Jacke (gelb)', ['olzeug', 'jacke', 'gelb']],
    ['  –  ', []],
  ])('%j', (text, words) => expect(wordsOf(text)).toEqual(words));
});

describe(wordLikeness, () => {
  test.each([['galvanised', 'galv', 0.92], ['shackle', 'shackel', 0.97], ['rope', 'robe', 0], ['12', '12', 1], ['12', '120', 0], ['mm', 'm', 0]])('%s and %s: %d', (a, b, expected) => {
    expect(wordLikeness(a, b)).toBeCloseTo(expected, 1);
  });
});

describe(Texts, () => {
  const texts = new Texts(['Rope 12 mm', 'Rope 14 mm', 'Rope 16 mm', 'Fish box 40 l']);
  test('rare words weigh more than common ones', () => {
    expect(texts.likeness('Rope 12', 'Rope 12 mm')).toBeGreaterThan(texts.likeness('Rope mm', 'Rope 12 mm'));
    expect(texts.likeness('Rope 18 mm', 'Rope 14 mm')).toBeLessThan(0.6);
  });
  test('remarks of the longer text hardly count, blanks and order not at all', () => {
    expect(texts.likeness('12mm rope', 'Rope 12 mm, on a drum, for the winch')).toBeGreaterThan(0.8);
    expect(texts.likeness('Fishbox', 'fish box')).toBe(1);
  });
  test('the same both ways, 1 for the same text, 0 for nothing', () => {
    expect(texts.likeness('Rope', 'Fish box rope')).toBeCloseTo(texts.likeness('Fish box rope', 'Rope'));
    expect([texts.likeness('Rope 12 mm', 'Rope 12 mm'), texts.likeness('', 'Rope'), texts.likeness('Rope', '—')]).toEqual([1, 0, 0]);
  });
});
