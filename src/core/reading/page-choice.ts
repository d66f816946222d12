import type { Line } from '@/core/page/lines';
import type { PageChoice } from './kind';

/** The lines of the pages that a reader looks at. */
export function linesFor(lines: readonly Line[], choice: PageChoice = 'any'): readonly Line[] {
  if (choice === 'any') return lines;
  const page = choice === 'first' ? lines[0]?.page : lines.at(-1)?.page;
  return lines.filter((line) => line.page === page);
}
