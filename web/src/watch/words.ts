/** About how wide words of the size 12 are drawn, in pixels. */
export const wide = (words: string): number => words.length * 6.4;

const BESIDE = 11;
export type WordsPlace = { x: number; textAnchor: 'start' | 'end' };

/**
 * Where the words of a mark that is to come stand on its lane: right of it, or before it where they would reach beyond the edge; never left of
 * `begins`, which is now or the end of other words. Null where neither has room: the mark alone tells them then.
 */
export function wordsPlace(mark: number, words: string, begins: number, edge: number): WordsPlace | null {
  if (mark + BESIDE >= begins && mark + BESIDE + wide(words) < edge) return { x: mark + BESIDE, textAnchor: 'start' };
  return mark - BESIDE - wide(words) >= begins ? { x: mark - BESIDE, textAnchor: 'end' } : null;
}
