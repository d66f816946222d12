import fc from 'fast-check';
import { linesOf, phrasesOf } from './lines';
import { onSameLine, overlap, unionOf, type Word } from './page';
import { typedPage } from '../../../tests/support/page';

describe(linesOf, () => {
  test('puts words on their lines from left to right, whatever order they come in', () => {
    const page = typedPage(['Bill no.   MH-104001', 'Total      12.00']);
    expect(linesOf({ ...page, words: [...page.words].reverse() }).map((line) => line.text)).toEqual(['Bill no. MH-104001', 'Total 12.00']);
  });

  test('keeps a small word on the line of a large one beside it', () => {
    const words: Word[] = [{ text: 'Large', box: [0, 0, 60, 30] }, { text: 'small', box: [70, 14, 90, 22] }];
    expect(linesOf({ number: 1, width: 100, height: 100, words })).toHaveLength(1);
  });

  test('loses no word and doubles none', () => {
    const word = fc.record({ x: fc.integer({ min: 0, max: 500 }), y: fc.integer({ min: 0, max: 700 }), w: fc.integer({ min: 1, max: 80 }), h: fc.integer({ min: 4, max: 30 }) });
    fc.assert(fc.property(fc.array(word, { maxLength: 60 }), (boxes) => {
      const words = boxes.map(({ x, y, w, h }, index): Word => ({ text: String(index), box: [x, y, x + w, y + h] }));
      const seen = linesOf({ number: 1, width: 600, height: 800, words }).flatMap((line) => line.words.map((item) => item.text));
      expect(seen.sort()).toEqual(words.map((item) => item.text).sort());
    }));
  });
});

describe(phrasesOf, () => {
  test('splits where the gap is wider than a blank', () => {
    const [line] = linesOf(typedPage(['Total due        EUR 12.00']));
    expect(line?.phrases.map((phrase) => phrase.text)).toEqual(['Total due', 'EUR 12.00']);
  });
});

describe('boxes', () => {
  test('a union holds every box', () => {
    expect(unionOf([[1, 5, 2, 6], [0, 7, 1, 9]])).toEqual([0, 5, 2, 9]);
    expect(() => unionOf([])).toThrow('at least one');
  });
  test('overlap is zero for intervals that are apart', () => {
    expect([overlap(0, 2, 1, 5), overlap(0, 1, 2, 3)]).toEqual([1, 0]);
    expect(onSameLine([0, 0, 1, 10], [5, 6, 6, 16])).toBe(false);
  });
});
