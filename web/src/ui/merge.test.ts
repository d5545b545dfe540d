import { describe, expect, it } from 'vitest';
import { differences, merged } from './merge';

const was = { name: 'Queue', limit: 400, hold: 60, labels: { site: 'skarn' } };

describe('two who change the same', () => {
  it.each([
    [
      'other fields',
      { ...was, limit: 500 },
      { ...was, hold: 120 },
      [
        ['limit', 'them'],
        ['hold', 'me'],
      ],
      { ...was, limit: 500, hold: 120 },
    ],
    ['the same field', { ...was, limit: 500 }, { ...was, limit: 300 }, [['limit', 'both']], { ...was, limit: 300 }],
    ['the same field to the same', { ...was, limit: 500 }, { ...was, limit: 500 }, [], { ...was, limit: 500 }],
    [
      'what is inside a field',
      { ...was, labels: { site: 'greyhaven' } },
      was,
      [['labels', 'them']],
      { ...was, labels: { site: 'greyhaven' } },
    ],
  ])('%s', (_, theirs, mine, expected, result) => {
    const found = differences(was, theirs, mine);
    expect(found.map((one) => [one.field, one.by])).toEqual(expected);
    expect(merged(theirs, mine, found, new Set(found.filter((one) => one.by !== 'them').map((one) => one.field)))).toEqual(
      result,
    );
  });
});
