import type { ReadStep } from '@/core/pipeline/definition';
import { readDocument } from '@/core/reading/chain';
import { StepFailure } from '@/core/resilience/failure';
import { setDocumentKind } from '@/store/queries/documents';
import type { StepHandler } from '../step';

export const read: StepHandler<ReadStep> = async (step, { engine, pages, document }) => {
  const kind = await engine.kind(step.kind);
  if (!kind) throw new StepFailure('no-such-kind', `“${step.kind}”. Publish it, then refloat`);
  const reading = readDocument(await pages(), kind);
  return { then: 'record', result: { made: 'reading', reading }, alongside: async (tx) => void (await setDocumentKind(tx, document.id, kind.key)) };
};
