/** Letters that a recogniser puts where a figure stands. */
const AS_FIGURE: Readonly<Record<string, string>> = { O: '0', o: '0', Q: '0', D: '0', l: '1', I: '1', i: '1', '|': '1', '!': '1', Z: '2', z: '2', S: '5', s: '5', B: '8', g: '9', q: '9', '§': '5' };
/** Figures that a recogniser puts where a letter stands. */
const AS_LETTER: Readonly<Record<string, string>> = { '0': 'O', '1': 'I', '5': 'S', '8': 'B', '2': 'Z', $: 'S' };

/** A text that should be a figure or a date of figures, with letters mended; unchanged where it is mostly letters. */
export function mendFigures(text: string): string {
  const figures = text.replace(/[^0-9]/g, '').length;
  const letters = text.replace(/[^A-Za-z|!§]/g, '').length;
  if (figures === 0 || letters === 0 || letters > figures) return text;
  return [...text].map((letter) => AS_FIGURE[letter] ?? letter).join('');
}

/** What a value looks like: capitals A, small letters a, figures 9, everything else itself. "MH-104312" → "AA-999999". */
export const shapeOf = (text: string): string => text.replace(/\p{Lu}/gu, 'A').replace(/\p{Ll}/gu, 'a').replace(/\d/g, '9');

/** A text made to fit a shape where only look-alikes stand in the way; null when it cannot. */
export function mendToShape(text: string, shape: string): string | null {
  if (text.length !== shape.length) return null;
  const mended = [...text].map((letter, index) => {
    const wanted = shape[index] ?? '';
    if (shapeOf(letter) === wanted) return letter;
    if (wanted === '9') return AS_FIGURE[letter] ?? '';
    return wanted === 'A' ? (AS_LETTER[letter] ?? '') : '';
  });
  const whole = mended.join('');
  return whole.length === text.length ? whole : null;
}

/** A text with every look-alike as its figure: two texts that a recogniser may confuse become equal. */
export const lookAlike = (text: string): string => [...text.replace(/\s+/g, '')].map((letter) => (letter === '$' ? '5' : (AS_FIGURE[letter] ?? letter.toLowerCase()))).join('');
