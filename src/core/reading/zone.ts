import type { Line } from '@/core/page/lines';
import { textOf } from '@/core/page/lines';
import { centreX, centreY, unionOf, type Box } from '@/core/page/page';
import { applied, type Registration } from '@/core/page/register';
import type { LocaleHints } from '@/core/value/normalise';
import { normaliseWords, type FieldDefinition, type ZoneSettings } from './kind';
import { confidenceOf, surenessOf, type Evidence, type Reading } from './reading';

/** What stands in a rectangle of the layout, after the page has been laid over the layout. */
export function readByZone(lines: readonly Line[], settings: ZoneSettings, field: FieldDefinition, locale: LocaleHints, registrations: ReadonlyMap<number, Registration>): Reading[] {
  return [...new Set(lines.map((line) => line.page))].flatMap((page) => {
    const registration = registrations.get(page);
    if (!registration) return [];
    const box = applied(registration, settings.box);
    const inside = lines.filter((line) => line.page === page).flatMap((line) => line.words.filter((word) => contains(box, word.box)));
    if (inside.length === 0) return [];
    const text = textOf(inside);
    const fit = normaliseWords(field, inside, locale);
    const evidence: Evidence[] = [
      { what: `the page lies over its layout by ${registration.matched} words, ${registration.error.toFixed(1)} points off`, factor: registration.error < 4 ? 0.98 : 0.85 },
      { what: fit.ok ? `fits the type ${field.type}` : fit.why, factor: fit.ok ? 0.98 : 0.2 },
      ...surenessOf(inside),
    ];
    return [{ text, value: fit.ok ? fit.value : null, place: { page, box: unionOf(inside.map((word) => word.box)) }, anchor: null, reader: 'zone' as const, confidence: confidenceOf(evidence), evidence, ...(fit.ok ? {} : { problem: fit.why }) }];
  });
}

const contains = (box: Box, word: Box): boolean => centreX(word) >= box[0] && centreX(word) <= box[2] && centreY(word) >= box[1] && centreY(word) <= box[3];
