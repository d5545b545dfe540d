import { expect, it } from 'vitest';
import { placeFor } from './places';

const within = { left: 0, top: 0, right: 800, bottom: 300 };
const words = { width: 120, height: 14, gap: 4, margin: 6, line: 150 };
const flat = (at: number) => () => [at];

it.each([
  ['above its line at the left, where nothing runs', 150, flat(20), [], { left: 6, top: 132 }],
  ['below it, where the curve runs above', 150, flat(140), [], { left: 6, top: 154 }],
  ['below it, where there is no room above', 8, flat(200), [], { left: 6, top: 12 }],
  [
    'at the right, where the curve is at the left',
    150,
    (from: number) => (from < 500 ? [140, 160] : [20]),
    [],
    { left: 674, top: 132 },
  ],
  ['away from other words', 150, flat(20), [{ left: 0, top: 130, right: 200, bottom: 145 }], { left: 6, top: 154 }],
])('stands %s', (_, line, heights, taken, expected) => {
  expect(placeFor({ ...words, line }, within, taken, heights)).toMatchObject(expected);
});
