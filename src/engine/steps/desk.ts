import { doubtsOf } from '@/core/checking/trust';
import type { DeskStep } from '@/core/pipeline/definition';
import { holds } from '@/core/pipeline/values';
import { taskFor, type StepHandler } from '../step';

export const desk: StepHandler<DeskStep> = async (step, context) => {
  const { engine, known, scope } = context;
  if (!holds(step.when, scope)) return { then: 'record', result: { made: 'no question' } };
  const kind = known.reading ? await engine.kind(known.reading.kind) : null;
  const doubts = kind ? doubtsOf(kind, known.readings, known.findings) : [];
  const must = known.findings.filter((finding) => finding.severity === 'must fix').map((finding) => finding.text);
  const reason = must[0] ?? (doubts[0] ? `${doubts[0].label}: ${doubts[0].reason}` : 'The pipeline asks for a look.');
  const count = Math.max(doubts.length, must.length > 0 ? 1 : 0);
  return { then: 'ask', task: taskFor(context, { title: step.title ?? 'Review', reason, doubts: count }) };
};
