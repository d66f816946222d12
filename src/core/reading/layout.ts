import type { Line } from '@/core/page/lines';
import { centreX, centreY, type Box, type Word } from '@/core/page/page';
import { LEAST_PAIRS, register, type Pair, type Registration } from '@/core/page/register';
import type { KindDefinition, LayoutDefinition, LayoutLandmark } from './kind';
import { findLandmarks, similarity } from './landmark';

/** The layout of a document, with how its pages lie over the layout, and why the others were not taken. */
export interface ChosenLayout {
  readonly layout: LayoutDefinition | null;
  readonly registrations: ReadonlyMap<number, Registration>;
  readonly misses: readonly string[];
}

/** Share of the landmarks that must stand where they stood. Addressees and other words of one paper are among those of a single sample. */
export const SHARE = 0.45;

/** The first layout whose required wordings all stand on the document; among those told by landmarks, the one that fits best. */
export function chooseLayout(lines: readonly Line[], kind: KindDefinition): ChosenLayout {
  const misses: string[] = [];
  let best: { layout: LayoutDefinition; fit: LayoutFit } | null = null;
  for (const layout of kind.layouts) {
    const missing = layout.recognise.filter((wording) => findLandmarks(lines, [wording]).length === 0);
    if (missing.length > 0) {
      misses.push(`${layout.name}: ${missing.map((wording) => `“${wording}”`).join(', ')} not found on the document`);
      continue;
    }
    const fit = fitOf(lines, layout.landmarks ?? []);
    if (layout.recognise.length > 0) return { layout, registrations: fit.registrations, misses };
    if (fit.share < SHARE) misses.push(`${layout.name}: ${Math.round(fit.share * 100)} % of its words stand where they stood in its samples, ${SHARE * 100} % are needed`);
    else if (fit.share > (best?.fit.share ?? 0)) best = { layout, fit };
  }
  return best ? { layout: best.layout, registrations: best.fit.registrations, misses } : { layout: null, registrations: new Map(), misses };
}

export interface LayoutFit {
  /** Landmarks that stand where they stood, 0..1. */
  readonly share: number;
  readonly registrations: ReadonlyMap<number, Registration>;
}

/** Lay the pages over the landmarks of a layout. */
export function fitOf(lines: readonly Line[], landmarks: readonly LayoutLandmark[]): LayoutFit {
  const registrations = new Map<number, Registration>();
  let matched = 0;
  for (const page of new Set(landmarks.map((landmark) => landmark.page))) {
    const words = lines.filter((line) => line.page === page).flatMap((line) => line.words);
    const own = landmarks.filter((landmark) => landmark.page === page);
    const registration = own.length < LEAST_PAIRS ? null : register(own.flatMap((landmark) => pairOf(landmark, words)));
    if (!registration) continue;
    registrations.set(page, registration);
    matched += registration.matched;
  }
  return { share: landmarks.length === 0 ? 0 : matched / landmarks.length, registrations };
}

/** How far a landmark may have moved on the page and still be taken for itself, points: scans are shifted by a centimetre or two. */
const STRAY = 70;
const middle = (box: Box): [number, number] => [centreX(box), centreY(box)];

function pairOf(landmark: LayoutLandmark, words: readonly Word[]): Pair[] {
  let best: { word: Word; off: number } | null = null;
  for (const word of words) {
    const off = Math.hypot(centreX(word.box) - centreX(landmark.box), centreY(word.box) - centreY(landmark.box));
    if (off < STRAY && off < (best?.off ?? Infinity) && similarity(word.text, landmark.text) >= 0.75) best = { word, off };
  }
  return best ? [{ from: middle(landmark.box), to: middle(best.word.box) }] : [];
}
