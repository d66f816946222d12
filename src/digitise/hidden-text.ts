import type { Word } from '@/core/page/page';

const plain = (text: string): string => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** Share of the words of a hidden text layer that were recognised in the picture too, wherever they stand; 0..1. */
export function agreement(hidden: readonly Word[], recognised: readonly Word[]): number {
  const left = new Map<string, number>();
  for (const word of recognised) left.set(plain(word.text), (left.get(plain(word.text)) ?? 0) + 1);
  const telling = hidden.map((word) => plain(word.text)).filter((text) => text.length > 1);
  const found = telling.filter((text) => {
    const count = left.get(text) ?? 0;
    left.set(text, count - 1);
    return count > 0;
  });
  return telling.length === 0 ? 0 : found.length / telling.length;
}
