/** A list with one item put in place of another, or left out. */
export const put = <T>(list: readonly T[], index: number, item: T): T[] => list.map((old, at) => (at === index ? item : old));
export const drop = <T>(list: readonly T[], index: number): T[] => list.filter((_, at) => at !== index);
