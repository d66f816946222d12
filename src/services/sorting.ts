import { sql } from 'drizzle-orm';
import type { SortingView } from '@/contracts/workbench';
import type { Page } from '@/core/page/page';
import { listsOf } from '@/core/reading/aids';
import type { KindDefinition } from '@/core/reading/kind';
import { measureSorter, sortDocument, type NamedSortSample, type Sorted } from '@/core/sorting/sort';
import { trainSorter, wordSetOf, type Sorter } from '@/core/sorting/sorter';
import { listDefinitions } from '@/store/queries/definitions';
import { documentById, pagesOf } from '@/store/queries/documents';
import { samplesOf } from '@/store/queries/samples';
import { sample } from '@/store/schema';
import { Refusal, type Services } from './context';
import { listsFor } from './reference-lists';
import { samplePaper } from './samples';

interface Trained {
  /** Of the samples it was trained on; another one means: train anew. */
  readonly signature: string;
  readonly sorter: Sorter;
  readonly samples: readonly NamedSortSample[];
}

let trained: Promise<Trained> | null = null;

/** The sorter of this process, trained on all confirmed samples; trained anew when they have changed. */
async function sorterOf(services: Services): Promise<Trained> {
  const [row] = await services.store.db.select({ n: sql<number>`COUNT(*)`, newest: sql<string>`MAX(${sample.id})`, changes: sql<number>`SUM(${sample.revision})` }).from(sample);
  const signature = `${row?.n}/${row?.newest}/${row?.changes}`;
  const known = await trained?.catch(() => null);
  if (known?.signature === signature) return known;
  trained = train(services, signature);
  return trained;
}

async function train(services: Services, signature: string): Promise<Trained> {
  const kinds = await listDefinitions(services.store.db, 'kind');
  const perKind = await Promise.all(kinds.map(async ({ key }) => {
    const rows = (await samplesOf(services.store.db, key)).filter((candidate) => candidate.state === 'confirmed' && candidate.problem === null);
    return Promise.all(rows.map(async (candidate): Promise<NamedSortSample> => {
      const { pages } = await samplePaper(services, candidate.sha256);
      return { kind: key, name: candidate.fileName, pages, words: wordSetOf(pages) };
    }));
  }));
  const samples = perKind.flat();
  return { signature, samples, sorter: trainSorter(samples) };
}

export interface SortRequest {
  /** Null: all that are published. */
  readonly kinds: readonly string[] | null;
  readonly pages: readonly Page[];
  readonly sender: string | null;
  readonly subject: string | null;
  readonly sure?: number;
}

/** Which kind a document is, with the reasons. */
export async function sortFile(services: Services, { kinds: wanted, pages, sender, subject, sure }: SortRequest): Promise<Sorted> {
  const [{ sorter }, published] = await Promise.all([sorterOf(services), listDefinitions(services.store.db, 'kind')]);
  const kinds = published.map((kind) => kind.definition).filter((kind) => wanted === null || wanted.includes(kind.key));
  const missing = wanted?.find((key) => !kinds.some((kind) => kind.key === key));
  if (missing !== undefined) throw new Refusal('not-found', `There is no published kind “${missing}” to sort into.`);
  return sortDocument({ pages, sender, subject }, kinds, sorter, await listsFor(services, kinds.flatMap(listsOf)), sure);
}

/** What a document that came in looks like. */
export async function sortStored(services: Services, id: string): Promise<Sorted> {
  const row = await documentById(services.store.db, id);
  if (!row) throw new Refusal('not-found', `There is no document ${id}.`);
  return sortFile(services, { kinds: null, pages: await pagesOf(services.store.db, row.sha256), sender: row.sender, subject: row.subject });
}

/** How well kinds are told apart, and what helps to do so. */
export async function describeSorting(services: Services): Promise<SortingView> {
  const [{ samples }, published] = await Promise.all([sorterOf(services), listDefinitions(services.store.db, 'kind')]);
  const kinds: KindDefinition[] = published.map((kind) => kind.definition);
  return { ...measureSorter(samples, kinds, await listsFor(services, kinds.flatMap(listsOf))), kinds: kinds.map((kind) => ({ key: kind.key, name: kind.name, samples: samples.filter((one) => one.kind === kind.key).length, hints: kind.sorting ?? {} })) };
}
