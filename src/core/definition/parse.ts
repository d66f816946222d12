import Ajv2020, { type ErrorObject, type ValidateFunction } from 'ajv/dist/2020';
import { LineCounter, parseDocument, type Document } from 'yaml';
import { eachStep, type PipelineDefinition } from '@/core/pipeline/definition';
import { formulaFrom } from '@/core/checking/formula';
import { concerns } from '@/core/checking/rules';
import { patternProblem } from '@/core/reading/pattern';
import type { Box } from '@/core/page/page';
import type { KindDefinition } from '@/core/reading/kind';
import { KIND_SCHEMA, PIPELINE_SCHEMA } from './schemas';

/** One thing wrong with a file, with its place counted from 1. */
export interface Mistake {
  readonly line: number;
  readonly column: number;
  readonly text: string;
}

export type Parsed<T> = { readonly ok: true; readonly definition: T } | { readonly ok: false; readonly mistakes: readonly Mistake[] };

/** Definitions are written by people; a megabyte of YAML is not. */
const MOST_BYTES = 1_000_000;

const ajv = new Ajv2020({ allErrors: true, strict: false, discriminator: true });
const validKind = ajv.compile(KIND_SCHEMA);
const validPipeline = ajv.compile(PIPELINE_SCHEMA);
const validDraft = ajv.compile(unfinished(PIPELINE_SCHEMA) as object);

/** A document kind from YAML. */
export function parseKind(yaml: string): Parsed<KindDefinition> {
  const parsed = parse<KindDefinition>(yaml, validKind, (written) => remarksOn(whole(written)));
  return parsed.ok ? { ok: true, definition: whole(parsed.definition) } : parsed;
}

/** Parts that a file may leave out. */
const whole = (kind: KindDefinition): KindDefinition => ({ ...kind, tables: kind.tables ?? [], layouts: kind.layouts ?? [], checks: kind.checks ?? [] });

function remarksOn(kind: KindDefinition): Remark[] {
  return [...doubledKeys(kind.fields.map((field) => field.key), 'field'), ...unknownNames(kind), ...badPatterns(kind), ...unrecognisable(kind), ...badChecks(kind), ...unknownInOutside(kind), ...contradictoryZones(kind)];
}

/** A pipeline from YAML. A draft may have parts that are still empty; what they lack is told by the static checks. */
export function parsePipeline(yaml: string, as: 'whole' | 'draft' = 'whole'): Parsed<PipelineDefinition> {
  return parse<PipelineDefinition>(yaml, as === 'draft' ? validDraft : validPipeline, (pipeline) => doubledKeys([...eachStep(pipeline.steps)].map(({ step }) => step.id), 'step'));
}

/** The same schema with nothing demanded of texts, lists and maps that are empty. */
function unfinished(schema: unknown): unknown {
  if (Array.isArray(schema)) return schema.map(unfinished);
  if (typeof schema !== 'object' || schema === null) return schema;
  const parts = Object.entries(schema).filter(([name]) => !['minLength', 'minItems', 'minProperties'].includes(name));
  return Object.fromEntries(parts.map(([name, value]) => [name, name === 'pattern' && typeof value === 'string' ? `^$|${value}` : unfinished(value)]));
}

type Remark = { readonly path: readonly (string | number)[]; readonly text: string };

function parse<T>(yaml: string, valid: ValidateFunction, further: (definition: T) => Remark[]): Parsed<T> {
  if (yaml.length > MOST_BYTES) return { ok: false, mistakes: [{ line: 1, column: 1, text: `The file has ${yaml.length} characters; at most ${MOST_BYTES} are read.` }] };
  const lines = new LineCounter();
  const document = parseDocument(yaml, { lineCounter: lines });
  const at = (offset: number) => ({ line: lines.linePos(offset).line, column: lines.linePos(offset).col });
  if (document.errors.length > 0) return { ok: false, mistakes: document.errors.map((error) => ({ ...at(error.pos[0]), text: firstLine(error.message) })) };
  const value = plainValue(document);
  if (value === TOO_MANY_ALIASES) return { ok: false, mistakes: [{ line: 1, column: 1, text: 'The file repeats itself by aliases (*name) too often. Write the parts out.' }] };
  const remarks = valid(value) ? further(value as T) : remarksOf(valid.errors ?? []);
  if (remarks.length > 0) return { ok: false, mistakes: remarks.map((remark) => ({ ...at(offsetOf(document, remark.path)), text: remark.text })) };
  return { ok: true, definition: value as T };
}

const TOO_MANY_ALIASES = Symbol('too many aliases');

/** A few lines of aliases can stand for gigabytes; the library throws at a limit. */
function plainValue(document: Document): unknown {
  try {
    return document.toJS({ maxAliasCount: 50 });
  } catch (error) {
    if (error instanceof ReferenceError) return TOO_MANY_ALIASES;
    throw error;
  }
}

const firstLine = (text: string): string => text.split('\n')[0] ?? text;

/** Of a failed choice the schema reports every branch; the deepest complaint is the one people mean. */
function remarksOf(errors: readonly ErrorObject[]): Remark[] {
  const told = errors.filter((error) => error.keyword !== 'oneOf' && error.keyword !== 'discriminator' && error.keyword !== 'const');
  const deepest = Math.max(...(told.length > 0 ? told : errors).map((error) => error.instancePath.split('/').length));
  const chosen = (told.length > 0 ? told : errors).filter((error) => error.instancePath.split('/').length === deepest).slice(0, 5);
  return chosen.map((error) => ({ path: pathOf(error.instancePath), text: remarkText(error) }));
}

const pathOf = (pointer: string): (string | number)[] => pointer.split('/').slice(1).map((part) => (/^\d+$/.test(part) ? Number(part) : part.replaceAll('~1', '/').replaceAll('~0', '~')));

function remarkText(error: ErrorObject): string {
  const where = error.instancePath === '' ? 'The file' : `“${error.instancePath.slice(1).replaceAll('/', ' › ')}”`;
  const params = error.params as Record<string, unknown>;
  if (error.keyword === 'additionalProperties') return `${where} has “${String(params['additionalProperty'])}”, which is not known here.`;
  if (error.keyword === 'required') return `${where} needs “${String(params['missingProperty'])}”.`;
  if (error.keyword === 'enum') return `${where} must be one of ${(params['allowedValues'] as unknown[]).join(', ')}.`;
  return `${where} ${error.message ?? 'is not as it should be'}.`;
}

function offsetOf(document: Document, path: readonly (string | number)[]): number {
  for (let length = path.length; length > 0; length -= 1) {
    const node = document.getIn(path.slice(0, length), true) as { range?: [number, number, number] } | undefined;
    if (node?.range) return node.range[0];
  }
  return 0;
}

function doubledKeys(keys: readonly string[], what: string): Remark[] {
  return keys.filter((name, index) => keys.indexOf(name) !== index).map((name) => ({ path: [what === 'step' ? 'steps' : 'fields'], text: `The ${what} “${name}” stands here twice; each needs a name of its own.` }));
}

function unknownNames(kind: KindDefinition): Remark[] {
  const fields = new Set(kind.fields.map((field) => field.key));
  const tables = new Map(kind.tables.map((table) => [table.key, new Set(table.columns.map((column) => column.key))]));
  return kind.layouts.flatMap((layout, index) => [
    ...Object.keys(layout.fields).filter((key) => !fields.has(key)).map((key) => ({ path: ['layouts', index, 'fields', key], text: `Layout “${layout.name}” reads “${key}”, which is no field of this kind.` })),
    ...Object.entries(layout.tables).flatMap(([key, settings]) => {
      const columns = tables.get(key);
      if (!columns) return [{ path: ['layouts', index, 'tables', key], text: `Layout “${layout.name}” reads “${key}”, which is no table of this kind.` }];
      return [...Object.keys(settings.headings), settings.once, ...(settings.carry ?? [])].filter((column) => !columns.has(column)).map((column) => ({ path: ['layouts', index, 'tables', key], text: `Table “${key}” has no column “${column}”.` }));
    }),
  ]);
}

/** Checks that could never be computed: formulas and patterns that are none, fields that are not there. */
function badChecks(kind: KindDefinition): Remark[] {
  const known = new Set([...kind.fields.map((field) => field.key), ...kind.tables.flatMap((table) => [table.key, ...table.columns.map((column) => `${table.key}.${column.key}`)])]);
  return kind.checks.flatMap((check, index) => {
    const remark = (text: string): Remark[] => [{ path: ['checks', index], text }];
    const unknown = namesIn(check).find((name) => !known.has(name));
    if (check.check === 'formula') {
      const formula = formulaFrom(check.holds);
      if (!formula.ok) return remark(`${formula.why}.`);
    }
    if (check.check === 'pattern') {
      const problem = patternProblem(check);
      if (problem !== null) return remark(`${problem}.`);
    }
    return unknown === undefined ? [] : remark(`The check names “${unknown}”, which is no field of this kind.`);
  });
}

function namesIn(check: KindDefinition['checks'][number]): readonly string[] {
  switch (check.check) {
    case 'line-amount':
      return [check.table, ...[check.quantity, check.price, check.amount].map((column) => `${check.table}.${column}`)];
    case 'reconcile':
      return [`${check.lines.table}.${check.lines.column}`, ...(check.minus ?? []), ...(check.plus ?? []), check.equals];
    case 'in-list':
      return [check.field];
    case 'duplicate':
      return check.fields;
    case 'range':
    case 'pattern':
    case 'check-digits':
    case 'date-order':
      return concerns(check);
    case 'formula': {
      const formula = formulaFrom(check.holds);
      return [...(formula.ok ? formula.names : []), ...concerns(check)];
    }
  }
}

/** Two fields that read the same rectangle would always read the same value. */
function contradictoryZones(kind: KindDefinition): Remark[] {
  return kind.layouts.flatMap((layout, index) => {
    const zones = Object.entries(layout.fields).flatMap(([key, readers]) => readers.flatMap((reader) => (reader.reader === 'zone' ? [{ key, box: reader.box, page: reader.page ?? 'any' }] : [])));
    const flat = zones.filter(({ box }) => box[2] <= box[0] || box[3] <= box[1]).map(({ key }) => ({ path: ['layouts', index, 'fields', key], text: `The rectangle of “${key}” has no size: its right and lower edges must lie beyond the left and upper ones.` }));
    const doubled = zones.flatMap((zone, at) => zones.slice(0, at).filter((other) => other.key !== zone.key && other.page === zone.page && shareOf(zone.box, other.box) > SAME_PLACE).map((other) => ({ path: ['layouts', index, 'fields', zone.key], text: `“${zone.key}” and “${other.key}” read the same rectangle in layout “${layout.name}”; a place can be only one of them.` })));
    return [...flat, ...doubled];
  });
}

/** Rectangles that share more than this of the smaller one are the same place. */
const SAME_PLACE = 0.9;

function shareOf(a: Box, b: Box): number {
  const shared = Math.max(0, Math.min(a[2], b[2]) - Math.max(a[0], b[0])) * Math.max(0, Math.min(a[3], b[3]) - Math.max(a[1], b[1]));
  const smaller = Math.min((a[2] - a[0]) * (a[3] - a[1]), (b[2] - b[0]) * (b[3] - b[1]));
  return smaller <= 0 ? 0 : shared / smaller;
}

/** Bindings and services fill fields; these must be there. */
function unknownInOutside(kind: KindDefinition): Remark[] {
  const fields = new Set(kind.fields.map((field) => field.key));
  const tables = new Map(kind.tables.map((table) => [table.key, new Set(table.columns.map((column) => column.key))]));
  const bound = (kind.bindings ?? []).flatMap((binding, index) => [binding.field, ...Object.keys(binding.fill ?? {})].filter((key) => !fields.has(key)).map((key) => ({ path: ['bindings', index], text: `The list “${binding.list}” fills “${key}”, which is no field of this kind.` })));
  const served = (kind.services ?? []).flatMap((use, index) => {
    const columns = Object.entries(use.tables ?? {}).flatMap(([table, { columns: mapped }]) => Object.keys(mapped).filter((column) => !tables.get(table)?.has(column)).map((column) => `${table}.${column}`));
    return [...Object.keys(use.fields).filter((key) => !fields.has(key)), ...columns].map((key) => ({ path: ['services', index], text: `The service “${use.service}” fills “${key}”, which this kind does not have.` }));
  });
  return [...bound, ...served];
}

/** A layout is told by wordings or by landmarks; one without either would be used for everything. */
function unrecognisable(kind: KindDefinition): Remark[] {
  return kind.layouts.flatMap((layout, index) => (layout.recognise.length > 0 || (layout.landmarks ?? []).length > 0 ? [] : [{ path: ['layouts', index], text: `Layout “${layout.name}” needs “recognise” or “landmarks”: nothing tells its papers from others.` }]));
}

function badPatterns(kind: KindDefinition): Remark[] {
  return kind.layouts.flatMap((layout, index) =>
    Object.entries(layout.fields).flatMap(([key, readers]) =>
      readers.flatMap((reader, place) => {
        const problem = reader.reader === 'pattern' ? patternProblem(reader) : null;
        return problem === null ? [] : [{ path: ['layouts', index, 'fields', key, place], text: `${problem}.` }];
      }),
    ),
  );
}
