import { boxHeight, centreX, unionOf, type Box, type Word } from '@/core/page/page';
import { stackedLine, textOf, type Line } from '@/core/page/lines';
import type { LocaleHints } from '@/core/value/normalise';
import { normaliseWords, type FieldDefinition, type TableSettings } from './kind';
import { beginsWith, findLandmarks } from './landmark';
import { confidenceOf, NOTHING_READ, surenessOf, type ColumnBand, type Evidence, type Reading, type Row } from './reading';
import { CONCEPTS, HEADING_CONCEPTS } from './wordings';

export interface TableReading {
  readonly rows: readonly Row[];
  readonly bands: readonly ColumnBand[];
}

/** Rows are never more than this; a longer table is a runaway reading. */
const MOST_ROWS = 5000;
/** A line farther below than this many line heights is not the wrapped rest of a row but a footer or a remark. */
const WRAP_GAP = 1.2;
/** Share of the headings that must be recognised on one line. */
const HEADING_SHARE = 0.6;

interface Column {
  /** Null for a heading that the kind does not name: its words are nobody's and must not fall to a neighbour. */
  readonly definition: FieldDefinition | null;
  readonly from: number;
  readonly to: number;
  /** Similarity of the heading; 1 where the page repeats none and the columns go on from the page before. */
  readonly likeness: number;
  /** No word of the body straddles an edge of the column. */
  readonly clear: boolean;
}

interface Body {
  readonly page: number;
  readonly columns: readonly Column[];
  readonly lines: readonly Line[];
  readonly top: number;
  readonly ended: boolean;
}

/**
 * A table that may grow over pages: columns from the headings, rows from the column that is filled once per row.
 * Repeated headings and running subtotals are skipped, wrapped lines join their row, footers are left out.
 */
export function readTable(lines: readonly Line[], settings: TableSettings, columns: readonly FieldDefinition[], locale: LocaleHints): TableReading {
  const bodies = bodiesOf(lines, settings, columns);
  const rows = bodies.flatMap((body) => rowsOf(body, settings, locale)).slice(0, MOST_ROWS);
  return { rows: settings.carry ? carried(rows, settings.carry) : rows, bands: bodies.flatMap(bandsOf) };
}

/** Merged cells: what is printed once for several rows belongs to each of them. */
function carried(rows: readonly Row[], columns: readonly string[]): readonly Row[] {
  const above = new Map<string, Reading>();
  return rows.map((row) => Object.fromEntries(Object.entries(row).map(([key, cell]): [string, Reading] => {
    if (!columns.includes(key)) return [key, cell];
    const before = above.get(key);
    if (cell.value !== null || cell.problem !== undefined || !before) {
      if (cell.value !== null) above.set(key, cell);
      return [key, cell];
    }
    const evidence = [...before.evidence, { what: 'printed once for several rows', factor: 0.97 }];
    return [key, { ...before, evidence, confidence: confidenceOf(evidence) }];
  })));
}

function bodiesOf(lines: readonly Line[], settings: TableSettings, columns: readonly FieldDefinition[]): Body[] {
  const bodies: Body[] = [];
  for (const page of new Set(lines.map((line) => line.page))) {
    const before = bodies.at(-1);
    if (before?.ended) break;
    const body = bodyOn(lines.filter((line) => line.page === page), settings, columns, before);
    if (body) bodies.push(body);
  }
  return bodies;
}

interface Heading {
  readonly line: Line;
  readonly boxes: HeadingBoxes;
  /** Index of the first line of the body. */
  readonly next: number;
}

/** Headings stand on one line, or on two when long ones are broken. The line on which most of them are found counts. */
function headingOn(lines: readonly Line[], settings: TableSettings, columns: readonly FieldDefinition[]): Heading | null {
  const named = columns.filter((column) => settings.headings[column.key] !== undefined);
  const enough = Math.max(Math.min(2, named.length), HEADING_SHARE * named.length);
  let best: Heading | null = null;
  for (const [index, line] of lines.entries()) {
    for (const [candidate, next] of [[line, index + 1], [stackedLine(line, lines[index + 1]), index + 2]] as const) {
      if (!candidate) continue;
      const boxes = headingBoxes(candidate, settings, named);
      if (boxes.size >= enough && boxes.size > (best?.boxes.size ?? 0)) best = { line: candidate, boxes, next };
    }
    // Farther down only a clearly better line can be the heading: rows repeat words of it now and then.
    if (best && index > best.next + 2) break;
  }
  return best;
}

function bodyOn(lines: readonly Line[], settings: TableSettings, columns: readonly FieldDefinition[], before: Body | undefined): Body | null {
  const heading = headingOn(lines, settings, columns);
  const banded = !heading && !before && settings.bands ? columnsFromBands(settings.bands, columns) : null;
  if (!heading && !before && !banded) return null;
  const rest = heading ? lines.slice(heading.next) : lines;
  const isSkipped = (line: Line) => beginsWith(line, settings.skip ?? []) || carriesPageNumber(line);
  const end = rest.findIndex((line) => beginsWith(line, settings.end) && !isSkipped(line));
  const body = end < 0 ? rest : rest.slice(0, end);
  const inner = body.filter((line) => !isSkipped(line));
  return {
    page: lines[0]?.page ?? 1,
    columns: heading ? columnsFrom(heading.line, heading.boxes, inner, columns) : (before?.columns ?? banded ?? []),
    lines: inner,
    top: heading ? heading.line.box[1] : (lines[0]?.box[1] ?? 0),
    ended: end >= 0,
  };
}

/** “Page 2 of 3”, set apart: such a line runs along every page, and whatever else stands on it belongs to no table. */
const PAGE_NUMBER = /^(page|seite|página|pagina|blad|side|sida|sivu|strana|strona)\s*\d{1,4}(\s*(of|von|de|di|van|av|af|z|\/)\s*\d{1,4})?$/i;
const carriesPageNumber = (line: Line): boolean => line.phrases.some((phrase) => PAGE_NUMBER.test(phrase.text.trim()));

/** Columns where they stood in a sample, for a page whose headings cannot be read. */
function columnsFromBands(bands: NonNullable<TableSettings['bands']>, columns: readonly FieldDefinition[]): Column[] {
  const named = columns.flatMap((definition) => (bands[definition.key] ? [{ definition, band: bands[definition.key] as readonly [number, number] }] : [])).sort((a, b) => a.band[0] - b.band[0]);
  const cut = (index: number): number => {
    const [left, right] = [named[index], named[index + 1]];
    return left && right ? (left.band[1] + right.band[0]) / 2 : index < 0 ? -Infinity : Infinity;
  };
  return named.map(({ definition }, index) => ({ definition, from: cut(index - 1), to: cut(index), likeness: 0.9, clear: true }));
}

type HeadingBoxes = ReadonlyMap<string, { readonly box: Box; readonly likeness: number; readonly words: readonly Word[] }>;

/** Longer wordings take their words first, so that "No." is not found in "Item no." where that is a heading of its own. */
function headingBoxes(line: Line, settings: TableSettings, columns: readonly FieldDefinition[]): HeadingBoxes {
  const offers = columns.flatMap((column) => findLandmarks([line], settings.headings[column.key] ?? []).map((landmark) => ({ key: column.key, landmark })));
  const worth = ({ landmark }: (typeof offers)[number]): number => landmark.phrase.words.length + landmark.similarity + (landmark.alone ? 0.5 : 0);
  const found = new Map<string, { box: Box; likeness: number; words: readonly Word[] }>();
  for (const { key, landmark } of offers.sort((a, b) => worth(b) - worth(a))) {
    const taken = [...found.values()].some((other) => other.words.some((word) => landmark.phrase.words.includes(word)));
    if (!taken && !found.has(key)) found.set(key, { box: landmark.phrase.box, likeness: landmark.similarity, words: landmark.phrase.words });
  }
  return found;
}

const HEADING_WORDINGS = HEADING_CONCEPTS.flatMap((concept) => [...CONCEPTS[concept]]);

/** Headings that the kind does not name: phrases of their own, and known headings that run together with a named one. */
function nobodysHeadings(heading: Line, boxes: HeadingBoxes): Box[] {
  const taken = new Set([...boxes.values()].flatMap(({ words }) => words));
  const free = heading.phrases.filter((phrase) => !phrase.words.some((word) => taken.has(word))).map((phrase) => phrase.box);
  const mixed = heading.phrases.filter((phrase) => phrase.words.some((word) => taken.has(word)) && phrase.words.some((word) => !taken.has(word)));
  const runTogether = mixed.length === 0 ? [] : findLandmarks([heading], HEADING_WORDINGS).filter((landmark) => landmark.phrase.words.every((word) => !taken.has(word)) && mixed.some((phrase) => phrase.words.includes(landmark.phrase.words[0] as Word)));
  return [...free, ...runTogether.map((landmark) => landmark.phrase.box)];
}

/** Neighbouring columns are parted where the fewest words straddle the cut, in the middle of the widest such gap. */
function columnsFrom(heading: Line, boxes: HeadingBoxes, lines: readonly Line[], columns: readonly FieldDefinition[]): Column[] {
  // Wrapped lines and footers cross columns as they like; lines of several phrases keep to them.
  const telling = lines.filter((line) => line.phrases.length >= Math.max(2, Math.ceil(0.6 * heading.phrases.length)));
  const words = (telling.length > 0 ? telling : lines).flatMap((line) => line.words);
  const named = columns.flatMap((definition) => {
    const found = boxes.get(definition.key);
    return found ? [{ definition, ...found }] : [];
  });
  const ordered = [...named, ...nobodysHeadings(heading, boxes).map((box) => ({ definition: null, box, likeness: 1 }))].sort((a, b) => a.box[0] - b.box[0]);
  const cuts = ordered.slice(1).map((column, index) => cutBetween(ordered[index]?.box ?? column.box, column.box, words));
  return ordered.map((column, index) => ({
    definition: column.definition,
    likeness: column.likeness,
    from: cuts[index - 1]?.at ?? -Infinity,
    to: cuts[index]?.at ?? Infinity,
    clear: (cuts[index - 1]?.straddling ?? 0) + (cuts[index]?.straddling ?? 0) === 0,
  }));
}

interface Cut {
  readonly at: number;
  /** Words that the cut runs through. */
  readonly straddling: number;
}

/**
 * One sweep from left to right between the middles of two headings: a word lies across the space between two neighbouring edges
 * when it has begun and not yet ended. Among the spaces that the fewest words lie across, the one nearest to the space between the
 * headings themselves is taken: figures that are aligned right under a wide heading leave a wider space on their other side.
 */
function cutBetween(before: Box, after: Box, words: readonly Word[]): Cut {
  const [left, right] = [centreX(before), centreX(after)];
  const near = words.filter((word) => word.box[2] > left && word.box[0] < right);
  const starts = near.map((word) => word.box[0]).sort((a, b) => a - b);
  const ends = near.map((word) => word.box[2]).sort((a, b) => a - b);
  const edges = [left, ...[...starts, ...ends].filter((x) => x > left && x < right).sort((a, b) => a - b), right];
  const away = (from: number, to: number): number => Math.max(0, from - Math.max(after[0], before[2]), Math.min(before[2], after[0]) - to);
  let best = { at: (left + right) / 2, straddling: Infinity, off: Infinity, width: 0 };
  let [begun, ended] = [0, 0];
  for (let index = 1; index < edges.length; index += 1) {
    const [from, to] = [edges[index - 1] ?? left, edges[index] ?? right];
    while (begun < starts.length && (starts[begun] ?? 0) <= from) begun += 1;
    while (ended < ends.length && (ends[ended] ?? 0) <= from) ended += 1;
    const found = { at: (from + to) / 2, straddling: begun - ended, off: away(from, to), width: to - from };
    if (found.width > 0.5 && (found.straddling < best.straddling || (found.straddling === best.straddling && (found.off < best.off - 0.5 || (found.off <= best.off + 0.5 && found.width > best.width))))) best = found;
  }
  return { at: best.at, straddling: Number.isFinite(best.straddling) ? best.straddling : 0 };
}

type NamedColumn = Column & { readonly definition: FieldDefinition };
type Cells = ReadonlyMap<NamedColumn, readonly Word[]>;

const isNamed = (column: Column): column is NamedColumn => column.definition !== null;

interface DraftRow {
  readonly page: number;
  readonly cells: Map<NamedColumn, Word[]>;
  bottom: number;
  wrapped: boolean;
}

function rowsOf(body: Body, settings: TableSettings, locale: LocaleHints): Row[] {
  const drafts: DraftRow[] = [];
  let waiting: Cells[] = [];
  let bottom = body.top;
  const starts = rowStarts(body, settings, locale);
  for (const line of body.lines) {
    const cells = starts.cells.get(line) ?? new Map<NamedColumn, Word[]>();
    const near = line.box[1] - bottom <= WRAP_GAP * boxHeight(line.box);
    if (starts.lines.has(line)) {
      const draft: DraftRow = { page: line.page, cells: new Map([...cells].map(([column, words]) => [column, [...words]])), bottom: line.box[3], wrapped: false };
      for (const above of waiting) prepend(draft, above);
      waiting = [];
      drafts.push(draft);
    } else if (onlyText(cells) && settings.wrapped === 'above') {
      waiting.push(cells);
    } else if (near && drafts.length > 0 && (onlyText(cells) || completesDate(drafts.at(-1) as DraftRow, cells, locale))) {
      append(drafts.at(-1) as DraftRow, cells);
    } else continue;
    bottom = line.box[3];
  }
  return drafts.map((draft) => rowFrom(draft, body.columns, locale));
}

interface RowStarts {
  readonly lines: ReadonlySet<Line>;
  readonly cells: ReadonlyMap<Line, Cells>;
}

/**
 * The lines on which a row begins: the once-column is filled and fits, and the line fills half of the columns that the rows of
 * this table usually fill, two of them with figures where rows have several. A subtotal, a remark or a footer fills one at most.
 */
function rowStarts(body: Body, settings: TableSettings, locale: LocaleHints): RowStarts {
  const cells = new Map(body.lines.map((line) => [line, cellsOf(line, body.columns)]));
  const candidates = [...cells].filter(([, of]) => startsRow(of, settings, locale)).map(([line, of]) => ({ line, filled: [...of].filter(([column, words]) => !isTyped(column) || fits(column, words, locale)).map(([column]) => column) }));
  const usual = body.columns.filter(isNamed).filter((column) => candidates.filter(({ filled }) => filled.includes(column)).length >= USUAL_SHARE * candidates.length);
  const typed = usual.filter(isTyped);
  const shared = (of: readonly NamedColumn[], filled: readonly NamedColumn[]): number => of.filter((column) => filled.includes(column)).length;
  const kept = candidates.filter(({ filled }) => (typed.length < 2 || shared(typed, filled) >= Math.min(2, typed.length - 1)) && (typed.length > 0 ? shared(usual, filled) >= usual.length / 2 : shared(usual, filled) > usual.length / 2));
  return { lines: new Set(kept.map(({ line }) => line)), cells };
}

/** A column that at least this share of the rows fill is one that a row usually fills. */
const USUAL_SHARE = 0.6;

const isTyped = (column: NamedColumn): boolean => column.definition.type !== 'text' && column.definition.type !== 'choice';

function cellsOf(line: Line, columns: readonly Column[]): Cells {
  const cells = new Map<NamedColumn, Word[]>();
  for (const word of line.words) {
    const column = columns.find((candidate) => centreX(word.box) >= candidate.from && centreX(word.box) < candidate.to);
    if (column && isNamed(column)) cells.set(column, [...(cells.get(column) ?? []), word]);
  }
  return cells;
}

const fits = (column: NamedColumn, words: readonly Word[], locale: LocaleHints): boolean => normaliseWords(column.definition, words, locale).ok;
const isFigure = (column: NamedColumn): boolean => column.definition.type === 'money' || column.definition.type === 'number';

/**
 * The once-column decides; where its figure is damaged or was not recognised, two other figures on the line still count, or a number
 * of the item beside a text, so that no row is lost.
 */
function startsRow(cells: Cells, settings: TableSettings, locale: LocaleHints): boolean {
  const once = [...cells].find(([column]) => column.definition.key === settings.once);
  if (once && fits(once[0], once[1], locale)) return true;
  const fitting = [...cells].filter(([column, words]) => isTyped(column) && fits(column, words, locale));
  return fitting.filter(([column]) => isFigure(column)).length >= 2 || (cells.size >= 2 && fitting.some(([column, words]) => !isFigure(column) && /\d/.test(textOf(words))));
}

const onlyText = (cells: Cells): boolean => cells.size > 0 && [...cells.keys()].every((column) => column.definition.type === 'text');

/** "28 January" with "2026" under it: a date that a narrow column has broken. */
function completesDate(draft: DraftRow, cells: Cells, locale: LocaleHints): boolean {
  const typed = [...cells].filter(([column]) => isTyped(column));
  return typed.length > 0 && typed.every(([column, words]) => column.definition.type === 'date' && !fits(column, draft.cells.get(column) ?? [], locale) && fits(column, [...(draft.cells.get(column) ?? []), ...words], locale));
}

function append(draft: DraftRow, cells: Cells): void {
  for (const [column, words] of cells) draft.cells.set(column, [...(draft.cells.get(column) ?? []), ...words]);
  draft.wrapped = true;
}

function prepend(draft: DraftRow, cells: Cells): void {
  for (const [column, words] of cells) draft.cells.set(column, [...words, ...(draft.cells.get(column) ?? [])]);
  draft.wrapped = true;
}

function rowFrom(draft: DraftRow, columns: readonly Column[], locale: LocaleHints): Row {
  return Object.fromEntries(columns.filter(isNamed).map((column) => [column.definition.key, cellFrom(draft, column, locale)]));
}

function cellFrom(draft: DraftRow, column: NamedColumn, locale: LocaleHints): Reading {
  const words = draft.cells.get(column) ?? [];
  if (words.length === 0) return NOTHING_READ;
  const text = textOf(words);
  const fit = normaliseWords(column.definition, words, locale);
  const evidence: Evidence[] = [
    { what: `heading matches ${Math.round(column.likeness * 100)} %`, factor: Math.max(0.9, column.likeness) },
    { what: fit.ok ? `fits the type ${column.definition.type}` : fit.why, factor: fit.ok ? 0.99 : 0.2 },
    { what: column.clear ? 'the column stands clear of its neighbours' : 'words reach over the edge of the column', factor: column.clear ? 0.99 : 0.75 },
  ];
  if (fit.mended) evidence.push({ what: 'letters stood where figures belong', factor: 0.75 });
  evidence.push(...surenessOf(words));
  if (draft.wrapped && column.definition.type === 'text') evidence.push({ what: 'joined from wrapped lines', factor: 0.98 });
  return {
    text,
    value: fit.ok ? fit.value : null,
    place: { page: draft.page, box: unionOf(words.map((word) => word.box)) },
    anchor: null,
    reader: 'table',
    confidence: confidenceOf(evidence),
    evidence,
    ...(fit.ok ? {} : { problem: fit.why }),
  };
}

function bandsOf(body: Body): ColumnBand[] {
  const bottom = body.lines.at(-1)?.box[3] ?? body.top;
  const all = body.lines.flatMap((line) => line.words.map((word) => word.box));
  if (all.length === 0) return [];
  const edges = unionOf(all);
  return body.columns.filter(isNamed).map((column) => ({
    column: column.definition.key,
    page: body.page,
    box: [Math.max(column.from, edges[0] - 3), body.top, Math.min(column.to, edges[2] + 3), bottom],
  }));
}
