/**
 * How alike two words are, 0..1: shared letters at about the same place, less half the share of those that are swapped (Jaro 1989,
 * Journal of the American Statistical Association 84). 0 where either is empty, unless both are.
 */
export function jaro(a: string, b: string): number {
  if (a === b) return 1;
  const reach = Math.max(0, Math.floor(Math.max(a.length, b.length) / 2) - 1);
  const taken = new Array<boolean>(b.length).fill(false);
  const ours: string[] = [];
  for (let at = 0; at < a.length; at += 1) {
    for (let there = Math.max(0, at - reach); there < Math.min(b.length, at + reach + 1); there += 1) {
      if (taken[there] || a[at] !== b[there]) continue;
      taken[there] = true;
      ours.push(b[there] ?? '');
      break;
    }
  }
  if (ours.length === 0) return 0;
  const theirs = [...b].filter((_, at) => taken[at]);
  const swapped = ours.filter((letter, at) => letter !== theirs[at]).length / 2;
  return (ours.length / a.length + ours.length / b.length + (ours.length - swapped) / ours.length) / 3;
}

/** Letters at the beginning that count more, and by how much each closes the gap to 1. */
const MOST_PREFIX = 4;
const PER_LETTER = 0.1;

/** The same, with more trust in words that begin alike: people seldom err in the first letters (Winkler 1990). */
export function jaroWinkler(a: string, b: string): number {
  const alike = jaro(a, b);
  let prefix = 0;
  while (prefix < Math.min(MOST_PREFIX, a.length, b.length) && a[prefix] === b[prefix]) prefix += 1;
  return alike + prefix * PER_LETTER * (1 - alike);
}
