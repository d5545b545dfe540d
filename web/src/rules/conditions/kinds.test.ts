import { describe, expect, it } from 'vitest';
import type { ConditionFields, DepartureFields } from '../../api/types';
import { heldAgainst } from './departure';
import { type Kind, VERBS, limitedOf, severityOf, started, withLimited, withSeverity } from './kinds';

const KINDS = Object.keys(VERBS) as Kind[];
const from: ConditionFields = { kind: 'threshold', side: 'above', limits: [{ severity: 'major', limit: 400 }], clear: 300 };

describe('a condition of another kind', () => {
  it('is as grave as the one before, whichever they are', () => {
    for (const kind of KINDS) {
      const condition = started(kind, from);
      expect(condition.kind).toBe(kind);
      expect(severityOf(condition)).toBe('major');
      for (const other of KINDS) expect(severityOf(started(other, condition)), `${kind} to ${other}`).toBe('major');
    }
  });

  it('keeps limits where they mean the same', () => {
    const forecast = started('forecast', from);
    expect(limitedOf(forecast)).toMatchObject({ side: 'above', limits: [{ severity: 'major', limit: 400 }], clear: 300 });
    expect(started('threshold', forecast)).toMatchObject(from);
    const range: ConditionFields = { ...from, side: 'outside', limits: [{ severity: 'major', limit: 1, to: 9 }], clearTo: 8 };
    expect(limitedOf(started('forecast', range))?.side).toBe('above');
  });

  it('is laid together from its limits as it was taken apart', () => {
    for (const kind of KINDS) {
      const condition = started(kind, from);
      const limited = limitedOf(condition);
      expect(limited ? withLimited(condition, limited) : condition).toEqual({
        ...condition,
        ...(kind === 'threshold' && { clearTo: undefined }),
      });
      expect(severityOf(withSeverity(condition, 'warning'))).toBe('warning');
    }
  });
});

describe('a departure that is held against something else', () => {
  const DAY = 86_400;
  const departure = started('departure', from) as DepartureFields;

  it.each([
    ['same_weekday', 14, 28],
    ['same_weekday', 21, 21],
    ['same_weekday', 35, 35],
    ['same_hour', 14, 14],
    ['median', 1, 1],
  ] as const)('looks back on enough of %s: %d d become %d d', (against, before, after) => {
    const held = heldAgainst({ ...departure, spanSeconds: before * DAY }, against);
    expect([held.from, held.spanSeconds]).toEqual([against, after * DAY]);
  });
});
