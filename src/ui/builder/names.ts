import type { NameOf, Surroundings } from '@/core/pipeline/catalogue';

/** Names instead of keys, from what is there now. */
export const nameIn = (around: Surroundings): NameOf => {
  const lists = { kind: around.kinds, list: around.lists, pipeline: around.pipelines, connection: around.connections };
  return (type, key) => lists[type].find((one) => one.key === key)?.name ?? key;
};
