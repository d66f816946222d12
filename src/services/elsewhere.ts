import type { Elsewhere } from '@/core/checking/elsewhere';
import { NEARLY_SAME } from '@/core/checking/elsewhere';
import { printOf, PRINT_PARTS, resemblance } from '@/core/checking/resemblance';
import type { Page } from '@/core/page/page';
import { listsOf } from '@/core/reading/aids';
import type { KindDefinition } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';
import { earlierLike, type Marks } from '@/store/queries/earlier';
import type { Services } from './context';
import { listsFor } from './reference-lists';

/** By what a document of a kind is found again: the values of its duplicate checks and the print of its text. */
export function marksOf(kind: KindDefinition, readings: Readings, pages: readonly Page[], documentId: string): Marks {
  const fields = [...new Set(kind.checks.flatMap((check) => (check.check === 'duplicate' ? check.fields : [])))];
  const values = Object.fromEntries(fields.flatMap((field) => {
    const value = readings.fields[field]?.value;
    return value == null ? [] : [[field, value]];
  }));
  return { kindKey: kind.key, documentId, values, print: printOf(pages) };
}

/** What the checks of a kind look at besides the document. */
export async function elsewhereFor(services: Services, kind: KindDefinition, readings: Readings, about: { readonly pages: readonly Page[]; readonly documentId: string | null }): Promise<Elsewhere> {
  const lists = await listsFor(services, listsOf(kind));
  if (about.documentId === null || !kind.checks.some((check) => check.check === 'duplicate')) return { lists };
  const found = await earlierLike(services.store.db, marksOf(kind, readings, about.pages, about.documentId), Math.ceil(NEARLY_SAME * PRINT_PARTS));
  return { lists, earlier: found.map(({ shared, ...earlier }) => ({ ...earlier, alike: resemblance(shared) })) };
}
