import { RE2JS } from 're2js';
import { unionOf, type Word } from '@/core/page/page';
import type { Line } from '@/core/page/lines';
import type { LocaleHints } from '@/core/value/normalise';
import { normaliseWords, type FieldDefinition, type PatternSettings } from './kind';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

/** More matches than this in one document say that the pattern is no pattern. */
const MOST_MATCHES = 200;

/** What is wrong with a pattern, or null. Back-references and look-arounds are refused: they cannot be run in linear time. */
export function patternProblem(settings: Pick<PatternSettings, 'pattern' | 'after' | 'before'>): string | null {
  if (settings.pattern === undefined && !settings.after && !settings.before) return 'A pattern reader needs a pattern, or the words between which the value stands';
  try {
    compiled(settings);
    return null;
  } catch (error) {
    return `The pattern “${settings.pattern ?? ''}” cannot be used: ${(error as Error).message}`;
  }
}

/** "Between this and that" is a pattern that nobody has to write: the texts are quoted, blanks may be any number. */
function compiled({ pattern, after, before }: Pick<PatternSettings, 'pattern' | 'after' | 'before'>): RE2JS {
  if (pattern !== undefined) return RE2JS.compile(pattern);
  const quoted = (text: string) => text.trim().split(/\s+/).map((word) => RE2JS.quote(word)).join('\\s+');
  return RE2JS.compile(`(?i)${after ? `${quoted(after)}[\\s:]*` : '^\\s*'}(\\S.*?)${before ? `\\s*${quoted(before)}` : '\\s*$'}`);
}

/**
 * Values by a linear-time regular expression, line by line (RE2: Cox, “Regular Expression Matching Can Be Simple And Fast”, 2007).
 * The first group, or the whole match, is the value; its place is the words it touches.
 */
export function readByPattern(lines: readonly Line[], settings: PatternSettings, field: FieldDefinition, locale: LocaleHints): Reading[] {
  const pattern = compiled(settings);
  const matches = lines.flatMap((line) => matchesOn(line, pattern)).slice(0, MOST_MATCHES);
  const values = new Set(matches.map((match) => match.text));
  return matches.map((match) => readingFrom(match, values.size, field, locale)).sort((a, b) => b.confidence - a.confidence);
}

interface Match {
  readonly line: Line;
  readonly text: string;
  readonly words: readonly Word[];
}

function matchesOn(line: Line, pattern: RE2JS): Match[] {
  const matcher = pattern.matcher(line.text);
  const found: Match[] = [];
  while (found.length < MOST_MATCHES && matcher.find()) {
    const group = matcher.groupCount() > 0 && matcher.group(1) !== null ? 1 : 0;
    const [start, end] = [matcher.start(group), matcher.end(group)];
    const words = wordsBetween(line, start, end);
    if (end > start && words.length > 0) found.push({ line, text: line.text.slice(start, end), words });
  }
  return found;
}

/** Words of a line that the characters from `start` up to `end` of its text touch. */
function wordsBetween(line: Line, start: number, end: number): Word[] {
  let at = 0;
  return line.words.filter((word) => {
    const [from, to] = [at, at + word.text.length];
    at = to + 1;
    return to > start && from < end;
  });
}

function readingFrom(match: Match, distinct: number, field: FieldDefinition, locale: LocaleHints): Reading {
  const fit = normaliseWords(field, match.words, locale, match.text);
  const evidence: Evidence[] = [
    { what: 'the pattern matches', factor: 0.98 },
    { what: fit.ok ? `fits the type ${field.type}` : fit.why, factor: fit.ok ? 0.995 : 0.2 },
    ...(fit.mended ? [{ what: 'letters stood where figures belong', factor: 0.75 }] : []),
    ...surenessOf(match.words),
  ];
  if (distinct > 1) evidence.push({ what: `the pattern matches ${distinct} different texts`, factor: 1 / (1 + 0.3 * (distinct - 1)) });
  return {
    text: match.text,
    value: fit.ok ? fit.value : null,
    place: { page: match.line.page, box: unionOf(match.words.map((word) => word.box)) },
    anchor: null,
    reader: 'pattern',
    confidence: confidenceOf(evidence),
    evidence,
    ...(fit.ok ? {} : { problem: fit.why }),
  };
}
