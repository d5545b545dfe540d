import { describe, expect, it } from 'vitest';
import { changedWords, conditionWords } from './changed-words';
import { started } from './conditions/kinds';
import { NEW_RULE, fieldsOf } from './rule-fields';

const { definition } = fieldsOf({ ...NEW_RULE, name: 'Queue', formula: 'depth' });

describe('what was changed, in words', () => {
  it('is nothing where nothing was', () => expect(changedWords(definition, { ...definition })).toEqual([]));

  it('names each field with what it was and what it is', () => {
    const limits = [{ severity: 'major' as const, limit: 400 }];
    const condition = { kind: 'threshold' as const, side: 'above' as const, limits, clear: 300, need: 3, of: 5 };
    const changed = {
      ...definition,
      holdSeconds: 300,
      condition,
      owner: 'piers',
      together: { per: ['site'], least: 1, share: null },
    };
    expect(changedWords(definition, changed)).toEqual([
      'condition: stays minor above 1, clear at or below 1 → stays major above 400 at 3 of 5 looks, clear at or below 300',
      'hold: 2\u00a0min → 5\u00a0min',
      'owner: none → piers',
      'alerts: each series → together site',
    ]);
  });

  it('says each kind', () => {
    for (const kind of ['departure', 'forecast', 'change', 'absence'] as const)
      expect(conditionWords(started(kind, definition.condition), 'messages')).not.toContain('undefined');
  });
});
