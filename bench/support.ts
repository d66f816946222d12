import { inspectFile } from '@/digitise/inspect';
import { publish } from '@/services/definitions';
import { newId } from '@/settings/identifier';
import { inTransaction } from '@/store/database';
import { insertDocument, insertEvent, savePages } from '@/store/queries/documents';
import { putList } from '@/store/queries/lists';
import { insertRun } from '@/store/queries/runs';
import { makeBill } from '../demo/bills/bill';
import { printBill } from '../demo/bills/print';
import { LEDGER } from '../demo/ledger';
import type { TestBed } from '../tests/support/database';
import { KIND_YAML } from '../tests/support/definitions';
import { TESTER } from '../tests/support/scenario';

/** Different papers that are read again and again. */
export const FILES = 40;

export interface Paper {
  readonly sha256: string;
  readonly pageCount: number;
}

/** The engine alone: five steps that compute next to nothing. */
const LIGHT = `leadline: pipeline/1
key: light
name: Light
steps:
  - { id: first, do: set, values: { one: a } }
  - { id: size, do: branch, ways: [{ name: Large, when: { value: total, is: above, than: "2500.00" }, steps: [] }] }
  - { id: second, do: set, values: { two: b } }
  - { id: third, do: set, values: { pay: with the next round } }
  - { id: ledger, do: write-list, list: haulage-ledger, columns: { Pay: note.pay } }
`;

/** As people use it: a bill is read and checked on its way. */
const FIVE_STEPS = `leadline: pipeline/1
key: five-steps
name: Five steps
steps:
  - { id: read, do: read, kind: haulage-bill }
  - { id: check, do: check }
  - { id: size, do: branch, ways: [{ name: Large, when: { value: total, is: above, than: "2500.00" }, steps: [] }] }
  - { id: note, do: set, values: { pay: with the next round } }
  - { id: ledger, do: write-list, list: haulage-ledger, columns: { Haulier: haulier, Bill: number, Date: date, Total: total, Pay: note.pay } }
`;

export async function secondsOf(work: () => Promise<unknown>): Promise<number> {
  const begun = performance.now();
  await work();
  return (performance.now() - begun) / 1000;
}

/** Kind, pipelines, list, and papers whose words are taken already. */
export async function makeReady(bed: TestBed): Promise<Paper[]> {
  const { db } = bed.services.store;
  await publish(bed.services, TESTER, 'kind', KIND_YAML, 'bench');
  for (const yaml of [FIVE_STEPS, LIGHT]) await publish(bed.services, TESTER, 'pipeline', yaml, 'bench');
  await putList(db, LEDGER);
  return Promise.all(Array.from({ length: FILES }, async (_, index) => {
    const bytes = await printBill(makeBill(index + 1));
    const { pages } = await inspectFile(bytes);
    const sha256 = await bed.services.blobs.put(bytes);
    await savePages(db, sha256, pages);
    return { sha256, pageCount: pages.length };
  }));
}

/** Documents with their words already taken, as intake leaves them, each with a run that is due. */
export async function queueRuns(bed: TestBed, pipelineKey: string, count: number, papers: readonly Paper[]): Promise<void> {
  const { db } = bed.services.store;
  for (let first = 0; first < count; first += 100) {
    await inTransaction(db, async (tx) => {
      for (let index = first; index < Math.min(count, first + 100); index += 1) {
        const [eventId, id, paper] = [newId(), newId(), papers[index % papers.length]!];
        await insertEvent(tx, { id: eventId, sourceKey: 'bench', dedupeKey: eventId, type: 'bench', sender: null, subject: null, occurredAt: null, data: {} });
        await insertDocument(tx, { id, eventId, part: 0, ...paper, fileName: `${index}.pdf`, mediaType: 'application/pdf', size: 1, sourceKey: 'bench', pipelineKey, sender: null, subject: null, problemCode: null, problemText: null, repeatOf: null });
        await insertRun(tx, { id: newId(), documentId: id, pipelineKey, pipelineVersion: 1 });
      }
    });
  }
}
