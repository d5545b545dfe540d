import type { Metric, RuleRow } from '../api/types';
import { carried } from './carried';

const KEPT = 'metrics.formula';
const RANKS = ['warning', 'minor', 'major', 'critical'];

/** What Metrics opens with: what was looked at last in this browser, else the rule that spoke most among the gravest, else any metric. */
export function startFormula(
  kept: string | null,
  rules: (Pick<RuleRow, 'severity' | 'raisedInWeek'> & { definition: { formula: string } })[],
  metrics: Pick<Metric, 'name' | 'type'>[],
): string | undefined {
  const grave = rules.toSorted(
    (a, b) => RANKS.indexOf(b.severity) - RANKS.indexOf(a.severity) || b.raisedInWeek - a.raisedInWeek,
  )[0];
  // What Olivine says of the scrapes themselves is there always, and what the targets bring is more telling.
  const any = metrics.find((metric) => !metric.name.startsWith('olivine_')) ?? metrics[0];
  return kept ?? grave?.definition.formula ?? (any && formulaFor(any));
}

/** A counter alone says little; how fast it grows does. */
export const formulaFor = ({ name, type }: Pick<Metric, 'name' | 'type'>): string =>
  type === 'counter' || /_(?:count|bucket)$/.test(name) ? `rate(${name}, 5m)` : name;

export const keptFormula = (): string | null => {
  const kept = localStorage.getItem(KEPT);
  return kept === null ? null : carried(kept);
};
export const keepFormula = (formula: string): void => localStorage.setItem(KEPT, formula);
