import type { KindDefinition } from '@/core/reading/kind';
import { readWithAids } from '@/core/reading/read-with-aids';
import type { DocumentReading } from '@/core/reading/reading';
import { aidsOf, type Paying } from './aids';
import type { Services } from './context';
import type { Paper } from './papers';

/** Read a file as a kind with all that helps: bound lists, remembered answers, a second recognition, services. */
export async function readAs(services: Services, kind: KindDefinition, file: { readonly sha256: string; readonly paper: Paper }, paying: Paying): Promise<DocumentReading> {
  return (await readWithAids(file.paper.pages, kind, aidsOf(services, file, paying))).reading;
}
