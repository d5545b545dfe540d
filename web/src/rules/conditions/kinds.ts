import type { ConditionFields, LimitFields, Severity } from '../../api/types';
import type { Limited } from './limits';
import { byGravity } from './limits';

export type Kind = ConditionFields['kind'];

/** As they follow "when the formula below". */
export const VERBS: Record<Kind, string> = {
  threshold: 'stays',
  departure: 'departs from',
  forecast: 'will go',
  change: 'changes',
  absence: 'is not seen',
};

const WEEK = 604_800;
const DAY = 86_400;

/** The limits of a condition, as one can work with them whatever its kind; none where there are none. */
export function limitedOf(condition: ConditionFields): Limited | null {
  switch (condition.kind) {
    case 'threshold':
    case 'forecast':
      return condition;
    case 'departure':
    case 'change':
      return { side: 'above', limits: condition.limits, clear: condition.clear };
    case 'absence':
      return null;
  }
}

export function withLimited<C extends ConditionFields>(condition: C, { side, limits, clear, clearTo }: Limited): C {
  switch (condition.kind) {
    case 'threshold':
      return { ...condition, side, limits, clear, clearTo };
    case 'forecast':
      return { ...condition, side, limits, clear };
    case 'departure':
    case 'change':
      return { ...condition, limits, clear };
    case 'absence':
      return condition;
  }
}

/** In what its limits are measured. */
export function limitUnit(condition: ConditionFields, unit: string): string {
  if (condition.kind === 'departure') return 'times its spread';
  return condition.kind === 'change' && condition.measure === 'share' ? 'ratio' : unit;
}

export const severityOf = (condition: ConditionFields): Severity =>
  condition.kind === 'absence' ? condition.severity : (byGravity(condition.limits)[0]?.severity ?? 'minor');

export function withSeverity(condition: ConditionFields, severity: Severity): ConditionFields {
  if (condition.kind === 'absence') return { ...condition, severity };
  const [first, ...graver] = byGravity(condition.limits);
  return first ? { ...condition, limits: [{ ...first, severity }, ...graver] } : condition;
}

/** A condition of another kind, with what the one before says of it too: how grave it is, and its limits where they mean the same. */
export function started(kind: Kind, before: ConditionFields): ConditionFields {
  const severity = severityOf(before);
  const limit = (value: number): LimitFields[] => [{ severity, limit: value }];
  const same = before.kind === 'threshold' || before.kind === 'forecast' ? before : null;
  switch (kind) {
    case 'threshold':
      return same
        ? { kind, side: same.side, limits: same.limits, clear: same.clear }
        : { kind, side: 'above', limits: limit(1), clear: 1 };
    case 'forecast':
      return same && (same.side === 'above' || same.side === 'below')
        ? { kind, side: same.side, limits: same.limits, clear: same.clear, withinSeconds: DAY }
        : { kind, side: 'above', limits: limit(1), clear: 1, withinSeconds: DAY };
    case 'departure':
      return {
        kind,
        from: 'median',
        way: 'moves',
        limits: limit(5),
        clear: 3,
        least: 0,
        spanSeconds: 2 * WEEK,
        warmUpSeconds: DAY,
        per: [],
      };
    case 'change':
      return { kind, way: 'rises', measure: 'share', limits: limit(0.5), clear: 0.25, agoSeconds: 3_600 };
    case 'absence':
      return { kind, severity };
  }
}
