import type { Line } from '@/core/page/lines';
import { unionOf, type Word } from '@/core/page/page';
import type { FieldDefinition } from './kind';
import { findLandmarks, type Landmark } from './landmark';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

/** Marks of a box that is ticked, and of one that is not, as text layers and recognisers give them. */
const TICKED = /^(?:\[[xX✓✔]\]|\([xX✓✔]\)|[☑☒✓✔✗✘■●◉⊠⊗]|[xX])$/;
const EMPTY = /^(?:\[\s*\]?|\(\s*\)?|[☐□○◯▢]|\[_\])$/;

/** A choice or a yes/no by the box that is ticked beside its wording. */
export function readTicked(lines: readonly Line[], field: FieldDefinition, wordings: readonly string[]): Reading[] {
  if (field.type === 'yes-no') return tickedBeside(lines, wordings).map(({ landmark, mark, ticked }) => readingFrom(ticked ? 'yes' : 'no', landmark, mark));
  return (field.options ?? []).flatMap((option) => tickedBeside(lines, [option]).filter((found) => found.ticked).map(({ landmark, mark }) => readingFrom(option, landmark, mark)));
}

function tickedBeside(lines: readonly Line[], wordings: readonly string[]): { landmark: Landmark; mark: Word; ticked: boolean }[] {
  return findLandmarks(lines, wordings).flatMap((landmark) => {
    const { words } = landmark.line;
    const start = landmark.after - landmark.phrase.words.length;
    // The box stands before its wording far more often than behind it.
    const mark = [words[start - 1], words[landmark.after]].find((word) => word !== undefined && (TICKED.test(word.text) || EMPTY.test(word.text)));
    return mark ? [{ landmark, mark, ticked: TICKED.test(mark.text) }] : [];
  });
}

function readingFrom(value: string, landmark: Landmark, mark: Word): Reading {
  const evidence: Evidence[] = [{ what: `a box is marked “${mark.text}” at “${landmark.phrase.text}”`, factor: 0.97 }, { what: 'wording of the box', factor: landmark.similarity }, ...surenessOf([mark])];
  const page = landmark.line.page;
  return { text: mark.text, value, place: { page, box: unionOf([mark.box, landmark.phrase.box]) }, anchor: { page, box: landmark.phrase.box }, reader: 'described', confidence: confidenceOf(evidence), evidence };
}
