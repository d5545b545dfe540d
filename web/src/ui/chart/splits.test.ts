import { describe, expect, it } from 'vitest';
import { niceSplits } from './splits';

describe('numbers along an axis', () => {
  it.each([
    ['plain', 0, 100, '', [0, 20, 40, 60, 80, 100]],
    ['shares', 0, 1, 'ratio', [0, 0.2, 0.4, 0.6, 0.8, 1]],
    ['below and above zero', -30, 30, '', [-20, 0, 20]],
    ['bytes by powers of two', 0, 4 * 1024 ** 3, 'bytes', [0, 1, 2, 3, 4].map((n) => n * 1024 ** 3)],
    ['minutes of seconds', 0, 900, 'seconds', [0, 300, 600, 900]],
    ['days of seconds', 0, 5 * 86_400, 'seconds', [0, 1, 2, 3, 4, 5].map((n) => n * 86_400)],
    ['milliseconds', 0, 0.05, 'seconds', [0, 0.01, 0.02, 0.03, 0.04, 0.05]],
    ['a line that never moves', 7, 7, '', [7]],
  ])('%s', (_, low, high, unit, splits) => {
    const found = niceSplits(low, high, unit);
    expect(found).toHaveLength(splits.length);
    found.forEach((value, i) => expect(value).toBeCloseTo(splits[i]!, 9));
  });

  it('are few, even and within, whatever the range', () => {
    let seed = 1;
    const chance = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
    for (let i = 0; i < 2_000; i++) {
      const low = (chance() - 0.5) * 10 ** (chance() * 24 - 9);
      const high = low + Math.abs(low) * 1e-6 + 10 ** (chance() * 24 - 9);
      const unit = ['', 'bytes', 'seconds', 'ratio', 'bytes per second'][Math.floor(chance() * 5)]!;
      const found = niceSplits(low, high, unit);
      const range = high - low;
      expect(found.length, `${low} to ${high} ${unit}`).toBeLessThanOrEqual(11);
      for (const value of found) {
        expect(value).toBeGreaterThanOrEqual(low - range * 1e-6);
        expect(value).toBeLessThanOrEqual(high + range * 1e-6);
      }
      const steps = found.slice(1).map((value, k) => value - found[k]!);
      for (const step of steps) expect(Math.abs(step - steps[0]!)).toBeLessThanOrEqual(range * 1e-6);
    }
  });
});
