/** The same object without one of its members; a part that is left out is not there at all. */
export const without = <T extends object, K extends keyof T>(from: T, member: K): Omit<T, K> => Object.fromEntries(Object.entries(from).filter(([name]) => name !== member)) as Omit<T, K>;
