import type { Offers } from '@/contracts/reading-service';
import type { KindDefinition } from '@/core/reading/kind';
import { CLEAN_UP_STEPS, type CleanUpStep } from '@/core/reading/outside';

/** The settings of a kind as a form holds them. */
export interface KindValues {
  name: string;
  description: string;
  senders: string;
  words: string;
  never: string;
  data: boolean;
  list: string;
  listField: string;
  fill: Record<string, string>;
  service: string;
  tier: string;
  asks: Record<string, string>;
  clean: Record<CleanUpStep, boolean>;
}

const joined = (parts: readonly string[] | undefined): string => (parts ?? []).join(', ');
const parted = (text: string): string[] => text.split(',').map((part) => part.trim()).filter(Boolean);
const filled = (map: Readonly<Record<string, string | undefined>>): Record<string, string> => Object.fromEntries(Object.entries(map).flatMap(([key, value]) => (value ? [[key, value]] : [])));

export function valuesOf(kind: KindDefinition): KindValues {
  const [binding] = kind.bindings ?? [];
  const [service] = kind.services ?? [];
  const empty = Object.fromEntries(kind.fields.map((field) => [field.key, '']));
  return {
    name: kind.name, description: kind.description ?? '',
    senders: joined(kind.sorting?.senders), words: joined(kind.sorting?.words), never: joined(kind.sorting?.never), data: kind.sorting?.data ?? false,
    list: binding?.list ?? '', listField: binding?.field ?? '', fill: { ...empty, ...binding?.fill },
    service: service?.service ?? '', tier: service?.tier ?? '', asks: { ...empty, ...service?.fields },
    clean: Object.fromEntries(CLEAN_UP_STEPS.map((step) => [step, kind.cleanUp?.[step] ?? true])) as Record<CleanUpStep, boolean>,
  };
}

/** The kind with what the form says; parts that say nothing are left out, and so are bindings and services beyond the first as they were. */
export function applied(kind: KindDefinition, values: KindValues, offers: Offers | null): KindDefinition {
  const lists = { senders: parted(values.senders), words: parted(values.words), never: parted(values.never) };
  const sorting = { ...Object.fromEntries(Object.entries(lists).filter(([, parts]) => parts.length > 0)), ...(values.data ? { data: true } : {}) };
  const fill = filled({ ...values.fill, [values.listField]: undefined });
  const binding = values.list === '' ? [] : [{ list: values.list, field: values.listField, ...(Object.keys(fill).length > 0 ? { fill } : {}) }];
  const before = kind.services?.[0];
  const price = offers?.tiers.find((tier) => tier.name === values.tier)?.pricePerPage ?? before?.price ?? '0';
  const service = values.service === '' ? [] : [{ service: values.service, tier: values.tier, price, fields: filled(values.asks), ...(before?.tables && before.service === values.service ? { tables: before.tables } : {}) }];
  const off = CLEAN_UP_STEPS.filter((step) => !values.clean[step]);
  const parts = {
    sorting: Object.keys(sorting).length > 0 ? sorting : undefined,
    bindings: orNothing([...binding, ...(kind.bindings ?? []).slice(1)]),
    services: orNothing([...service, ...(kind.services ?? []).slice(1)]),
    cleanUp: off.length > 0 ? Object.fromEntries(off.map((step) => [step, false])) : undefined,
  };
  const kept = Object.fromEntries(Object.entries({ ...kind, ...parts }).filter(([, part]) => part !== undefined)) as unknown as KindDefinition;
  return { ...kept, name: values.name.trim(), description: values.description.trim() || kind.name };
}

const orNothing = <T>(list: readonly T[]): readonly T[] | undefined => (list.length > 0 ? list : undefined);
