import { describe, expect, it } from 'vitest';
import type { Labels } from '../api/types';
import { labelKey } from '../ui/label-key';
import { carried } from './carried';
import { metricOf, named, twins } from './names';

const line = (labels: Labels) => ({ labels, values: [1] });
const names = (...of: Labels[]) => named(of.map(line)).map((one) => one.name);

describe('the names of lines', () => {
  it.each<[string, Labels[], string[]]>([
    ['one alone is called after its place', [{ host: 'web-1', job: 'x' }], ['web-1']],
    ['one alone without a place has none', [{ job: 'x' }], ['']],
    [
      'what tells them apart',
      [
        { host: 'web-1', site: 'skarn' },
        { host: 'web-2', site: 'skarn' },
      ],
      ['web-1', 'web-2'],
    ],
    [
      'all that tells them apart',
      [
        { broker: 'a', queue: 'q' },
        { broker: 'a', queue: 'r' },
        { broker: 'b', queue: 'q' },
      ],
      ['a · q', 'a · r', 'b · q'],
    ],
    [
      'the target only where little else does',
      [
        { target: 't1', host: 'h1' },
        { target: 't2', host: 'h2' },
      ],
      ['h1', 'h2'],
    ],
    [
      'and it does where else only the site does',
      [
        { target: 't1', site: 's' },
        { target: 't2', site: 'r' },
      ],
      ['t1 · s', 't2 · r'],
    ],
    ['a label that some lack', [{ host: 'a', state: 'free' }, { host: 'a' }], ['free', '']],
    ['none at all', [], []],
  ])('%s', (_, labels, expected) => expect(names(...labels)).toEqual(expected));

  it('bring their values along', () =>
    expect(named([line({ host: 'a' })])[0]).toMatchObject({ labels: { host: 'a' }, values: [1] }));
});

describe('twins', () => {
  const of = (...labels: Labels[]) => twins(labels.map(line));

  it.each<[string, Labels[], number[][]]>([
    [
      'hosts of one service',
      [
        { host: 'a', service: 't' },
        { host: 'b', service: 't' },
      ],
      [[0, 1]],
    ],
    [
      'of each service its own',
      [
        { host: 'a', service: 't' },
        { host: 'b', service: 'm' },
        { host: 'c', service: 't' },
      ],
      [[0, 2]],
    ],
    [
      'queues of one broker are none',
      [
        { broker: 'a', queue: 'q' },
        { broker: 'a', queue: 'r' },
      ],
      [],
    ],
    [
      'one queue of two brokers is',
      [
        { broker: 'a', queue: 'q' },
        { broker: 'b', queue: 'q' },
      ],
      [[0, 1]],
    ],
    ['sites are no twins', [{ site: 'a' }, { site: 'b' }], []],
    ['one alone has none', [{ host: 'a' }], []],
    [
      'the order of labels is nothing',
      [
        { host: 'a', state: 's' },
        { state: 's', host: 'b' },
      ],
      [[0, 1]],
    ],
  ])('%s', (_, labels, expected) => expect(of(...labels)).toEqual(expected));
});

it.each([
  ['mean(messaging_queue_depth where queue = "a_b", 5m)', 'messaging_queue_depth'],
  ['"not_this" and system_load_average', 'system_load_average'],
  ['now()', ''],
  ['', ''],
  ['share_below(0.3, http_server_request_duration_seconds, 5m)', 'http_server_request_duration_seconds'],
  ['"a\\"_b" or up_time', 'up_time'],
])('the metric of %s is %s', (formula, metric) => expect(metricOf(formula)).toBe(metric));

it.each([
  ['increase(x_total, 5m)', 'growth(x_total, 5m)'],
  ['increase (x, 5m) + increased', 'growth (x, 5m) + increased'],
  ['x where y = "increase(x)"', 'x where y = "increase(x)"'],
  ['x where y = "a\\"increase(b)" + increase(z, 1m)', 'x where y = "a\\"increase(b)" + growth(z, 1m)'],
  ['max(olivine_scrape_duration_seconds, 5m)', 'max(olivine_scrape_took_seconds, 5m)'],
  ['olivine_scrape_duration_seconds_more', 'olivine_scrape_duration_seconds_more'],
])('what an old link says is carried over: %s', (old, today) => {
  expect(carried(old)).toBe(today);
  expect(carried(today)).toBe(today);
});

it.each<[Labels, string]>([
  [{}, ''],
  [{ b: '1', a: '2' }, 'a="2",b="1"'],
  [{ a: 'x"y\\z\nw' }, 'a="x\\"y\\\\z\\nw"'],
])('labels have one key, whatever their order: %o', (labels, key) => expect(labelKey(labels)).toBe(key));
