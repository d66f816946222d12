/** Letters of a value that are shown where there is little room. */
const MOST_LETTERS = 160;

/** A value for a glimpse: records that a service gave are counted, and what is long is clipped. */
export function glimpseOf(value: string, most = MOST_LETTERS): string {
  const records = recordsIn(value);
  if (records !== null) return `${records} ${records === 1 ? 'record' : 'records'}`;
  return value.length > most ? `${value.slice(0, most)} …` : value;
}

/** How many records a value holds; null where it is no list of them. */
function recordsIn(value: string): number | null {
  if (!/^\s*\[\s*[{\]]/.test(value)) return null;
  try {
    const list: unknown = JSON.parse(value);
    return Array.isArray(list) && list.every((item) => typeof item === 'object' && item !== null) ? list.length : null;
  } catch {
    return null;
  }
}
