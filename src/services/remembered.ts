import type { RememberedView, WorthAsking } from '@/contracts/workbench';
import type { KindDefinition } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';
import { worthRemembering, type Remembered } from '@/core/reading/remembered';
import { newId } from '@/settings/identifier';
import { inTransaction, isoMoment } from '@/store/database';
import { noteAct, type Actor } from '@/store/queries/audit';
import { deleteRemembered, putRemembered, rememberedOf } from '@/store/queries/remembered';
import { Refusal, type Services } from './context';

/** What to ask a person after a correction; nothing that was answered before, whichever way. */
export async function worthAsking(services: Services, kind: KindDefinition, readings: Readings, changed: readonly string[]): Promise<WorthAsking[]> {
  const worth = worthRemembering(kind, readings, changed);
  if (worth.length === 0) return [];
  const answered = await rememberedOf(services.store.db, kind.key);
  const label = (key: string): string => kind.fields.find((field) => field.key === key)?.label ?? key;
  return worth.filter((one) => !answered.some((row) => row.field === one.field && row.whenField === one.whenField && row.whenValue === one.whenValue && (row.state === 'once' || row.value === one.value))).map((one) => ({ ...one, kind: kind.key, question: `Always ${label(one.field).toLowerCase()} “${one.value}” when ${label(one.whenField).toLowerCase()} is ${one.whenValue}?` }));
}

/** Keep the answer: always, or never ask again. */
export async function remember(services: Services, actor: Actor, kindKey: string, answer: Remembered & { readonly always: boolean }): Promise<void> {
  const { always, field, value, whenField, whenValue } = answer;
  await inTransaction(services.store.db, async (tx) => {
    await putRemembered(tx, { id: newId(), kindKey, field, value, whenField, whenValue, state: always ? 'always' : 'once', answeredBy: actor.name });
    await noteAct(tx, actor, { act: always ? 'answer remembered' : 'answer for once', on: ['kind', kindKey], detail: { field, value, whenField, whenValue } });
  });
}

export const listRemembered = async (services: Services, kindKey: string): Promise<RememberedView[]> => (await rememberedOf(services.store.db, kindKey)).map((row) => ({ id: row.id, field: row.field, value: row.value, whenField: row.whenField, whenValue: row.whenValue, always: row.state === 'always', answeredAt: isoMoment(row.answeredAt), answeredBy: row.answeredBy }));

/** Forget an answer: it is applied no more, and asked again when the same correction is made. */
export async function forget(services: Services, actor: Actor, id: string): Promise<void> {
  await inTransaction(services.store.db, async (tx) => {
    if (!(await deleteRemembered(tx, id))) throw new Refusal('not-found', 'This answer is not remembered any more.');
    await noteAct(tx, actor, { act: 'answer forgotten', on: ['remembered', id] });
  });
}
