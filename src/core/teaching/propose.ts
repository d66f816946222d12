import type { Line } from '@/core/page/lines';
import { phrasesOf, textOf } from '@/core/page/lines';
import { boxHeight, centreY, onSameLine, overlap, unionOf, type Word } from '@/core/page/page';
import type { FieldDefinition } from '@/core/reading/kind';
import { parseAmount } from '@/core/value/amount';
import { parseDate } from '@/core/value/date';
import { localeOf } from '@/core/value/locale';

/** A field proposed from words that somebody marked: named after the nearest text, typed by what it looks like. */
export function proposeField(words: readonly Word[], lines: readonly Line[], taken: readonly string[]): FieldDefinition {
  const label = labelNear(words, lines) ?? 'New field';
  const text = textOf(words);
  const { decimal, dates } = localeOf(lines.flatMap((line) => line.words.map((word) => word.text)));
  const money = /[.,]\d{2}$/.test(text.replace(/\s*(?:[A-Z]{3}|[€$£])$/, '')) && parseAmount(text, decimal) !== null;
  const type = parseDate(text, dates) !== null ? 'date' : money ? 'money' : /\d/.test(text) && !/\s\p{Ll}/u.test(text) ? 'identifier' : parseAmount(text, decimal) !== null ? 'number' : 'text';
  return { key: freeFieldKey(label, taken), label, type };
}

function labelNear(words: readonly Word[], lines: readonly Line[]): string | null {
  const box = unionOf(words.map((word) => word.box));
  const own = lines.find((line) => words.some((word) => line.words.some((other) => other.box === word.box || other.box.join() === word.box.join())));
  const before = own ? phrasesOf(own.words.filter((word) => word.box[2] <= box[0] + 1)).at(-1) : undefined;
  // What holds figures is a value itself: in a row of values their labels stand above.
  if (before && box[0] - before.box[2] < 200 && /\p{L}/u.test(before.text) && !/\d/.test(before.text)) return clean(before.text);
  const above = lines
    .filter((line) => !onSameLine(line.box, box) && centreY(line.box) < box[1] && box[1] - line.box[3] < 2.5 * boxHeight(box))
    .flatMap((line) => line.phrases)
    .filter((phrase) => overlap(phrase.box[0], phrase.box[2], box[0], box[2]) > 0 && /\p{L}/u.test(phrase.text))
    .sort((a, b) => b.box[1] - a.box[1])[0];
  return above ? clean(above.text) : null;
}

function clean(text: string): string {
  const label = text.replace(/[\s:.#]+$/, '').slice(0, 60).toLowerCase();
  return label.charAt(0).toUpperCase() + label.slice(1);
}

/** A key made of a field's name that no other field has. */
export function freeFieldKey(label: string, taken: readonly string[]): string {
  const wanted = label.toLowerCase().normalize('NFD').replace(/\p{M}/gu, '').replace(/[^a-z0-9]+/g, '_').replace(/^[^a-z]+|_+$/g, '').slice(0, 50) || 'field';
  for (let number = 1; ; number += 1) {
    const key = number === 1 ? wanted : `${wanted}_${number}`;
    if (!taken.includes(key)) return key;
  }
}
