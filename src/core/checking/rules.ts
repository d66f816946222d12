import { RE2JS } from 're2js';
import type { FieldDefinition, KindDefinition, RuleCheck } from '@/core/reading/kind';
import type { Readings } from '@/core/reading/reading';
import { decimalOf, shownAmount } from '@/core/value/amount';
import { hasRightDigits, SCHEME_NAMES } from '@/core/value/check-digits';
import type { Finding } from './finding';
import { formulaFrom, holds } from './formula';

/** Rules about single values and pairs of them. An empty value breaks none: whether it may be empty is its own rule. */
export function checkRule(kind: KindDefinition, readings: Readings, check: RuleCheck): Finding[] {
  const text = breach(kind, readings, check);
  if (text === null) return [];
  return [{ check: check.check, severity: check.severity ?? 'must fix', text, paths: concerns(check) }];
}

/** The fields that a rule is about. */
export function concerns(check: RuleCheck): readonly string[] {
  switch (check.check) {
    case 'range':
    case 'pattern':
    case 'check-digits':
      return [check.field];
    case 'date-order':
      return [check.first, check.then];
    case 'formula':
      return check.concerns ?? [];
  }
}

function breach(kind: KindDefinition, readings: Readings, check: RuleCheck): string | null {
  const field = (key: string): FieldDefinition | undefined => kind.fields.find((candidate) => candidate.key === key);
  const label = (key: string): string => field(key)?.label ?? key;
  const value = (key: string): string | null => readings.fields[key]?.value ?? null;
  switch (check.check) {
    case 'range': {
      const figure = decimalOf(value(check.field));
      if (!figure) return null;
      if (check.min !== undefined && figure.lt(check.min)) return `${label(check.field)} is ${shownAmount(figure.toFixed())}, below the least of ${shownAmount(check.min)}.`;
      return check.max !== undefined && figure.gt(check.max) ? `${label(check.field)} is ${shownAmount(figure.toFixed())}, above the most of ${shownAmount(check.max)}.` : null;
    }
    case 'pattern': {
      const text = value(check.field);
      return text === null || RE2JS.matches(check.pattern, text) ? null : `${label(check.field)} “${text.slice(0, 60)}” is not written as it should be${check.says ? `: ${check.says}` : ''}.`;
    }
    case 'check-digits': {
      const text = value(check.field);
      return text === null || hasRightDigits(check.scheme, text) ? null : `${label(check.field)} “${text.slice(0, 60)}” is not ${SCHEME_NAMES[check.scheme]}: its check digits do not fit.`;
    }
    case 'date-order': {
      const [first, then] = [value(check.first), value(check.then)];
      return first === null || then === null || first <= then ? null : `${label(check.then)} ${then} is before ${label(check.first).toLowerCase()} ${first}.`;
    }
    case 'formula': {
      const formula = formulaFrom(check.holds);
      if (!formula.ok) return `A check of this kind cannot be computed: ${formula.why}.`;
      return holds(formula.node, readings) === false ? `${check.says.replace(/\.$/, '')}${figuresOf(kind, readings, check.concerns ?? [])}.` : null;
    }
  }
}

function figuresOf(kind: KindDefinition, readings: Readings, keys: readonly string[]): string {
  const parts = keys.flatMap((key) => {
    const field = kind.fields.find((candidate) => candidate.key === key);
    const value = readings.fields[key]?.value ?? null;
    return field && value !== null ? [`${field.label.toLowerCase()} ${field.type === 'money' || field.type === 'number' ? shownAmount(value) : value}`] : [];
  });
  return parts.length === 0 ? '' : ` (${parts.join(', ')})`;
}
