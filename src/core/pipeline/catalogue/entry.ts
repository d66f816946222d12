import type { KindDefinition } from '@/core/reading/kind';
import type { ValueType } from '@/core/value/normalise';
import type { Condition, RowPlan, Step, Template, Value } from '../definition';
import type { TargetColumn } from '../targets';
import { sourcesInTemplate, wayOfValue } from '../values';

/** A piece of a sentence; `pick` marks a part that a builder can pick. */
export interface SentencePart {
  readonly text: string;
  readonly pick?: true;
}

/** The name that people gave to what a key stands for. */
export type NameOf = (type: 'kind' | 'list' | 'pipeline' | 'connection', key: string) => string;

/** What a pipeline refers to, as it is there now. */
export interface Surroundings {
  readonly kinds: readonly KindDefinition[];
  /** Lists with their columns; `results`: pipelines can write to it. */
  readonly lists: readonly { readonly key: string; readonly name: string; readonly columns: readonly string[]; readonly results: boolean; /** Types of its columns by name. */ readonly types?: Readonly<Record<string, ValueType>> }[];
  readonly connections: readonly { readonly key: string; readonly name: string; readonly connector: string; /** What an application says it can do. */ readonly operations?: readonly OfferedOperation[]; /** Of a server of tools. */ readonly tools?: readonly ToolOffer[]; /** Of a database. */ readonly tables?: readonly TableOffer[] }[];
  /** Workbooks and CSV files that are there already, with the headings of each tab; a CSV file has none. */
  readonly files?: readonly { readonly file: string; readonly tab: string | null; readonly columns: readonly string[] }[];
  /** Other pipelines, each with the pipelines that it starts, and with the names of what those give that start it. */
  readonly pipelines: readonly { readonly key: string; readonly name: string; readonly starts: readonly string[]; readonly given?: readonly string[] }[];
}

export interface OfferedOperation {
  readonly method: string;
  readonly path: string;
  readonly summary: string;
  /** Names of the members of its body; needed ones first. */
  readonly body: readonly string[];
  /** Those without which it is refused. */
  readonly needed?: readonly string[];
}

/** A table of a database. */
export interface TableOffer {
  readonly name: string;
  readonly columns: readonly TargetColumn[];
}

/** A tool with the names of what it wants. */
export interface ToolOffer {
  readonly name: string;
  readonly about: string;
  readonly inputs: readonly string[];
  /** Those without which it is refused. */
  readonly needed?: readonly string[];
}

/** A value that a step draws on; `each`: within the rows of that table. */
export interface Use {
  readonly value: Value;
  readonly each?: string | undefined;
}

/** A name under which a step leaves a value for later ones. */
export interface GivenName {
  readonly name: string;
  readonly label: string;
}

/** A part of a step that a builder fills in; the form is drawn from these. */
export type FormPart =
  | { readonly is: 'text' | 'database table' | 'template' | 'long template'; readonly at: string; readonly label: string; readonly help?: string; readonly optional?: true }
  | { readonly is: 'number'; readonly at: string; readonly label: string; readonly help?: string; readonly optional?: true; readonly min: number; readonly max: number }
  | { readonly is: 'pick'; readonly at: string; readonly label: string; readonly of: Pickable; readonly optional?: string }
  | { readonly is: 'several kinds'; readonly at: string; readonly label: string }
  | { readonly is: 'choice'; readonly at: string; readonly label: string; readonly options: readonly { readonly value: string; readonly label: string }[] }
  | { readonly is: 'switch'; readonly at: string; readonly label: string }
  | { readonly is: 'value'; readonly at: string; readonly label: string; readonly optional?: true }
  | { readonly is: 'condition'; readonly at: string; readonly label: string; readonly optional?: true }
  /** Name → value; `of` tells where the names come from. */
  | { readonly is: 'columns'; readonly at: string; readonly label: string; readonly of: 'list' | 'free' | 'notes' }
  | { readonly is: 'places'; readonly at: string; readonly label: string; readonly help: string }
  /** One of what the application says it can do; fills method, path and the names of the body. */
  | { readonly is: 'operation'; readonly at: 'path'; readonly label: string }
  /** One of the tools that the server offers; fills the names of what it is given. */
  | { readonly is: 'tool'; readonly at: 'tool'; readonly label: string }
  | { readonly is: 'ways' | 'tabs' | 'answers' | 'comparisons'; readonly at: string };

export type Pickable = 'kind' | 'results list' | 'reference list' | 'list column' | 'table' | 'pipeline' | 'http connection' | 'database connection' | 'mail connection' | 'tool connection';

/** Everything that people see of a step kind, in one place. Adding one: a file here, a handler in the engine, a line in each registry. */
export interface StepEntry<S extends Step = Step> {
  /** A word or two: head of a column in the run tally. */
  readonly name: string;
  /** What it is for, when a builder looks for it. */
  readonly about: string;
  /** Other words by which it is looked for. */
  readonly words: string;
  readonly group: 'Read' | 'Decide' | 'Ask' | 'Write' | 'Flow';
  /** JSON Schema of its members besides those that all steps have, and which of them it needs. */
  readonly schema: { readonly properties: Readonly<Record<string, unknown>>; readonly required: readonly string[] };
  /** A new one, as empty as may be. */
  readonly blank: (id: string) => S;
  readonly sentence: (step: S, nameOf: NameOf) => SentencePart[];
  readonly form: readonly FormPart[];
  readonly uses?: (step: S) => readonly Use[];
  readonly gives?: (step: S, surroundings: Surroundings) => readonly GivenName[];
  /** What is wrong with it, that nothing else would tell. */
  readonly complain?: (step: S, surroundings: Surroundings) => readonly string[];
}

export const say = (text: string): SentencePart => ({ text });
export const pick = (text: string): SentencePart => ({ text: text === '' ? '…' : text, pick: true });

/** Picked parts, one after the other. */
export const picked = (texts: readonly string[]): SentencePart[] => texts.flatMap((text, index) => [say(index === 0 ? '' : ', '), pick(text)]);

/** A value as it would be said. */
export function valueText(value: Value): string {
  if (typeof value === 'string') return value.replace(/^(row|note|document)\./, '').replaceAll('_', ' ');
  switch (wayOfValue(value)) {
    case 'pick':
      return valueText(value.pick ?? '');
    case 'text':
      return `“${value.text ?? ''}”`;
    case 'expression':
      return `(${clipped(value.expression ?? '')})`;
  }
}

/** Letters of an expression that stand in a sentence; the whole of it stands in the form. */
const MOST_LETTERS = 60;
const clipped = (text: string): string => (text.length > MOST_LETTERS ? `${text.slice(0, MOST_LETTERS)} …` : text);

/** A condition as it would be said. */
export function conditionText(condition: Condition): string {
  if ('trusted' in condition) return condition.trusted ? 'every value is sure enough and no check fails' : 'a check fails or a value is not sure enough';
  if ('all' in condition) return condition.all.map(conditionText).join(' and ');
  if ('any' in condition) return condition.any.map(conditionText).join(' or ');
  return `${valueText(condition.value) || '…'} is ${condition.is}${condition.than === undefined ? '' : ` ${condition.than}`}`;
}

export function rowsText(plan: RowPlan): string {
  const rows = plan.each === undefined ? 'one row' : `a row for each of its ${plan.each}`;
  return plan.unless === undefined ? rows : `${rows}, unless its ${plan.unless} is there`;
}

export const usesOfPlan = (plan: RowPlan): Use[] => Object.values(plan.columns).map((value) => ({ value, each: plan.each }));
export const usesOfTemplate = (...templates: (Template | undefined)[]): Use[] => templates.flatMap((template) => sourcesInTemplate(template ?? '').map((value) => ({ value })));
export function usesOfCondition(condition: Condition | undefined): Use[] {
  if (!condition || 'trusted' in condition) return [];
  if ('all' in condition) return condition.all.flatMap(usesOfCondition);
  if ('any' in condition) return condition.any.flatMap(usesOfCondition);
  return [{ value: condition.value }];
}

/** Complaints about a connection that is not there or is of another sort. */
export function connectionComplaints(key: string, connectors: readonly string[], { connections }: Surroundings): string[] {
  const connection = connections.find((candidate) => candidate.key === key);
  if (!connection) return [key === '' ? 'Choose a connection.' : `There is no connection “${key}”. Add it under Connections, or choose another.`];
  return connectors.includes(connection.connector) ? [] : [`“${connection.name}” is a connection of another sort and cannot be used here.`];
}

/** Names without which something is refused and that have no value. */
export const neededComplaints = (what: string, needed: readonly string[], given: readonly string[]): string[] => {
  // `bill.number` gives the member `bill`.
  const tops = given.map((name) => name.split('.')[0]);
  return needed.filter((name) => !tops.includes(name)).map((name) => `${what} needs “${name}”. Give it a value.`);
};
