import { admit, release, UNTOUCHED, type FlowLimits } from '@/core/resilience/flow';
import { afterFailure, afterSuccess, permit } from '@/core/resilience/breaker';
import { StepFailure, type FailureCode } from '@/core/resilience/failure';
import { newId } from '@/settings/identifier';
import { changeGuard, type Guard } from '@/store/queries/connections';
import type { Services } from './context';

/** How often runs look whether a paused connection is on again, ms. */
const PAUSED_MS = 10_000;

/**
 * Make a call through a connection, guarded by what all workers share: its pause switch, its breaker, its rate, and how many may ask at
 * once. A call that may not be made now fails with the time to come again, and nothing was touched.
 */
export async function guarded<T>(services: Services, connection: string, limits: FlowLimits, call: () => Promise<T>): Promise<T> {
  const holder = newId();
  const refused = await changeGuard(services.store.db, connection, (guard, nowMs) => enter(guard, { connection, limits, holder, nowMs }));
  if (refused) throw refused;
  try {
    const answer = await call();
    await leave(services, connection, holder, true);
    return answer;
  } catch (error) {
    // Being busy or slow is no failure of the service: it says itself when to come again.
    await leave(services, connection, holder, !(error instanceof StepFailure && error.failure.code === 'service-down'));
    throw error;
  }
}

function enter(guard: Guard, { connection, limits, holder, nowMs }: { connection: string; limits: FlowLimits; holder: string; nowMs: number }): { guard: Guard; answer: StepFailure | null } {
  const wait = (code: FailureCode, ms: number, why: string) => new StepFailure(code, `“${connection}” ${why}`, { retryAfterMs: ms, untouched: true });
  if (guard.paused) return { guard, answer: wait('connection-paused', PAUSED_MS, 'was paused by a person; it goes on when somebody lets it') };
  const permission = permit(guard.breaker, nowMs);
  if (!permission.may) return { guard, answer: wait('service-resting', permission.waitMs, `failed again and again, and is asked again in ${Math.ceil(permission.waitMs / 1000)} s`) };
  const admission = admit(guard.flow ?? UNTOUCHED(limits, nowMs), limits, holder, nowMs);
  if (!admission.may) return { guard: { ...guard, flow: admission.flow }, answer: wait('connection-full', admission.waitMs, 'has a limit, and others come first') };
  return { guard: { ...guard, breaker: permission.breaker, flow: admission.flow }, answer: null };
}

const leave = (services: Services, connection: string, holder: string, well: boolean) =>
  changeGuard(services.store.db, connection, (guard, nowMs) => ({ guard: { ...guard, breaker: well ? afterSuccess() : afterFailure(guard.breaker, nowMs), flow: guard.flow && release(guard.flow, holder) }, answer: null }));
