import type { ReplayedFields } from '../api/queries';
import type { RuleFields } from '../api/types';

export const NEW_RULE: RuleFields = {
  name: '',
  formula: '',
  severity: 'minor',
  direction: 'above',
  limit: 1,
  holdSeconds: 120,
  clearLimit: 1,
  clearHoldSeconds: 120,
  blindAfterSeconds: 600,
  blindSeverity: null,
  lostAfterSeconds: 259_200,
  worseLimit: null,
  worseSeverity: null,
  service: '',
  runbook: '',
  enabled: true,
};

/** What of a rule a person writes; the rest is told of it. */
export const fieldsOf = (rule: RuleFields): RuleFields =>
  Object.fromEntries(Object.keys(NEW_RULE).map((field) => [field, rule[field as keyof RuleFields]])) as RuleFields;

const TOLD = ['name', 'service', 'runbook', 'enabled'];
/** What of it decides when it raises; a name, a runbook, a service or whether it is switched on do not. */
export function replayedOf(rule: RuleFields): ReplayedFields {
  return Object.fromEntries(Object.entries(rule).filter(([field]) => !TOLD.includes(field))) as ReplayedFields;
}

/** The clear limit follows a limit that is dragged, as far from it as it was in proportion. */
export function withLimit(rule: RuleFields, dragged: number): Pick<RuleFields, 'limit' | 'clearLimit'> {
  const limit = Number(dragged.toPrecision(3));
  const clearLimit = rule.limit === 0 ? limit : (rule.clearLimit / rule.limit) * limit;
  return { limit, clearLimit: Number(clearLimit.toPrecision(3)) };
}
