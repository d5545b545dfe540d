import { send } from '../api/client';
import type { Draft } from '../api/types';
import { type RuleDraft, fieldsOf } from './rule-fields';

/** A draft of a rule that is not there yet. */
export function keepNew(rule: RuleDraft): Promise<Draft> {
  const { definition, enabled } = fieldsOf(rule);
  return send('post', '/api/rule-drafts', {
    body: { definition: definition as unknown as Record<string, never>, enabled, rule: null },
  });
}
