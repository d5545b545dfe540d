import { describe, expect, it } from 'vitest';
import { metricOf, named } from '../metrics/names';
import { clock, countdown, quantity, span, tickWords } from './format';

describe('quantity', () => {
  it.each([
    [1284, '', '1,284'],
    [0.7134, 'ratio', '71.3 %'],
    [0.25, 'seconds', '250 ms'],
    [100_800, 'seconds', '28 h'],
    [1.5 * 1024 ** 3, 'bytes', '1.5 GiB'],
    [2048, 'bytes per second', '2 KiB/s'],
    [0, 'seconds', '0 s'],
    [null, 'bytes', '–'],
  ])('%s in %s reads %s', (value, unit, words) => expect(quantity(value, unit)).toBe(words));
});

it.each([
  [[1, 1.0025, 1.005], 'ratio', ['100 %', '100.3 %', '100.5 %']],
  [[0, 0.5, 1], 'ratio', ['0 %', '50 %', '100 %']],
  [[1000.2, 1000.4], '', ['1,000.2', '1,000.4']],
  [[5, 5], '', ['5', '5']],
])('ticks %j of %s differ where they can', (ticks, unit, words) => expect(tickWords(ticks, unit)).toEqual(words));

it('says spans and countdowns', () => {
  expect(span(372_000)).toBe('6 min 12 s');
  expect(span(3 * 86_400_000)).toBe('3 d');
  expect(countdown(221_000)).toBe('3:41');
  expect(countdown(-5)).toBe('0:00');
});

it('tells the time in the zone that was asked for', () => {
  expect(clock(Date.UTC(2026, 6, 1, 12), 'Europe/Lisbon')).toBe('13:00');
  expect(clock(Date.UTC(2026, 11, 1, 0), 'UTC')).toBe('00:00');
});

it('names lines by the labels that tell them apart', () => {
  const lines = named([
    { labels: { host: 'web-1', service: 'tickets' }, values: [] },
    { labels: { host: 'web-2', service: 'tickets' }, values: [] },
  ]);
  expect(lines.map((line) => line.name)).toEqual(['web-1', 'web-2']);
});

it('finds the metric that a formula is about', () => {
  expect(metricOf('mean(rate(http_requests_total where a = "b_c", 1m)) per host')).toBe('http_requests_total');
});
