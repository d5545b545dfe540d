import type { ConditionFields } from '../api/types';
import type { Limit } from '../ui/chart/plot';
import { quantity } from '../ui/format';
import { HUES } from '../ui/severity';
import { byGravity, isRange } from './conditions/limits';

/** The limits of a condition as lines of a chart; the one from which on it raises can be dragged. A distance or a change has none. */
export function limitLines(condition: ConditionFields, unit: string, onLimit?: (value: number) => void): Limit[] {
  if (condition.kind !== 'threshold' && condition.kind !== 'forecast') return [];
  const range = isRange(condition.side);
  const lines = byGravity(condition.limits).flatMap(({ severity, limit, to }, i): Limit[] => {
    const onDrag = i === 0 && !range ? onLimit : undefined;
    const words = `${severity} ${condition.side} ${quantity(limit, unit)}${onDrag ? ' (drag)' : ''}`;
    const upper = range && typeof to === 'number' ? [{ value: to, hue: HUES[severity], words: quantity(to, unit) }] : [];
    return [{ value: limit, hue: HUES[severity], words, onDrag }, ...upper];
  });
  return [
    ...lines,
    { value: condition.clear, hue: 'var(--accent)', words: `clear ${quantity(condition.clear, unit)}`, dashed: true },
  ];
}
