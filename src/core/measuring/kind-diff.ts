import type { FieldDefinition, KindDefinition } from '@/core/reading/kind';

/** The difference between two versions of a kind, in words. Empty when they read alike. */
export function kindDifference(before: KindDefinition, after: KindDefinition): string[] {
  return [
    ...(before.name === after.name ? [] : [`It is called “${after.name}” instead of “${before.name}”.`]),
    ...fieldDifference('field', before.fields, after.fields),
    ...listed(before.tables, after.tables, 'table'),
    ...before.tables.flatMap((table) => fieldDifference(`column of ${table.label}`, table.columns, after.tables.find((other) => other.key === table.key)?.columns ?? [])),
    ...listed(before.layouts.map(({ key, name }) => ({ key, label: name })), after.layouts.map(({ key, name }) => ({ key, label: name })), 'layout'),
    ...before.layouts.flatMap((layout) => {
      const other = after.layouts.find((candidate) => candidate.key === layout.key);
      if (!other) return [];
      const changed = [...new Set([...Object.keys(layout.fields), ...Object.keys(other.fields)])].filter((key) => JSON.stringify(layout.fields[key]) !== JSON.stringify(other.fields[key]));
      return changed.length === 0 ? [] : [`${layout.name} finds ${changed.map((key) => after.fields.find((field) => field.key === key)?.label.toLowerCase() ?? key).join(', ')} in another way.`];
    }),
    ...(JSON.stringify(before.checks) === JSON.stringify(after.checks) ? [] : [`It has ${after.checks.length} checks instead of ${before.checks.length}, or other ones.`]),
  ];
}

type Named = { readonly key: string; readonly label: string };

function listed(before: readonly Named[], after: readonly Named[], what: string): string[] {
  const gone = before.filter((one) => !after.some((other) => other.key === one.key));
  const added = after.filter((one) => !before.some((other) => other.key === one.key));
  return [...gone.map((one) => `The ${what} “${one.label}” is gone.`), ...added.map((one) => `There is a new ${what}, “${one.label}”.`)];
}

function fieldDifference(what: string, before: readonly FieldDefinition[], after: readonly FieldDefinition[]): string[] {
  const changed = before.flatMap((field) => {
    const other = after.find((candidate) => candidate.key === field.key);
    if (!other) return [];
    return [
      ...(field.label === other.label ? [] : [`“${field.label}” is now called “${other.label}”.`]),
      ...(field.type === other.type ? [] : [`“${other.label}” is a ${other.type} instead of a ${field.type}.`]),
      ...((field.required ?? false) === (other.required ?? false) ? [] : [`“${other.label}” ${other.required ? 'must' : 'need not'} be there.`]),
      ...(field.threshold === other.threshold ? [] : [`Somebody looks at “${other.label}” below ${Math.round((other.threshold ?? 0.8) * 100)} instead of ${Math.round((field.threshold ?? 0.8) * 100)}.`]),
      ...(field.description === other.description ? [] : [`“${other.label}” is described differently.`]),
    ];
  });
  return [...listed(before, after, what), ...changed];
}
