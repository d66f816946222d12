import { distance } from 'fastest-levenshtein';
import type { Line } from '@/core/page/lines';
import { unionOf, type Place, type Word } from '@/core/page/page';
import type { ListRow, ReferenceList } from './list';

/** A row whose key stands on the document. */
export interface KeyFound {
  readonly row: ListRow;
  readonly key: string;
  readonly words: readonly Word[];
  readonly place: Place;
  /** `exact`: letter by letter. `alike`: with letters that recognition confuses. `close`: one letter is another, missing or too much. */
  readonly how: 'exact' | 'alike' | 'close';
}

/** Words that are joined to one key: "DE 4711 22" may be printed in groups. */
const MOST_WORDS = 5;
/** A key of fewer letters and figures is anywhere by chance. */
const LEAST_LETTERS = 4;
/** One wrong letter is forgiven only in keys at least as long as this. */
const LEAST_FOR_CLOSE = 7;
/** More rows than this need not be told: the page holds a whole list. */
const MOST_FOUND = 8;

/** Letters and figures alone, upper case: how a key is grouped and marked on paper does not matter. */
export const bareKey = (text: string): string => text.toUpperCase().replace(/[^\p{L}\p{N}]/gu, '');

const CONFUSED: Readonly<Record<string, string>> = { O: '0', Q: '0', D: '0', I: '1', L: '1', '|': '1', Z: '2', S: '5', G: '6', B: '8' };
/** The same with letters that recognition confuses made one. */
export const foldedKey = (bare: string): string => bare.replace(/[OQDILZSGB]/g, (letter) => CONFUSED[letter] ?? letter);

/** All texts that are the given one without one of its letters (symmetric deletion, Garbe 2012): two texts one mistake apart share one. */
function* shortened(text: string): Generator<string> {
  yield text;
  for (let at = 0; at < text.length; at += 1) yield text.slice(0, at) + text.slice(at + 1);
}

interface KeyIndex {
  readonly exact: ReadonlyMap<string, ListRow>;
  readonly alike: ReadonlyMap<string, readonly ListRow[]>;
  readonly close: ReadonlyMap<string, readonly ListRow[]>;
  readonly lengths: ReadonlySet<number>;
}

/** Made once per list: reading goes on for many documents. */
const indexes = new WeakMap<ReferenceList, KeyIndex>();

function indexOf(list: ReferenceList): KeyIndex {
  const known = indexes.get(list);
  if (known) return known;
  const [exact, alike, close, lengths] = [new Map<string, ListRow>(), new Map<string, ListRow[]>(), new Map<string, ListRow[]>(), new Set<number>()];
  const put = (map: Map<string, ListRow[]>, key: string, row: ListRow) => void (map.get(key)?.push(row) ?? map.set(key, [row]));
  for (const row of list.rows) {
    const bare = bareKey(row[list.keyColumn] ?? '');
    if (bare === '') continue;
    exact.set(bare, row);
    lengths.add(bare.length);
    put(alike, foldedKey(bare), row);
    if (bare.length >= LEAST_FOR_CLOSE) for (const part of shortened(foldedKey(bare))) put(close, part, row);
  }
  const made = { exact, alike, close, lengths };
  indexes.set(list, made);
  return made;
}

/**
 * The rows of a list whose key stands on the lines, the surest way of finding first; rows found in a weaker way than the best are left
 * out. More than one row means that the page does not say which: nobody guesses between them.
 */
export function findKeys(lines: readonly Line[], list: ReferenceList): readonly KeyFound[] {
  const index = indexOf(list);
  const found = { exact: new Map<string, KeyFound>(), alike: new Map<string, KeyFound>(), close: new Map<string, KeyFound>() };
  for (const { bare, words, page } of windowsOf(lines, index.lengths)) {
    const note = (row: ListRow, how: KeyFound['how']): void => {
      const key = row[list.keyColumn] ?? '';
      if (!found[how].has(key)) found[how].set(key, { row, key, words, place: { page, box: unionOf(words.map((word) => word.box)) }, how });
    };
    const same = bare.length >= LEAST_LETTERS ? index.exact.get(bare) : undefined;
    if (same) note(same, 'exact');
    else if (bare.length >= LEAST_LETTERS && /\d/.test(bare)) {
      for (const row of index.alike.get(foldedKey(bare)) ?? []) note(row, 'alike');
      if (bare.length >= LEAST_FOR_CLOSE - 1) for (const part of shortened(foldedKey(bare))) for (const row of index.close.get(part) ?? []) if (oneApart(foldedKey(bare), row, list)) note(row, 'close');
    }
  }
  const best = [found.exact, found.alike, found.close].find((kind) => kind.size > 0);
  return best ? [...best.values()].slice(0, MOST_FOUND) : [];
}

/** Two texts that share a shortened one are at most two mistakes apart; one is forgiven. */
const oneApart = (text: string, row: ListRow, list: ReferenceList): boolean => distance(text, foldedKey(bareKey(row[list.keyColumn] ?? ''))) === 1;

/** Every run of words on a line whose letters could be a key. */
function* windowsOf(lines: readonly Line[], lengths: ReadonlySet<number>): Generator<{ bare: string; words: readonly Word[]; page: number }> {
  const longest = Math.max(0, ...lengths) + 1;
  for (const line of lines) {
    const bares = line.words.map((word) => bareKey(word.text));
    for (let from = 0; from < bares.length; from += 1) {
      let bare = '';
      for (let to = from; to < Math.min(bares.length, from + MOST_WORDS); to += 1) {
        bare += bares[to] ?? '';
        if (bare.length > longest) break;
        if (bares[from] !== '' && bares[to] !== '' && (lengths.has(bare.length) || lengths.has(bare.length - 1) || lengths.has(bare.length + 1))) yield { bare, words: line.words.slice(from, to + 1), page: line.page };
      }
    }
  }
}

/** Whether a row's key has a neighbour in the list one letter away, so that one misread letter would make it another row's. */
export function hasNeighbour(list: ReferenceList, row: ListRow): boolean {
  const { close } = indexOf(list);
  const bare = foldedKey(bareKey(row[list.keyColumn] ?? ''));
  for (const part of shortened(bare)) if (close.get(part)?.some((other) => other !== row && oneApart(bare, other, list))) return true;
  return false;
}
