import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ChartData, UsualBands } from '../api/types';
import { twins } from './names';
import { headline, tableRows, union } from './rows';

beforeEach(() => {
  vi.stubGlobal('document', { documentElement: { dataset: {} } });
  vi.stubGlobal('matchMedia', () => ({ matches: false }));
});

const data = (lines: ChartData['lines'], unit = 'ratio'): ChartData => ({
  formula: 'f',
  unit,
  from: 0,
  to: 60,
  first: 0,
  step: 1,
  lines,
  more: 0,
  tookMs: 1,
  metrics: ['cpu'],
  why: null,
});
const flat = (value: number, count = 40) => Array.from({ length: count }, (_, i) => value + (i % 3) / 100);
const hosts = (...values: number[]) =>
  values.map((value, i) => ({ labels: { host: `web-${i + 1}`, service: 'tickets' }, values: flat(value) }));
const times = Array.from({ length: 40 }, (_, i) => i * 1000);
const clock = (at: number) => `at ${at}`;
const band = (key: string, low: number, high: number): UsualBands['bands'][number] => ({
  key,
  low: flat(low),
  middle: flat((low + high) / 2),
  high: flat(high),
  weeks: 2,
});

describe('twins', () => {
  it.each([
    ['hosts of one service', hosts(1, 2, 3), [[0, 1, 2]]],
    [
      'hosts with a database between them',
      [
        ...hosts(1, 2),
        { labels: { database: 'db', service: 'tickets' }, values: [1] },
        ...hosts(1).map((line) => ({ ...line, labels: { ...line.labels, host: 'web-9' } })),
      ],
      [[0, 1, 3]],
    ],
    [
      'hosts of two services',
      [...hosts(1, 2), ...hosts(1, 2).map((line) => ({ ...line, labels: { ...line.labels, service: 'boarding' } }))],
      [
        [0, 1],
        [2, 3],
      ],
    ],
    ['queues of one broker', ['a', 'b', 'c'].map((queue) => ({ labels: { queue, broker: 'north' }, values: [1] })), []],
    ['hosts and their disks', ['a', 'b'].map((host) => ({ labels: { host, device: `${host}1` }, values: [1] })), []],
    ['sites alone', ['skarn', 'greyhaven'].map((site) => ({ labels: { site }, values: [1] })), []],
    ['one line', hosts(1), []],
  ])('%s', (_, lines, expected) => {
    expect(twins(lines)).toEqual(expected);
  });
});

describe('the sentence on top', () => {
  it('names the odd one of twins before anything else', () => {
    const lines = hosts(0.4, 0.41, 0.405, 0.42);
    lines[2]!.values = lines[2]!.values.map((value, i) => (i < 15 ? value : value + 0.4));
    const rows = tableRows([data(lines)], undefined, times, clock);
    expect(headline(rows, 'cpu')).toBe('web-3 stands apart from its 3 twins since at 15000.');
    expect(rows.map((row) => row.odd !== null)).toEqual([false, false, true, false]);
  });
  it('says nothing of twins where lines are of unlike things', () => {
    const lines = [1, 2, 1.5, 90].map((value, i) => ({ labels: { queue: `q${i}` }, values: flat(value) }));
    const rows = tableRows([data(lines)], undefined, times, clock);
    expect(rows.every((row) => row.apart === null && row.odd === null)).toBe(true);
    expect(headline(rows, 'queue depth')).toBe('queue depth');
  });
  it('tells what is outside its usual range, by more than one reading', () => {
    const bands: UsualBands = {
      first: 0,
      step: 1000,
      bands: [band('host="web-1",service="tickets"', 0.1, 0.3), band('host="web-2",service="tickets"', 0.1, 0.6)],
    };
    const lines = hosts(0.5, 0.5);
    expect(headline(tableRows([data(lines)], bands, times, clock), 'cpu')).toBe('web-1 is outside its usual range.');
    const noisy = hosts(0.2, 0.5);
    noisy[0]!.values[39] = 0.9;
    expect(headline(tableRows([data(noisy)], bands, times, clock), 'cpu')).toBe('cpu is within its usual range.');
    const over = hosts(0.5, 0.5);
    over[0]!.values[39] = 0.2;
    expect(headline(tableRows([data(over)], bands, times, clock), 'cpu')).toBe('cpu is within its usual range.');
    expect(headline([], 'cpu')).toBe('cpu');
    const ended = hosts(0.2, 0.5);
    const gone = ended.map((line) => ({ ...line, values: line.values.map((value, i) => (i > 30 ? null : value)) }));
    expect(headline(tableRows([data(gone)], bands, times, clock), 'cpu')).toBe('cpu');
    expect(headline(tableRows([data(hosts(0.2, 0.5))], { ...bands, bands: [] }, times, clock), 'cpu')).toBe('cpu');
  });
  it('gives each line its formula, hue and unit, formula by formula', () => {
    const rows = tableRows([data(hosts(1, 2)), undefined, data(hosts(3), 'bytes')], undefined, times, clock);
    expect(rows.map((row) => [row.formula, row.unit])).toEqual([
      [0, 'ratio'],
      [0, 'ratio'],
      [2, 'bytes'],
    ]);
    expect(new Set(rows.map((row) => row.hue)).size).toBe(3);
    expect(new Set(rows.map((row) => row.id)).size).toBe(3);
    const chosen = tableRows([data(hosts(1, 2)), data([{ labels: {}, values: flat(3) }])], undefined, times, clock, [
      { hue: 4 },
      { name: 'all of them', hue: 4 },
    ]);
    expect(chosen.map((row) => row.name)).toEqual(['web-1', 'web-2', 'all of them']);
    expect(chosen[2]!.hue).toBe(chosen[0]!.hue);
  });
});

describe('the usual band', () => {
  it('is that of the middle line, between the instants it is known at, and not beyond its gaps', () => {
    const bands: UsualBands = {
      first: 0,
      step: 2000,
      bands: [
        { key: 'a', low: [1, 3, null], middle: [], high: [2, 4, null], weeks: 1 },
        { key: 'b', low: [1, 3, null], middle: [], high: [2, 4, null], weeks: 1 },
        { key: 'c', low: [80, 80, null], middle: [], high: [90, 90, null], weeks: 1 },
      ],
    };
    expect(union(bands, [0, 1000, 2000, 4000])).toEqual({ low: [1, 2, 3, null], high: [2, 3, 4, null] });
  });
});
