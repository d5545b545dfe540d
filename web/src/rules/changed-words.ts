import type { ConditionFields, RuleDefinition } from '../api/types';
import { quantity, span } from '../ui/format';
import { VERBS, limitUnit, limitedOf } from './conditions/kinds';
import { type Limited, byGravity, clearWords, limitWords } from './conditions/limits';

const SECONDS = ['holdSeconds', 'clearHoldSeconds', 'blindAfterSeconds', 'lostAfterSeconds', 'stepSeconds'];
const NAMES: Record<string, string> = {
  holdSeconds: 'hold',
  clearHoldSeconds: 'clear hold',
  blindAfterSeconds: 'unseen after',
  blindSeverity: 'unseen is',
  lostAfterSeconds: 'lost after',
  stepSeconds: 'step',
  together: 'alerts',
  dependsOn: 'held back by',
  seenShare: 'window seen',
  others: 'for some',
  words: 'words',
};

/** `hold: 1 min → 5 min`, field by field. */
export function changedWords(before: RuleDefinition, after: RuleDefinition, unit = ''): string[] {
  return (Object.keys(after) as (keyof RuleDefinition)[])
    .filter((field) => JSON.stringify(before[field] ?? null) !== JSON.stringify(after[field] ?? null))
    .map((field) => `${NAMES[field] ?? field}: ${valueWords(field, before, unit)} → ${valueWords(field, after, unit)}`);
}

function valueWords(field: keyof RuleDefinition, of: RuleDefinition, unit: string): string {
  const value = of[field];
  if (field === 'condition') return conditionWords(of.condition, unit);
  if (field === 'together')
    return of.together === null ? 'each series' : `together${of.together.per.map((one) => ` ${one}`).join('')}`;
  if (field === 'others') return othersWords(of, unit);
  if (field === 'words')
    return (
      Object.entries(of.words)
        .map(([severity, text]) => `${severity}: ${text}`)
        .join('; ') || 'none'
    );
  if (field === 'seenShare') return quantity(of.seenShare, 'ratio');
  if (SECONDS.includes(field) && typeof value === 'number') return span(value * 1000);
  if (field === 'dependsOn') return of.dependsOn.join(', ') || 'none';
  if (field === 'labels')
    return (
      Object.entries(of.labels)
        .map(([name, text]) => `${name} ${text}`)
        .join(', ') || 'none'
    );
  return typeof value === 'string' && value !== '' ? value : 'none';
}

/** `above 300 where tier = "1"`, of each limit of its own. */
export function othersWords({ condition, others }: Pick<RuleDefinition, 'condition' | 'others'>, unit: string): string {
  const limited = limitedOf(condition);
  if (!limited || others.length === 0) return 'alike for all';
  return others.map((one) => `${limitsWords({ ...limited, ...one }, limitUnit(condition, unit))} where ${one.where}`).join('; ');
}

const limitsWords = ({ side, limits }: Limited, unit: string) =>
  byGravity(limits)
    .map((one, i) => (i === 0 ? limitWords(side, one, unit) : `${one.severity} ${limitWords(side, one, unit)}`))
    .join(', ');

/** `stays major above 400, critical above 1,200, clear at or below 300`. */
export function conditionWords(condition: ConditionFields, unit: string): string {
  const limited = limitedOf(condition);
  if (!limited) return VERBS[condition.kind];
  const measured = limitUnit(condition, unit);
  const limits = byGravity(limited.limits).map((one) => `${one.severity} ${limitWords(limited.side, one, measured)}`);
  const beside = besideWords(condition, unit);
  return `${[VERBS[condition.kind], limits.join(', '), ...beside].join(' ')}, clear ${clearWords(limited, measured)}`;
}

function besideWords(condition: ConditionFields, unit: string): string[] {
  switch (condition.kind) {
    case 'threshold':
      return condition.need && condition.of ? [`at ${condition.need} of ${condition.of} looks`] : [];
    case 'departure':
      return [`from ${condition.from} ${condition.way}, at least ${quantity(condition.least ?? 0, unit)}`];
    case 'forecast':
      return [`within ${span((condition.withinSeconds ?? 0) * 1000)}`];
    case 'change':
      return [`${condition.way} against ${span((condition.agoSeconds ?? 0) * 1000)} ago`];
    case 'absence':
      return [];
  }
}
