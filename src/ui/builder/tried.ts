import type { CellState, TriedPipeline } from '@/contracts/api';
import { eachStep, type PipelineDefinition } from '@/core/pipeline/definition';

export type TriedDocument = TriedPipeline['documents'][number];
export type TriedCell = TriedDocument['steps'][number];

const MARKS: Readonly<Record<TriedCell['state'], CellState>> = { done: 'done', 'would ask': 'waiting', 'would write': 'done', failed: 'stranded' };
/** What needs somebody most comes first. */
const ORDER: readonly TriedCell['state'][] = ['failed', 'would ask', 'would write', 'done'];

export const cellsOf = (document: TriedDocument, step: string): TriedCell[] => document.steps.filter((cell) => cell.step === step);

const rowsOf = (cells: readonly TriedCell[]): number => cells.reduce((sum, cell) => sum + cell.writes.reduce((rows, write) => rows + write.rows.length, 0), 0);

/** One cell of the tally in a mark and a few words; the lines of a step are put together. */
export function glimpse(cells: readonly TriedCell[]): { readonly mark: CellState; readonly text: string } | null {
  const state = ORDER.find((candidate) => cells.some((cell) => cell.state === candidate));
  if (!state) return null;
  const mark = MARKS[state];
  if (state === 'would write') return { mark, text: wouldText(cells) };
  const of = cells.length > 1 ? ` ${cells.filter((cell) => cell.state === state).length} of ${cells.length}` : '';
  return { mark, text: state === 'done' ? (cells.length > 1 ? `${cells.length} lines` : (cells[0]?.short ?? '')) : `${state}${of}` };
}

function wouldText(cells: readonly TriedCell[]): string {
  const [{ short = '' } = {}] = cells;
  if (short !== '') return cells.length > 1 ? `${short}, ${cells.length} times` : short;
  const rows = rowsOf(cells);
  return `would write ${rows} ${rows === 1 ? 'row' : 'rows'}`;
}

/** What a step made before, where it makes something else now: by words and by what would be written. Null: nothing is different. */
export function madeBefore(before: TriedDocument | undefined, now: TriedDocument, step: string): string | null {
  if (!before) return null;
  const [old, fresh] = [cellsOf(before, step), cellsOf(now, step)];
  if (JSON.stringify(old.map(essence)) === JSON.stringify(fresh.map(essence))) return null;
  const [was, is] = [glimpse(old)?.text ?? 'not there', glimpse(fresh)?.text ?? 'not there'];
  return was === is ? 'other values' : was;
}

const essence = ({ line, state, text, writes }: TriedCell) => ({ line, state, text, writes: writes.map(({ target, rows }) => ({ target, rows: rows.map((row) => Object.fromEntries(Object.entries(row).map(([column, { value }]) => [column, value]))) })) });

/** Every step of two versions, by id. */
export const stepsOf = (...pipelines: readonly PipelineDefinition[]): string[] => [...new Set(pipelines.flatMap(({ steps }) => [...eachStep(steps)].map(({ step }) => step.id)))];

/** Documents of which at least one step makes something else now. */
export const changedDocuments = (before: readonly TriedDocument[], now: readonly TriedDocument[], steps: readonly string[]): readonly TriedDocument[] =>
  now.filter((document) => steps.some((step) => madeBefore(before.find(({ id }) => id === document.id), document, step) !== null));
