import type { CallStep, SendStep } from '@/core/pipeline/definition';
import type { Given } from '@/core/pipeline/facts';
import { fillIn } from '@/core/pipeline/values';
import { StepFailure } from '@/core/resilience/failure';
import { deliveryKey, thingSent, type StepHandler } from '../step';

export const call: StepHandler<CallStep> = async (step, { engine, scope, document }) => ({
  then: 'record',
  result: { made: 'given', from: step.connection, values: await engine.outside.http(step, scope, { sha256: document.sha256, name: document.fileName }, null) },
});

/** Sent with the key of its delivery. An application that keeps keys is sent the same again; another one is asked first, where it can be. */
export const send: StepHandler<SendStep> = async (step, context) => {
  const { engine, scope, document } = context;
  const key = deliveryKey(context);
  const target = `${step.connection} ${step.method} ${fillIn(step.path, scope, encodeURIComponent)}`.slice(0, 300);
  const there = async () => {
    const values = step.confirm === undefined ? null : await engine.outside.httpThere(step, fillIn(step.confirm, scope, encodeURIComponent));
    return values === null ? null : { rows: 1, left: 0, values };
  };
  const canTell = step.confirm !== undefined || (await engine.outside.keepsKeys(step.connection));
  return {
    then: 'send',
    delivery: {
      key, target, rows: 1,
      confirm: canTell ? there : null,
      send: async () => ({ rows: 1, left: 0, values: whole(step, await engine.outside.http(step, scope, { sha256: document.sha256, name: document.fileName }, key)) }),
      result: thingSent(target),
    },
  };
};

/** What later steps build on must be in the answer: an application that took something says what it made of it. */
function whole({ connection, take }: SendStep, values: Given): Given {
  const missing = Object.keys(take ?? {}).find((name) => (values[name] ?? null) === null);
  if (missing !== undefined) throw new StepFailure('value-failed', `the answer of “${connection}” has no “${missing}” (${take?.[missing] ?? ''}). Look there whether it was done, correct the step, then refloat`);
  return values;
}
