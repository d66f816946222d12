import type { ToolStep } from '@/core/pipeline/definition';
import { valuesOf } from '@/core/pipeline/values';
import { deliveryKey, thingSent, type StepHandler } from '../step';

/** A tool whose calls may be repeated is called again after a crash; of any other a person says whether it was done. */
export const tool: StepHandler<ToolStep> = async (step, context) => {
  const { engine, scope } = context;
  const key = deliveryKey(context);
  const target = `${step.connection} ${step.tool}`.slice(0, 300);
  const repeatable = await engine.outside.isRepeatable(step.connection, step.tool);
  const input = await valuesOf(step.input ?? {}, scope);
  return {
    then: 'send',
    delivery: { key, target, rows: 1, confirm: repeatable ? async () => null : null, send: async () => ({ rows: 1, left: 0, values: await engine.outside.useTool({ connection: step.connection, tool: step.tool, input, take: step.take ?? {}, key }) }), result: thingSent(target) },
  };
};
