import type { MatchStep } from '@/core/pipeline/definition';
import { matchesFrom, proposeMatch, recordsFor, unsureLines, unsureText } from '@/core/pipeline/match';
import { taskFor, type StepHandler } from '../step';

export const match: StepHandler<MatchStep> = async (step, context) => {
  const { scope, engine } = context;
  const proposed = proposeMatch(step, scope, await recordsFor(step, scope, engine.outside.rows));
  const unsure = unsureLines(proposed);
  if (unsure === 0) return { then: 'record', result: matchesFrom(proposed) };
  const reason = unsureText(proposed);
  return { then: 'ask', task: taskFor(context, { title: 'Which rows belong together?', reason, doubts: unsure, question: { asks: 'match', text: reason, match: proposed } }) };
};
