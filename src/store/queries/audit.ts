import { audit } from '../schema';
import { now, type Queries } from '../database';

/** Who does something. Sign-in comes later; every service takes one already. */
export interface Actor {
  readonly name: string;
}

export interface Act {
  readonly act: string;
  readonly on: readonly [type: string, id: string];
  readonly detail?: Readonly<Record<string, unknown>>;
}

/** Note what was done, in the same transaction in which it was done. */
export async function noteAct(tx: Queries, actor: Actor, { act, on, detail }: Act): Promise<void> {
  await tx.insert(audit).values({ at: now, actor: actor.name, act, objectType: on[0], objectId: on[1], detail: detail ?? {} });
}
