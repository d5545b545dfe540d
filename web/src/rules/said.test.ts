import { describe, expect, test } from 'vitest';
import type { SaidFormula } from '../api/types';
import { acrossWords, filterWords, testOf, windowWords, written } from './said';

const plain: SaidFormula = { across: null, metric: 'queue_depth', per: [], reducer: null, tests: [], windowSeconds: 0 };

describe('a formula that can be said', () => {
  test.each<[string, SaidFormula]>([
    ['queue_depth', plain],
    ['mean(queue_depth, 5m)', { ...plain, reducer: 'mean', windowSeconds: 300 }],
    [
      'sum(rate(queue_depth where queue = "boarding" and not site = "skarn", 1h30m)) per broker, site',
      {
        ...plain,
        across: 'sum',
        per: ['broker', 'site'],
        reducer: 'rate',
        tests: ['queue = "boarding"', 'not site = "skarn"'],
        windowSeconds: 5_400,
      },
    ],
    ['max(`odd name`) per `of list`', { ...plain, metric: 'odd name', across: 'max', per: ['of list'] }],
  ])('is written as %s', (formula, said) => {
    expect(written(said)).toBe(formula);
  });

  test('is said', () => {
    expect(windowWords(plain)).toBe('last reading');
    expect(windowWords({ ...plain, reducer: 'max', windowSeconds: 300 })).toBe('highest over 5\u00a0min');
    expect(filterWords(['queue = "boarding"', 'site != "skarn"', 'host like "web-*"'])).toBe(
      'queue is boarding and site is not skarn and host like "web-*"',
    );
    expect(acrossWords({ ...plain, across: 'sum', per: ['broker'] })).toBe('the sum per broker');
    expect(acrossWords({ ...plain, across: 'max' })).toBe('the highest of all');
  });

  test('keeps quotes of values apart', () => {
    expect(testOf('queue', 'a "b" \\c')).toBe('queue = "a \\"b\\" \\\\c"');
  });
});
