'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Review } from '@/contracts/api';
import { checkDocument } from '@/core/checking/check';
import { doubtsOf, type Doubt } from '@/core/checking/trust';
import type { Box, Word } from '@/core/page/page';
import { confirmed, fieldAt, filledDown, typedReading, valuesByLine, withAmountFor, withReading } from '@/core/reading/edit';
import { withRowOf } from '@/core/reading/fill';
import type { KindDefinition } from '@/core/reading/kind';
import type { Lists } from '@/core/list/list';
import { readingAt, type Reading, type Readings, type ValuePath } from '@/core/reading/reading';
import { PLAIN_LOCALE } from '@/core/value/normalise';
import { unionOf } from '@/core/page/page';
import { textOf } from '@/core/page/lines';
import { ask } from '../api';

/** Lists too long to be sent are looked into by the server, when the document is accepted. */
const checkable = (kind: KindDefinition, lists: Lists): KindDefinition => ({ ...kind, checks: kind.checks.filter((check) => check.check !== 'in-list' || lists.has(check.list)) });

/** A draft is kept after this rest, ms. */
const REST_MS = 800;

export type Saving = 'kept' | 'keeping' | 'not kept';

/** The clerk's work on one document: values, what is looked at, and a draft that keeps itself. */
export function useReview(review: Review, onTrouble: (error: unknown) => void) {
  const { kind, reading, pages } = review;
  const [readings, setReadings] = useState<Readings>(review.readings);
  const [active, setActive] = useState<ValuePath | null>(review.doubts[0]?.path ?? null);
  const [looked, setLooked] = useState<ReadonlySet<ValuePath>>(new Set());
  const locale = useMemo(() => kind.layouts.find((layout) => layout.key === reading.layout)?.locale ?? PLAIN_LOCALE, [kind, reading]);
  const lists = useMemo(() => new Map(review.elsewhere.lists.map((list) => [list.key, list])), [review.elsewhere]);
  const findings = useMemo(() => checkDocument({ kind: checkable(kind, lists), layout: reading.layout, readings, pages, earlier: review.elsewhere.earlier, lists }), [kind, reading.layout, readings, pages, review.elsewhere, lists]);
  const doubts = useMemo(() => doubtsOf(kind, readings, findings), [kind, readings, findings]);
  const draft = useDraft(review, readings, onTrouble);

  const put = useCallback((path: ValuePath, next: Reading) => {
    setReadings((before) => withRowOf(kind, withAmountFor(kind, withReading(before, path, next), path), path, lists));
    setLooked((before) => new Set(before).add(path));
  }, [kind, lists]);

  const confirm = useCallback((path: ValuePath) => {
    setReadings((before) => {
      const current = readingAt(before, path);
      return current && current.reader !== 'person' && current.problem === undefined ? withReading(before, path, confirmed(current)) : before;
    });
    setLooked((before) => new Set(before).add(path));
  }, []);

  /** Words clicked or dragged over go to the active value; over several lines of a table they fill the column downwards. */
  const pick = useCallback((where: { readonly page: number; readonly box: Box; readonly words: readonly Word[] }) => {
    const field = active === null ? null : fieldAt(kind, active);
    if (active === null || !field || where.words.length === 0) return;
    const [tableKey, row] = active.split('.');
    const table = row === undefined ? undefined : kind.tables.find((candidate) => candidate.key === tableKey);
    const lines = valuesByLine(where.words, where.page);
    if (table && field.type !== 'text' && lines.length > 1) setReadings((before) => filledDown(before, table, { row: Number(row), column: field }, lines, locale));
    else put(active, typedReading(field, textOf(where.words), locale, { page: where.page, box: unionOf(where.words.map((word) => word.box)) }));
  }, [active, kind, locale, put]);

  return { readings, setReadings, active, setActive, looked, locale, findings, doubts: withEarlier(review.doubts, doubts), open: doubts, put, confirm, pick, ...draft };
}

/**
 * A strip stays when its doubt is settled, so that nothing jumps away under the clerk's hands. Cells that become doubtful while the
 * table is edited are marked there and get no strip, for the same reason.
 */
function withEarlier(first: readonly Doubt[], now: readonly Doubt[]): Doubt[] {
  return [...first, ...now.filter((doubt) => !doubt.path.includes('.') && !first.some((earlier) => earlier.path === doubt.path))];
}

function useDraft(review: Review, readings: Readings, onTrouble: (error: unknown) => void) {
  const revision = useRef(review.task.revision);
  const kept = useRef(review.readings);
  const queue = useRef<Promise<void>>(Promise.resolve());
  // What is kept after a decision would be refused: the document is no longer open.
  const decided = useRef(false);
  const [saving, setSaving] = useState<Saving>('kept');

  const keep = useCallback((work: Readings): Promise<void> => {
    queue.current = queue.current.then(async () => {
      if (kept.current === work) return;
      setSaving('keeping');
      try {
        const answer = await ask<{ revision: number }>(`/tasks/${review.task.id}/draft`, { method: 'PUT', body: { revision: revision.current, readings: work } });
        revision.current = answer.revision;
        kept.current = work;
        setSaving('kept');
      } catch (error) {
        setSaving('not kept');
        onTrouble(error);
      }
    });
    return queue.current;
  }, [review.task.id, onTrouble]);

  useEffect(() => {
    if (readings === kept.current) return;
    const timer = setTimeout(() => {
      if (!decided.current) void keep(readings);
    }, REST_MS);
    return () => clearTimeout(timer);
  }, [readings, keep]);

  /** The revision to decide on, with everything up to now kept. Nothing more is kept, unless the decision is not taken. */
  const settled = useCallback(async () => {
    decided.current = true;
    await keep(readings);
    return revision.current;
  }, [keep, readings]);
  const undecided = useCallback(() => {
    decided.current = false;
  }, []);
  return { saving, settled, undecided };
}

export type ReviewWork = ReturnType<typeof useReview>;
