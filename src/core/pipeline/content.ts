import type { Step } from './definition';

/** Whether a step looks at the document itself, and not only at what is known of it. */
export function needsContent(step: Step): boolean {
  if (step.do === 'sort' || step.do === 'read') return true;
  if (step.do === 'write-file') return step.content !== 'values';
  if (step.do === 'mail') return step.attach === true;
  if (step.do === 'call' || step.do === 'send') return step.as === 'form' || step.as === 'original' || /document\.(address|base64)/.test(JSON.stringify(step));
  return false;
}
