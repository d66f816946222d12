import { readFileSync } from 'node:fs';
import path from 'node:path';
import { tableFromFile } from '@/connectors/table-file';
import { importList } from '@/core/list/import';
import type { ReferenceList } from '@/core/list/list';
import type { Page } from '@/core/page/page';
import type { AidSource } from '@/core/reading/aids';
import { recogniseAgain } from '@/digitise/second';

/** `KEY=FILE`: reference data for a list that a kind is bound to. */
export async function listsFrom(given: readonly string[]): Promise<ReadonlyMap<string, ReferenceList>> {
  const lists = await Promise.all(given.map(async (text): Promise<[string, ReferenceList]> => {
    const at = text.indexOf('=');
    const [key, file] = [text.slice(0, at), path.resolve(text.slice(at + 1))];
    if (at < 1) throw new Error(`“${text}” should be KEY=FILE: the key of a list and a CSV file or workbook.`);
    const imported = importList(await tableFromFile(path.basename(file), readFileSync(file)));
    if (!imported.ok) throw new Error(`${file}: ${imported.problems.join(' ')}`);
    return [key, { key, name: key, ...imported.list }];
  }));
  return new Map(lists);
}

interface Files {
  readonly pages: readonly Page[];
  /** Cleaned pictures of the pages that were read from one, by page number. */
  readonly pictures: ReadonlyMap<number, Buffer>;
}

/** What reading may draw on without a server: lists that were given, and a second recognition. Services are not asked from here. */
export function localAids({ pages, pictures }: Files, lists: ReadonlyMap<string, ReferenceList>): AidSource {
  return {
    lists: async () => lists,
    remembered: async () => [],
    second: async (number) => {
      const [page, picture] = [pages.find((candidate) => candidate.number === number), pictures.get(number)];
      return page && picture ? recogniseAgain(picture, page) : [];
    },
    answer: async () => null,
  };
}
