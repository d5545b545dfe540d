import { describe, expect, it } from 'vitest';
import type { ConditionFields, Draft } from '../api/types';
import { limitLines } from './limit-lines';
import { NEW_RULE, type RuleDraft, draftIn, draftOf, fieldsOf, replayedOf, startOf, withLimit } from './rule-fields';

const draft: RuleDraft = {
  ...startOf('depth', 400, 'Queue'),
  service: 'piers',
  owner: 'team',
  runbook: 'Look',
  labels: { tier: '1' },
};
const threshold = (part: Partial<Extract<ConditionFields, { kind: 'threshold' }>> = {}): ConditionFields => ({
  kind: 'threshold',
  side: 'above',
  limits: [
    { severity: 'critical', limit: 1_200 },
    { severity: 'major', limit: 400 },
  ],
  clear: 300,
  ...part,
});

describe('a rule in the form', () => {
  it('clears a tenth below where it raises, in three figures', () => {
    expect([400, 0.12345, 1, 0, -40].map((limit) => (startOf('x', limit, '').condition as { clear: number }).clear)).toEqual([
      360, 0.111, 0.9, 0, -36,
    ]);
  });

  it('is sent as it stands, and comes back as it was', () => {
    const { definition, enabled } = fieldsOf(draft);
    expect(enabled).toBe(true);
    expect('enabled' in definition).toBe(false);
    expect(draftOf({ definition, enabled })).toEqual(draft);
  });

  it('may be half written: the rest is what a rule begins with', () => {
    const kept = { definition: { name: 'Half', formula: 'x +' }, enabled: false } as unknown as Draft;
    expect(draftIn(kept)).toEqual({ ...NEW_RULE, name: 'Half', formula: 'x +', enabled: false });
  });

  it('is replayed by what decides when it raises and as whose incident, and by nothing else', () => {
    const same: Partial<RuleDraft>[] = [
      { name: 'Other' },
      { owner: 'x' },
      { runbook: 'y' },
      { labels: {} },
      { words: { major: 'z' } },
      { enabled: false },
    ];
    for (const part of same) expect(replayedOf({ ...draft, ...part }), JSON.stringify(part)).toEqual(replayedOf(draft));
    const others: Partial<RuleDraft>[] = [
      { service: 'gates' },
      { formula: 'depth + 1' },
      { holdSeconds: 1 },
      { stepSeconds: 60 },
      { seenShare: 0.5 },
      { dependsOn: ['Broker down'] },
      { condition: threshold() },
    ];
    for (const part of others) expect(replayedOf({ ...draft, ...part }), JSON.stringify(part)).not.toEqual(replayedOf(draft));
  });

  it.each<[string, ConditionFields, number, object]>([
    [
      'the mildest limit moves, and the clear limit with it',
      threshold(),
      600,
      { limits: [{ limit: 600 }, { limit: 1_200 }], clear: 450 },
    ],
    ['in three figures', threshold(), 123.456, { limits: [{ limit: 123 }, { limit: 1_200 }], clear: 92.3 }],
    [
      'from nothing on',
      threshold({ limits: [{ severity: 'minor', limit: 0 }], clear: -5 }),
      7,
      { limits: [{ limit: 7 }], clear: 7 },
    ],
    [
      'below',
      threshold({ side: 'below', limits: [{ severity: 'minor', limit: 10 }], clear: 20 }),
      5,
      { limits: [{ limit: 5 }], clear: 10 },
    ],
  ])('is dragged: %s', (_, condition, to, expected) => expect(withLimit(condition, to)).toMatchObject(expected));

  it('has nothing to drag where nothing is a limit', () => {
    const absence = { kind: 'absence', severity: 'minor' } as ConditionFields;
    expect(withLimit(absence, 3)).toBe(absence);
  });
});

describe('its limits in a chart', () => {
  const shown = (condition: ConditionFields, onLimit?: (value: number) => void) =>
    limitLines(condition, '', onLimit).map(({ value, words, dashed, onDrag }) => [
      value,
      words,
      dashed === true,
      onDrag !== undefined,
    ]);

  it('stand at their values, the mildest one can be dragged, and the clear limit is dashed', () => {
    expect(shown(threshold(), () => undefined)).toEqual([
      [400, 'major above 400 (drag)', false, true],
      [1_200, 'critical above 1,200', false, false],
      [300, 'clear 300', true, false],
    ]);
  });

  it('cannot be dragged by who may not', () => {
    expect(shown(threshold())[0]).toEqual([400, 'major above 400', false, false]);
  });

  it('have two ends where it is a range, which nobody drags', () => {
    const range = threshold({ side: 'outside', limits: [{ severity: 'minor', limit: 10, to: 20 }], clear: 11, clearTo: 19 });
    expect(shown(range, () => undefined).map(([value, , , drags]) => [value, drags])).toEqual([
      [10, false],
      [20, false],
      [11, false],
    ]);
  });

  it.each(['departure', 'change', 'absence'] as const)('are none of a chart where they are distances: %s', (kind) =>
    expect(shown({ ...(threshold() as object), kind } as ConditionFields)).toEqual([]),
  );
});
