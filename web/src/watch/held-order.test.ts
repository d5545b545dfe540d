import { expect, it } from 'vitest';
import { heldOrder } from './held-order';

it.each([
  ['a graver one arrives', [1, 2], [3, 1, 2], [1, 2, 3]],
  ['the order turns', [1, 2, 3], [3, 2, 1], [1, 2, 3]],
  ['one is resolved', [1, 2, 3], [3, 1], [1, 3]],
  ['all are new', [1], [7, 8], [7, 8]],
  ['nothing is left', [1, 2], [], []],
])('while somebody points at the list and %s', (_, shown, now, order) => expect(heldOrder(shown, now)).toEqual(order));
