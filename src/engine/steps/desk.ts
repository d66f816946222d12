import { doubtsOf } from '@/core/checking/trust';
import type { DeskStep } from '@/core/pipeline/definition';
import { holds } from '@/core/pipeline/values';
import { newId } from '@/settings/identifier';
import type { StepHandler } from '../step';

/** Longest reason kept for the queue; the whole of it is with the document. */
const REASON_CHARACTERS = 1000;

export const desk: StepHandler<DeskStep> = async (step, { engine, claim, known, document }) => {
  if (!holds(step.when, known, document)) return { then: 'record', result: { made: 'no question' } };
  const kind = known.reading ? await engine.kind(known.reading.kind) : null;
  const doubts = kind ? doubtsOf(kind, known.readings, known.findings) : [];
  const must = known.findings.filter((finding) => finding.severity === 'must fix').map((finding) => finding.text);
  const reason = must[0] ?? (doubts[0] ? `${doubts[0].label}: ${doubts[0].reason}` : 'The pipeline asks for a look.');
  const count = Math.max(doubts.length, must.length > 0 ? 1 : 0);
  return { then: 'ask', task: { id: newId(), runId: claim.runId, stepId: step.id, documentId: document.id, title: step.title ?? 'Review', doubts: count, reason: reason.slice(0, REASON_CHARACTERS) } };
};
