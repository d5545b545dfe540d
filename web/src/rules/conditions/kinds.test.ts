import { describe, expect, it } from 'vitest';
import type { ConditionFields } from '../../api/types';
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
