import { createHash } from 'node:crypto';
import type { MailStep } from '@/core/pipeline/definition';
import { fillIn } from '@/core/pipeline/values';
import { StepFailure } from '@/core/resilience/failure';
import { deliveryKey, thingSent, type StepHandler } from '../step';

/** Mail cannot be asked whether it was sent; after a crash in the middle a person decides. */
export const mail: StepHandler<MailStep> = async (step, context) => {
  const { engine, scope, document } = context;
  const to = fillIn(step.to, scope).trim();
  if (to === '') throw new StepFailure('value-failed', `the mail has nobody to go to: “${step.to}” is empty for this document. Give the step an address, or branch around it`);
  const key = deliveryKey(context);
  const target = `mail to ${to}`.slice(0, 300);
  const id = createHash('sha256').update(key).digest('hex').slice(0, 40);
  const message = { connection: step.connection, to, subject: fillIn(step.subject, scope).replace(/\s+/g, ' '), text: fillIn(step.text, scope), id, attachment: step.attach ? { name: document.fileName, sha256: document.sha256 } : null };
  return { then: 'send', delivery: { key, target, rows: 1, confirm: null, send: async () => { await engine.outside.mail(message); return { rows: 1, left: 0 }; }, result: thingSent(target) } };
};
