import { describe, expect, it } from 'vitest';
import type { FormulaFunction, LabelValues, Metric } from '../api/types';
import { completionAt } from './completion';

const metrics = ['messaging_queue_depth', 'system_cpu_utilization_ratio', 'db_queue_seconds'].map((name): Metric => ({
  name,
  type: 'gauge',
  unit: '',
  help: '',
  series: 1,
}));
const functions: FormulaFunction[] = ['mean', 'median', 'rate'].map((name) => ({
  name,
  usages: [`${name}(x, 5m)`],
  help: '',
  example: '',
}));
const labels: LabelValues[] = [
  { name: 'queue', count: 2, values: ['boarding', 'manifests'] },
  { name: 'site', count: 1, values: ['skarn'] },
];
/** The caret stands at the bar. */
const at = (text: string) => {
  const caret = text.indexOf('|');
  const found = completionAt(text.replace('|', ''), caret, metrics, functions, labels);
  return found?.options.map((option) => text.slice(0, found.from) + option.insert) ?? null;
};

describe('completion', () => {
  it.each([
    ['me|', ['mean(', 'median(', 'messaging_queue_depth']],
    ['mean(que|', ['mean(db_queue_seconds', 'mean(messaging_queue_depth']],
    ['messaging_queue_depth where |', ['messaging_queue_depth where queue', 'messaging_queue_depth where site']],
    ['messaging_queue_depth where queue = "b|', ['messaging_queue_depth where queue = "boarding"']],
    ['messaging_queue_depth where queue = "m|"', ['messaging_queue_depth where queue = "manifests']],
    ['messaging_queue_depth where queue in ("boarding", "m|', ['messaging_queue_depth where queue in ("boarding", "manifests"']],
    ['messaging_queue_depth where queue = "x" and si|', ['messaging_queue_depth where queue = "x" and site']],
    ['sum(messaging_queue_depth) per q|', ['sum(messaging_queue_depth) per queue']],
  ])('%s', (text, expected) => {
    expect(at(text)).toEqual(expected);
  });
  it('stays silent where an operator comes, and inside other texts', () => {
    expect(at('messaging_queue_depth wh|')).toBeNull();
    expect(at('|')).toBeNull();
    expect(at('a where b matches "x y|')).toEqual([]);
  });
});
