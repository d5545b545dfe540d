import { describe, expect, it } from 'vitest';
import type { Finding } from '../api/types';
import { findingsSentence, ofGrade } from './finding-words';

const finding = (id: number, grade: Finding['grade'], asideAt: number | null = null): Finding => ({
  id,
  recipe: 'linux-host',
  recipeName: 'Linux host',
  name: 'No swap',
  grade,
  remedy: 'Add some.',
  formula: 'x',
  labels: {},
  value: 0,
  unit: '',
  firstAt: 1_000 - id,
  lastAt: 1_000,
  asideAt,
  asideBy: '',
  reason: '',
});

describe('findings', () => {
  it.each([
    [[], 'Nothing was found.'],
    [[finding(1, 'mend', 5)], 'Nothing else was found.'],
    [[finding(1, 'know')], '1\u00a0finding.'],
    [[finding(1, 'mend'), finding(2, 'look'), finding(3, 'mend', 5)], '2\u00a0findings, 1 of them should be mended.'],
  ])('%#', (findings, words) => expect(findingsSentence({ findings, unread: [], lookedAt: 1 })).toBe(words));

  it('are not calm before anybody looked', () =>
    expect(findingsSentence({ findings: [], unread: [], lookedAt: null })).toBe('Nobody looked yet.'));

  it('stand by grade, the oldest first, without what was left aside', () => {
    const all = [finding(1, 'look'), finding(2, 'mend'), finding(3, 'look'), finding(4, 'look', 5)];
    expect(ofGrade(all, 'look').map((one) => one.id)).toEqual([3, 1]);
    expect(ofGrade(all, 'know')).toEqual([]);
  });
});
