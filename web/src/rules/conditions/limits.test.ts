import { describe, expect, it } from 'vitest';
import { type Limited, clearWords, followed, limitWords, turned } from './limits';

const above: Limited = {
  side: 'above',
  limits: [
    { severity: 'critical', limit: 1_200, to: null },
    { severity: 'major', limit: 400, to: null },
  ],
  clear: 300,
};

describe('the clear limit', () => {
  it.each([
    [800, 600],
    [0, 0],
    [-40, -30],
    [NaN, null],
  ])('follows a limit of %s to %s', (limit, clear) => expect(followed(above, limit)).toBe(clear));
  it('stays where there is no proportion', () => {
    expect(followed({ ...above, limits: [{ severity: 'major', limit: 0 }] }, 5)).toBeNull();
    expect(followed({ ...above, side: 'inside' }, 5)).toBeNull();
  });
});

describe('limits turned to another side', () => {
  it('go along with their clear limit and what is graver', () => {
    const below = turned(above, 'below');
    expect(below.clear).toBe(500);
    expect(below.limits.map(({ severity, limit }) => [severity, limit])).toEqual([
      ['major', 400],
      ['critical', -400],
    ]);
    expect(turned(below, 'above').limits.map((one) => one.limit)).toEqual([400, 1_200]);
    expect(turned(below, 'above').clear).toBe(300);
  });

  it('become a range that the clear limits fit, and back', () => {
    for (const side of ['outside', 'inside'] as const) {
      const range = turned(above, side);
      const [first] = range.limits;
      expect(range.limits).toHaveLength(1);
      expect(first!.to!).toBeGreaterThan(first!.limit);
      expect([range.clear, range.clearTo]).toEqual([first!.limit, first!.to]);
      expect(turned(range, 'above').clearTo).toBeNull();
    }
  });

  it('stay as they are on the side they are on', () => expect(turned(above, 'above')).toBe(above));
});

describe('limits in words', () => {
  it.each<[Limited, string, string]>([
    [above, 'above 400', 'at or below 300'],
    [{ side: 'below', limits: [{ severity: 'minor', limit: 5 }], clear: 6 }, 'below 5', 'at or above 6'],
    [
      { side: 'outside', limits: [{ severity: 'minor', limit: 2, to: 8 }], clear: 3, clearTo: 7 },
      'outside 2 to 8',
      'within 3 to 7',
    ],
    [
      { side: 'inside', limits: [{ severity: 'minor', limit: 2, to: 8 }], clear: 1, clearTo: 9 },
      'inside 2 to 8',
      'not within 1 to 9',
    ],
  ])('%j', (of, past, back) => {
    expect(limitWords(of.side, of.limits.at(-1)!, '')).toBe(past);
    expect(clearWords(of, '')).toBe(back);
  });
});
