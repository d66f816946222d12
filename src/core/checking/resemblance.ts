import type { Page } from '@/core/page/page';

/** Hashes kept per document. With sixteen, a share of 0.9 is told from 0.7 in about 95 of 100 cases. */
export const PRINT_PARTS = 16;

/**
 * A short print of a document's text, by which nearly the same texts are found: the smallest of each of sixteen hashes over
 * pairs of neighbouring words that hold a figure (MinHash, Broder 1997). Words without figures are the layout's and make all of its papers
 * alike. Empty for pages with hardly any figures.
 */
export function printOf(pages: readonly Page[]): readonly string[] {
  const words = pages.flatMap((page) => page.words.map((word) => word.text)).filter((text) => /\d/.test(text)).map((text) => text.replace(/[^\p{L}\p{N}]/gu, '').toLowerCase()).filter((text) => text.length > 1);
  const parts = [...new Set(words.map((word, index) => `${word} ${words[index + 1] ?? ''}`))];
  if (parts.length < 6) return [];
  const bases = parts.map(hashOf);
  return Array.from({ length: PRINT_PARTS }, (_, which) => `${which}:${Math.min(...bases.map((base) => mixed(base, which))).toString(36)}`);
}

/** Share of prints that are the same: an estimate of how many of all parts of both texts are in both (Jaccard's index). */
export const resemblance = (shared: number): number => shared / PRINT_PARTS;

/** FNV-1a, 32 bits. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let at = 0; at < text.length; at += 1) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193);
  return hash >>> 0;
}

/** One of many hashes from a base (the finaliser of MurmurHash3). */
function mixed(base: number, which: number): number {
  let hash = base ^ Math.imul(which + 1, 0x9e3779b1);
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}
