import type { Page, PageOrigin, Word } from '@/core/page/page';

/** A typed page: every character 6 points wide, every line 13 points high, as on a machine of twelve pitch. */
const CHARACTER = 6;
const LINE = 13;
const MARGIN = 40;
const LETTER_HEIGHT = 9.5;
/** A long text is cut into pages of this many lines; a form feed begins one too. */
const LINES_PER_PAGE = 120;
const LEAST_COLUMNS = 85;
const TAB = 8;

/** A text laid out as pages, each word where it stands in its line: columns stay columns. */
export function typeset(text: string, { first = 1, origin = 'typed' as PageOrigin, why = 'A text without pages, laid out as typed.' } = {}): Page[] {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\u0000/g, '').split('\n');
  const pages: string[][] = [[]];
  for (const line of lines.flatMap((each) => each.split('\f').flatMap((part, index) => (index === 0 ? [part] : ['\f', part])))) {
    if (line === '\f' || (pages.at(-1)?.length ?? 0) >= LINES_PER_PAGE) pages.push([]);
    if (line !== '\f') pages.at(-1)?.push(untabbed(line));
  }
  return pages.filter((page, index) => index === 0 || page.some((line) => line.trim() !== '')).map((page, index) => pageOf(page, first + index, { origin, why }));
}

function pageOf(lines: readonly string[], number: number, about: { origin: PageOrigin; why: string }): Page {
  const words = lines.flatMap((line, row): Word[] => [...line.matchAll(/\S+/g)].map((match) => ({ text: match[0], box: [MARGIN + match.index * CHARACTER, MARGIN + row * LINE, MARGIN + (match.index + match[0].length) * CHARACTER, MARGIN + row * LINE + LETTER_HEIGHT] })));
  const columns = Math.max(LEAST_COLUMNS, ...lines.map((line) => line.length));
  return { number, width: 2 * MARGIN + columns * CHARACTER, height: Math.max(400, 2 * MARGIN + lines.length * LINE), words, ...about };
}

function untabbed(line: string): string {
  const [first = '', ...rest] = line.split('\t');
  return rest.reduce((text, part) => text.padEnd(Math.ceil((text.length + 1) / TAB) * TAB) + part, first);
}
