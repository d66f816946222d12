import type { Page, Word } from '@/core/page/page';

/** Points per character and per line of a typed page. */
const [CHARACTER, LINE] = [6, 14];

/** A page as a typewriter would make it: each row of text a line, words where they stand. */
export function typedPage(rows: readonly string[], number = 1): Page {
  const words = rows.flatMap((row, line): Word[] =>
    [...row.matchAll(/\S+/g)].map((match) => ({ text: match[0], box: [match.index * CHARACTER, line * LINE, (match.index + match[0].length) * CHARACTER, line * LINE + 10] })),
  );
  return { number, width: 600, height: Math.max(800, rows.length * LINE), words };
}
