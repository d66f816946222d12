import { checkDocument } from '@/core/checking/check';
import { doubtsOf } from '@/core/checking/trust';
import type { CheckStep } from '@/core/pipeline/definition';
import { StepFailure } from '@/core/resilience/failure';
import type { StepHandler } from '../step';

export const check: StepHandler<CheckStep> = async (_step, { engine, known, document }) => {
  const kind = known.reading ? await engine.kind(known.reading.kind) : null;
  if (!known.reading || !kind) throw new StepFailure('no-such-kind', 'nothing was read before this check. Put a reading step before it');
  const read = await engine.pages(document.sha256, kind);
  const elsewhere = await engine.elsewhere(kind, known.readings, { pages: read, documentId: document.id });
  const findings = checkDocument({ kind, layout: known.reading.layout, readings: known.readings, pages: read, ...elsewhere });
  const doubts = doubtsOf(kind, known.readings, findings);
  const trusted = doubts.length === 0 && findings.every((finding) => finding.severity !== 'must fix');
  return { then: 'record', result: { made: 'findings', findings, doubts, trusted } };
};
