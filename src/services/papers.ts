import type { Page } from '@/core/page/page';
import type { CleanUp as KindCleanUp } from '@/core/reading/kind';
import { inspectFile } from '@/digitise/inspect';
import { ALL_CLEAN } from '@/digitise/picture';
import { sha256Of } from '@/store/blobs';
import { pagesOf, savePages, type DocumentRow } from '@/store/queries/documents';
import type { Services } from './context';
import { keepPictures } from './pictures';

/** A file's pages, and the hash under which they and their pictures are kept. */
export interface Paper {
  readonly hash: string;
  readonly pages: readonly Page[];
}

const underWay = new Map<string, Promise<Paper>>();

/**
 * The pages of a file, its pictures cleaned as a kind wants it. Pages are first read when nobody knows the kind yet, with every step;
 * for a kind that leaves steps out, pages that are pictures are read once more and kept beside the others.
 */
export async function paperOf(services: Services, sha256: string, cleanUp: KindCleanUp | undefined): Promise<Paper> {
  const pages = await pagesOf(services.store.db, sha256);
  const off = Object.entries(cleanUp ?? {}).filter(([, on]) => on === false).map(([step]) => step).sort();
  if (off.length === 0 || pages.every((page) => page.origin !== 'picture')) return { hash: sha256, pages };
  const hash = hashWithout(sha256, off);
  const kept = await pagesOf(services.store.db, hash);
  if (kept.length > 0) return { hash, pages: kept };
  const asked = underWay.get(hash) ?? readAnew(services, sha256, hash, Object.fromEntries(off.map((step) => [step, false]))).finally(() => underWay.delete(hash));
  underWay.set(hash, asked);
  return asked;
}

const hashWithout = (sha256: string, off: readonly string[]): string => sha256Of(Buffer.from(`${sha256}/without ${off.join(', ')}`));

/** Every hash under which the pages of a file may be kept: its own, and one for each choice of clean-up steps left out. */
export function hashesOf(sha256: string): string[] {
  const steps = Object.keys(ALL_CLEAN).sort();
  const choices = Array.from({ length: 2 ** steps.length }, (_, choice) => steps.filter((_step, bit) => choice & (1 << bit)));
  return choices.map((off) => (off.length === 0 ? sha256 : hashWithout(sha256, off)));
}

async function readAnew(services: Services, sha256: string, hash: string, off: Readonly<Record<string, boolean>>): Promise<Paper> {
  const { pages, pictures } = await inspectFile(await services.blobs.get(sha256), { ...ALL_CLEAN, ...off });
  await keepPictures(services, hash, pictures);
  await savePages(services.store.db, hash, pages);
  return { hash, pages };
}

/** The pages of a document that came in, cleaned as its kind wants it. */
export const paperOfDocument = async (services: Services, { sha256, kindKey }: Pick<DocumentRow, 'sha256' | 'kindKey'>): Promise<Paper> => paperOf(services, sha256, (kindKey === null ? null : await services.kind(kindKey))?.cleanUp);
