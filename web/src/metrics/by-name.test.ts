import { describe, expect, it } from 'vitest';
import { byName, isUsable } from './by-name';

describe('rows by name', () => {
  it.each<[string, string[], (string | undefined)[], string[]]>([
    [
      'one used in another',
      ['messaging_queue_depth', 'depth / 60'],
      ['depth', undefined],
      ['messaging_queue_depth', '(messaging_queue_depth) / 60'],
    ],
    [
      'one over another over a third',
      ['a_total', 'rate(x, 5m)', 'y * 2'],
      ['x', 'y', undefined],
      ['a_total', 'rate((a_total), 5m)', '(rate((a_total), 5m)) * 2'],
    ],
    ['a later row used by an earlier one', ['late + 1', 'a_total'], [undefined, 'late'], ['(a_total) + 1', 'a_total']],
    [
      'not in quotes',
      ['a_total', 'b_total where site = "depth"'],
      ['depth', undefined],
      ['a_total', 'b_total where site = "depth"'],
    ],
    [
      'not where a label stands',
      ['a_total', 'sum(b_total where depth = "1" and host like "x") per depth, host'],
      ['depth', 'host'],
      ['a_total', 'sum(b_total where depth = "1" and host like "x") per depth, host'],
    ],
    ['not where a function stands', ['a_total', 'rate(b_total, 5m)'], ['rate', undefined], ['a_total', 'rate(b_total, 5m)']],
    ['nor a part of a longer name', ['a_total', 'depth_max'], ['depth', undefined], ['a_total', 'depth_max']],
    ['one that leads back to itself', ['y + 1', 'x + 1'], ['x', 'y'], ['(x + 1) + 1', '(y + 1) + 1']],
    [
      'a name of several words is for the eye alone',
      ['a_total', 'all of them'],
      ['all of them', undefined],
      ['a_total', 'all of them'],
    ],
  ])('%s', (_, formulas, names, expected) => expect(byName(formulas, names)).toEqual(expected));

  it.each([
    ['depth', true],
    ['Depth_2', true],
    ['2nd', false],
    ['per', false],
    ['all of them', false],
    ['', false],
  ])('%s', (name, usable) => expect(isUsable(name)).toBe(usable));
});
