import { describe, expect, it } from 'vitest';
import { distances, distribution, oddOne, quantile, shareAbove, stacked } from './statistics';

describe('quantile', () => {
  it('interpolates between ranks (type 7)', () => {
    expect(quantile(0.25, [1, 2, 4, 10])).toBe(1.75);
    expect(quantile(0.5, [3])).toBe(3);
    expect(quantile(1, [1, 9])).toBe(9);
  });
});

describe('twins', () => {
  const calm = (base: number) => Array.from({ length: 60 }, (_, i) => base + Math.sin(i / 3) + (i % 5) * 0.1 * base * 0.01);
  it('names the one that went apart, and since when', () => {
    const hot = calm(40).map((value, i) => (i < 30 ? value : value + 30));
    expect(oddOne([calm(40), calm(40.5), hot, calm(39.6)])).toMatchObject({ line: 2, since: 30 });
  });
  it('names nobody among few, among equals, or where two went apart', () => {
    expect(oddOne([calm(1), calm(1), calm(90)])).toBeNull();
    expect(oddOne([calm(40), calm(40.5), calm(39.8), calm(40.2)])).toBeNull();
    expect(oddOne([calm(40), calm(40.1), calm(80), calm(90), calm(40.2)])).toBeNull();
  });
  it('measures in MADs and leaves gaps alone', () => {
    expect(distances([[1], [2], [3], [null]])[2]).toEqual([1 / 1.4826]);
    expect(distances([[1], [2], [3], [null]])[3]).toEqual([null]);
  });
});

describe('distribution', () => {
  it('counts every value once', () => {
    const found = distribution(
      [
        [1, 2, 3, null],
        [4, 100],
      ],
      10,
    )!;
    expect(found.bins.reduce((sum, count) => sum + count)).toBe(5);
    expect([found.low, found.high, found.median]).toEqual([1, 100, 3]);
    expect(distribution([[7]])).toBeNull();
    expect(distribution([[7, 7]])!.bins[0]).toBe(2);
  });
  it('says how much lies above a limit', () => {
    expect(shareAbove([[1, 2, 3, null], [4]], 2)).toBe(0.5);
  });
});

describe('stacked', () => {
  it('adds up; a gap of one adds nothing, a gap of all stays one', () => {
    expect(
      stacked([
        [1, null, null],
        [2, 3, null],
      ]),
    ).toEqual([
      [1, 0, null],
      [3, 3, null],
    ]);
  });
});
