import type { ReadStep } from '@/core/pipeline/definition';
import { StepFailure } from '@/core/resilience/failure';
import { setDocumentKind } from '@/store/queries/documents';
import { noteMarks } from '@/store/queries/earlier';
import type { StepHandler } from '../step';

export const read: StepHandler<ReadStep> = async (step, { engine, known, document }) => {
  const key = step.kind ?? known.kind;
  if (key === null) throw new StepFailure('no-such-kind', 'no earlier step has found one. Put a sorting step before this one, or name the kind');
  const kind = await engine.kind(key);
  if (!kind) throw new StepFailure('no-such-kind', `“${key}”. Publish it, then refloat`);
  const reading = await engine.read(kind, document.sha256);
  const marks = engine.marks(kind, reading, await engine.pages(document.sha256, kind), document.id);
  return {
    then: 'record',
    result: { made: 'reading', reading },
    alongside: async (tx) => {
      await setDocumentKind(tx, document.id, kind.key);
      await noteMarks(tx, marks);
    },
  };
};
