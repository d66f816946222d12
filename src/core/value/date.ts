/** In which order day, month and year stand where only figures are printed. */
export type DateOrder = 'dmy' | 'mdy' | 'ymd';

/** First letters of the months in languages of the trade, without accents (Unicode CLDR, gregorian months, abbreviated). */
const MONTHS: readonly (readonly string[])[] = [
  ['jan', 'ene', 'gen'], ['feb', 'fev'], ['mar', 'mrz', 'maa', 'mrt'], ['apr', 'avr', 'abr'], ['may', 'mai', 'mei', 'mag'], ['jun', 'juin', 'giu'],
  ['jul', 'juil', 'lug'], ['aug', 'aou', 'ago'], ['sep', 'set'], ['oct', 'okt', 'ott', 'out'], ['nov'], ['dec', 'dez', 'dic'],
];
const FIGURES = /^(\d{1,4})[./\-\s](\d{1,2})[./\-\s](\d{1,4})$/;
const DAY_FIRST = /^(?:[a-z]+,?\s+)?(\d{1,2})(?:st|nd|rd|th|er)?[\s.\-/]+(?:de\s+|of\s+)?([a-z]{3,10})\.?[\s,\-/]+(?:de\s+)?(\d{2}|\d{4})$/i;
const MONTH_FIRST = /^(?:[a-z]+,\s+)?([a-z]{3,9})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/i;

/**
 * A date as printed → ISO 8601 calendar date (`YYYY-MM-DD`), or null when it is none or does not exist.
 * Four-figure years decide by themselves where the year stands; two-figure years are taken as 20xx.
 */
export function parseDate(printed: string, order: DateOrder): string | null {
  // A time of day behind the date, and accents of month names, say nothing here.
  const text = printed.normalize('NFD').replace(/\p{M}/gu, '').trim().replace(/\s+/g, ' ').replace(/[T ,]+\d{1,2}:\d{2}(?::\d{2})?(?:\.\d+)?(?:\s*(?:Z|UTC|[ap]m|[+-]\d{2}:?\d{2}))?$/i, '').replace(/^(\d{4})(\d{2})(\d{2})$/, '$1-$2-$3').replace(/(?<=\d)\s*([./-])\s*(?=\d)/g, '$1');
  const figures = FIGURES.exec(text);
  if (figures) return fromFigures([figures[1] ?? '', figures[2] ?? '', figures[3] ?? ''], order);
  const dayFirst = DAY_FIRST.exec(text);
  if (dayFirst) return isoDate(dayFirst[3], monthNumber(dayFirst[2]), dayFirst[1]);
  const monthFirst = MONTH_FIRST.exec(text);
  if (monthFirst) return isoDate(monthFirst[3], monthNumber(monthFirst[1]), monthFirst[2]);
  return null;
}

function fromFigures([a, b, c]: [string, string, string], order: DateOrder): string | null {
  if (a.length === 4) return isoDate(a, Number(b), c);
  if (a.length > 2) return null;
  if (order === 'ymd') return c.length <= 2 ? isoDate(a, Number(b), c) : isoDate(c, Number(b), a);
  return order === 'dmy' ? isoDate(c, Number(b), a) : isoDate(c, Number(a), b);
}

function monthNumber(name: string | undefined): number {
  const start = (name ?? '').toLowerCase();
  return MONTHS.findIndex((beginnings) => beginnings.some((beginning) => start.startsWith(beginning))) + 1;
}

function isoDate(year: string | undefined, month: number, day: string | undefined): string | null {
  if (year === undefined || day === undefined || (year.length !== 2 && year.length !== 4)) return null;
  const full = year.length === 2 ? 2000 + Number(year) : Number(year);
  const date = new Date(Date.UTC(full, month - 1, Number(day)));
  // A day that does not exist rolls over into the next month; then the parts no longer agree.
  if (month < 1 || date.getUTCMonth() !== month - 1 || date.getUTCDate() !== Number(day)) return null;
  return date.toISOString().slice(0, 10);
}
