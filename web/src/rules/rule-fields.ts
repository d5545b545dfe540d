import type { ConditionFields, Draft, Rule, RuleDefinition } from '../api/types';
import { limitedOf, withLimited } from './conditions/kinds';
import { byGravity } from './conditions/limits';

/** A rule as it stands in the form: all that a person writes, and whether it is switched on. */
export type RuleDraft = RuleDefinition & { enabled: boolean };

export const NEW_RULE: RuleDraft = {
  name: '',
  formula: '',
  condition: { kind: 'threshold', side: 'above', limits: [{ severity: 'minor', limit: 1 }], clear: 1 },
  holdSeconds: 120,
  clearHoldSeconds: 120,
  blindAfterSeconds: 600,
  blindSeverity: null,
  lostAfterSeconds: 259_200,
  stepSeconds: 15,
  service: '',
  owner: '',
  runbook: '',
  labels: {},
  together: null,
  dependsOn: [],
  seenShare: 0.8,
  others: [],
  words: {},
  enabled: true,
};

/** A rule that raises above a limit and clears a tenth below it. */
export const startOf = (formula: string, limit: number, name: string): RuleDraft => ({
  ...NEW_RULE,
  name,
  formula,
  condition: {
    kind: 'threshold',
    side: 'above',
    limits: [{ severity: 'minor', limit }],
    clear: Number((limit * 0.9).toPrecision(3)),
  },
});

export const draftOf = ({ definition, enabled }: Pick<Rule, 'definition' | 'enabled'>): RuleDraft => ({ ...definition, enabled });

/** What stands in a draft, over what a rule begins with: it need not be whole. */
export const draftIn = ({ definition, enabled }: Draft): RuleDraft => ({
  ...NEW_RULE,
  ...(definition as Partial<RuleDefinition>),
  enabled,
});

/** As it is sent. */
export function fieldsOf({ enabled, ...definition }: RuleDraft): { definition: RuleDefinition; enabled: boolean } {
  return { definition, enabled };
}

/** What of it decides when it raises and as whose incident; a name, a runbook, an owner or whether it is switched on do not. */
export function replayedOf(draft: RuleDraft): RuleDefinition {
  return { ...fieldsOf(draft).definition, name: 'draft', owner: '', runbook: '', labels: {}, words: {} };
}

/** With the limit from which on it raises dragged elsewhere: the clear limit follows, as far from it as it was in proportion. */
export function withLimit(condition: ConditionFields, dragged: number): ConditionFields {
  const limited = limitedOf(condition);
  const [first, ...graver] = byGravity(limited?.limits ?? []);
  if (!limited || !first) return condition;
  const limit = Number(dragged.toPrecision(3));
  const clear = first.limit === 0 ? limit : (limited.clear / first.limit) * limit;
  return withLimited(condition, { ...limited, limits: [{ ...first, limit }, ...graver], clear: Number(clear.toPrecision(3)) });
}
