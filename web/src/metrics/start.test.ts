import { describe, expect, it } from 'vitest';
import { carried } from './carried';
import { formulaFor, startFormula } from './start';

const rule = (severity: 'critical' | 'major' | 'minor' | 'warning', raisedInWeek: number, formula: string) => ({
  severity,
  raisedInWeek,
  definition: { formula },
});

describe('what Metrics opens with', () => {
  const metrics = [
    { name: 'olivine_scrape_success', type: 'gauge' },
    { name: 'jobs_total', type: 'counter' },
  ];
  it.each<[string, Parameters<typeof startFormula>, string | undefined]>([
    ['nothing is there yet', [null, [], []], undefined],
    ['what was looked at last', ['age(x)', [rule('major', 3, 'a')], metrics], 'age(x)'],
    [
      'the gravest rule, however often others spoke',
      [null, [rule('warning', 90, 'noise'), rule('major', 0, 'grave')], metrics],
      'grave',
    ],
    [
      'among those the one that spoke most',
      [null, [rule('major', 2, 'seldom'), rule('minor', 9, 'small'), rule('major', 4, 'often')], metrics],
      'often',
    ],
    ['what the targets bring, before what we say of them', [null, [], metrics], 'rate(jobs_total, 5m)'],
    ['what we say of them, where there is nothing else', [null, [], metrics.slice(0, 1)], 'olivine_scrape_success'],
  ])('%s', (_, asked, formula) => expect(startFormula(...asked)).toBe(formula));

  it.each([
    ['requests_total', 'counter', 'rate(requests_total, 5m)'],
    ['latency_seconds_bucket', 'histogram', 'rate(latency_seconds_bucket, 5m)'],
    ['latency_seconds_count', 'summary', 'rate(latency_seconds_count, 5m)'],
    ['limit_count_bytes', 'gauge', 'limit_count_bytes'],
  ])('%s, a %s, is drawn as %s', (name, type, formula) => expect(formulaFor({ name, type })).toBe(formula));
});

it.each([
  ['increase(jobs_total, 5m) / increase (all_total, 5m)', 'growth(jobs_total, 5m) / growth (all_total, 5m)'],
  ['olivine_scrape_duration_seconds where target = "increase(x"', 'olivine_scrape_took_seconds where target = "increase(x"'],
  ['increase_total + no_increase(', 'increase_total + no_increase('],
])('an old link of %s is carried over', (old, now) => expect(carried(old)).toBe(now));
