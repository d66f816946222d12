import { distance } from 'fastest-levenshtein';

/** Letters and figures alone: how a name is written does not matter. */
const bare = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** Two names are alike when at most a fifth of the longer is other letters. */
const MOST_APART = 0.2;

interface Named {
  readonly source: string;
  readonly label: string;
}

/**
 * A first guess of what goes into columns: the value whose key or label is the name of the column, or nearly. Each value is used once,
 * the surest pairs first; where nothing is alike, nothing is guessed.
 */
export function matchByName(columns: readonly string[], offers: readonly Named[]): Record<string, string> {
  const pairs = columns.flatMap((column) => offers.flatMap((offer, order) => {
    const apart = Math.min(...[offer.label, offer.source.replace(/^.*\./, '')].map((name) => apartness(bare(column), bare(name))));
    return apart <= MOST_APART ? [{ column, source: offer.source, apart, order }] : [];
  }));
  const made: Record<string, string> = {};
  for (const { column, source } of pairs.sort((a, b) => a.apart - b.apart || a.order - b.order)) if (!(column in made) && !Object.values(made).includes(source)) made[column] = source;
  return made;
}

function apartness(a: string, b: string): number {
  if (a === b) return 0;
  // "Bill" and "Bill number": one begins with the other.
  const [short, long] = a.length < b.length ? [a, b] : [b, a];
  if (short.length >= 3 && long.startsWith(short)) return MOST_APART;
  return long.length === 0 ? 1 : distance(a, b) / long.length + 0.01;
}
