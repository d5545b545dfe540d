import { describe, expect, it } from 'vitest';
import type { Severity } from '../api/types';
import { gravest, newsOf, stacked } from './news';

const row = (id: number, severity: Severity, status: 'open' | 'acknowledged' = 'open', hushedUntil: number | null = null) => ({
  id,
  severity,
  status,
  hushedUntil,
  title: `incident ${id}`,
});
const ids = (rows: { id: number }[]) => rows.map((one) => one.id);

describe('what is news', () => {
  it('is nothing at the first look', () => expect(newsOf(null, [row(1, 'critical')]).news).toEqual([]));

  it('is what came up or grew graver, the gravest first', () => {
    const { known } = newsOf(null, [row(1, 'minor'), row(2, 'major')]);
    const next = newsOf(known, [row(1, 'critical'), row(2, 'minor'), row(3, 'warning'), row(4, 'major')]);
    expect(ids(next.news)).toEqual([1, 4, 3]);
    expect(newsOf(next.known, [row(1, 'critical'), row(3, 'warning'), row(4, 'major')]).news).toEqual([]);
  });

  it('is not what somebody has, or what is hushed; that comes when it is not any more', () => {
    const { known, news } = newsOf(new Map(), [row(1, 'critical', 'acknowledged'), row(2, 'major', 'open', 5)]);
    expect(news).toEqual([]);
    expect(ids(newsOf(known, [row(1, 'critical'), row(2, 'major')]).news)).toEqual([1, 2]);
  });

  it('is stacked with the gravest on top, and gone when somebody has it', () => {
    const open = [row(1, 'warning'), row(2, 'critical'), row(3, 'critical'), row(4, 'major', 'acknowledged')];
    expect(ids(stacked([1, 2, 3, 4, 9], open))).toEqual([3, 2, 1]);
    expect(gravest(open)).toBe('critical');
    expect(gravest([row(4, 'major', 'acknowledged')])).toBeNull();
  });
});
