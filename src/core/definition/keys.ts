/** A key made of a name: lower-case letters, figures and hyphens, beginning with a letter. */
export const keyFrom = (name: string, fallback: string): string => name.toLowerCase().normalize('NFD').replace(/\p{M}/gu, '').replace(/[^a-z0-9]+/g, '-').replace(/^[^a-z]+|-+$/g, '').slice(0, 50) || fallback;
