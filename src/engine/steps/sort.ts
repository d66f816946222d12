import type { SortStep } from '@/core/pipeline/definition';
import { taskFor, type StepHandler } from '../step';

/** Kinds offered at the desk; the others are hardly meant. */
const MOST_OFFERED = 6;

export const sort: StepHandler<SortStep> = async (step, context) => {
  const { engine, pages, document } = context;
  const { kind, ranked } = await engine.sort({ kinds: step.kinds ?? null, pages: await pages(), sender: document.sender, subject: document.subject, ...(step.sure === undefined ? {} : { sure: step.sure }) });
  const [first] = ranked;
  if (kind !== null && first) return { then: 'record', result: { made: 'kind', kind, name: first.name, reasons: first.reasons } };
  const reason = first && first.share > 0.1 ? `It looks most like ${first.name} (${Math.round(first.share * 100)} of 100)${first.reasons[0] ? `: ${first.reasons[0]}` : ''}.` : 'It looks like none of the kinds.';
  return {
    then: 'ask',
    task: taskFor(context, {
      title: 'Which kind is it?', reason,
      question: { asks: 'kind', text: 'Which kind of document is this?', options: ranked.slice(0, MOST_OFFERED).map((candidate) => ({ value: candidate.kind, label: candidate.name, share: candidate.share, reasons: candidate.reasons })) },
    }),
  };
};
