import type { Page, Word } from '@/core/page/page';
import { recogniseAgain } from '@/digitise/second';
import { sha256Of } from '@/store/blobs';
import { pagesOf, savePages } from '@/store/queries/documents';
import type { Services } from './context';
import { pictureOf } from './pictures';

/** Second recognitions stand beside the first under a hash of their own. */
const secondOf = (sha256: string): string => sha256Of(Buffer.from(`${sha256}/second recognition`));

const underWay = new Map<string, Promise<readonly Word[]>>();

/** The words of a page as the second recogniser reads them; recognised once and kept. */
export async function secondWords(services: Services, sha256: string, page: Page): Promise<readonly Word[]> {
  const kept = (await pagesOf(services.store.db, secondOf(sha256))).find((candidate) => candidate.number === page.number);
  if (kept) return kept.words;
  const key = `${sha256}/${page.number}`;
  const asked = underWay.get(key) ?? recogniseAndKeep(services, sha256, page).finally(() => underWay.delete(key));
  underWay.set(key, asked);
  return asked;
}

async function recogniseAndKeep(services: Services, sha256: string, page: Page): Promise<readonly Word[]> {
  const { bytes } = await pictureOf(services, sha256, page.number);
  const words = await recogniseAgain(bytes, page);
  await savePages(services.store.db, secondOf(sha256), [{ ...page, words, why: 'Read by the second recogniser.' }]);
  return words;
}
