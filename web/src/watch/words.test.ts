import { expect, it } from 'vitest';
import { wide, wordsPlace } from './words';

const words = 'web-3 over 80 % ≈ 14:05';
const [now, edge] = [800, 1200];

it.each([
  ['right of its mark', 900, now, { x: 911, textAnchor: 'start' }],
  ['before it at the edge', 1190, now, { x: 1179, textAnchor: 'end' }],
  ['not over the words of a rung', 900, 1100, null],
  ['nowhere, where the future is as narrow as on a fortnight', 1190, 1130, null],
])('words stand %s', (_, mark, begins, expected) => expect(wordsPlace(mark, words, begins, edge)).toEqual(expected));

it('never begin left of now, nor reach beyond the edge, nor lie over their mark', () => {
  for (let begins = 100; begins < 1200; begins += 37) {
    for (let mark = begins - 20; mark < 1200; mark += 11) {
      const place = wordsPlace(mark, words, begins, edge);
      if (!place) continue;
      const [left, right] = place.textAnchor === 'start' ? [place.x, place.x + wide(words)] : [place.x - wide(words), place.x];
      expect(left).toBeGreaterThanOrEqual(begins);
      expect(right).toBeLessThan(edge);
      expect(left > mark || right < mark).toBe(true);
    }
  }
});
