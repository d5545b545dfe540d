import { describe, expect, it } from 'vitest';
import { axes, looksOf } from './look';

describe('looks out of an address', () => {
  it.each([
    ['nothing', undefined, undefined],
    ['no list', 'left', undefined],
    ['only garbage', [null, 7, { hue: 'red', axis: 'top', name: ' ' }, { hue: 8 }, { hue: -1 }, { hue: 1.5 }], undefined],
    [
      'what is good of it',
      [{ hue: 3, axis: 'top' }, null, { axis: 'right', name: 'doors', script: 1 }],
      [{ hue: 3 }, {}, { axis: 'right', name: 'doors' }],
    ],
    ['a name without end', [{ name: 'x'.repeat(500) }], [{ name: 'x'.repeat(40) }]],
  ])('%s', (_, value, expected) => expect(looksOf(value)).toEqual(expected));
});

describe('axes', () => {
  it.each<[string, Parameters<typeof axes>[0], (string | undefined)[], string[]]>([
    ['one unit stands on the left', [], ['bytes', 'bytes'], ['left', 'left']],
    ['another unit goes to the right', [], ['bytes', 'ratio', 'bytes'], ['left', 'right', 'left']],
    ['what is not read yet moves nothing', [], [undefined, 'ratio'], ['left', 'left']],
    ['a choice goes before the unit', [{ axis: 'right' }, {}], ['bytes', 'ratio'], ['right', 'left']],
    ['the same unit can be set apart', [{}, { axis: 'right' }], ['bytes', 'bytes'], ['left', 'right']],
  ])('%s', (_, looks, units, expected) => expect(axes(looks, units)).toEqual(expected));
});
