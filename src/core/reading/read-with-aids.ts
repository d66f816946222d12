import type { Page } from '@/core/page/page';
import { answerKey, listsOf, NO_AIDS, type AidSource, type Aids } from './aids';
import { readDocument } from './chain';
import type { KindDefinition } from './kind';
import type { DocumentReading, Want } from './reading';

/** Read, fetch what would help, and read again until nothing more helps. Each thing is fetched once. */
export async function readWithAids(pages: readonly Page[], kind: KindDefinition, source: AidSource): Promise<{ readonly reading: DocumentReading; readonly aids: Aids }> {
  let aids: Aids = { ...NO_AIDS, lists: await source.lists(listsOf(kind)), remembered: await source.remembered(kind.key) };
  for (;;) {
    const reading = readDocument(pages, kind, aids);
    const [want] = reading.wants ?? [];
    if (!want) return { reading, aids };
    aids = await fetched(aids, want, source);
  }
}

async function fetched(aids: Aids, want: Want, source: AidSource): Promise<Aids> {
  switch (want.want) {
    case 'second recognition':
      return { ...aids, second: new Map([...aids.second, [want.page, await source.second(want.page)]]) };
    case 'service':
      return { ...aids, answers: new Map([...aids.answers, [answerKey(want.service, want.tier), await source.answer(want.service, want.tier)]]) };
  }
}
