import { describe, expect, it } from 'vitest';
import { metricOf, named } from '../metrics/names';
import { Spelt, clock, countdown, dayNumber, listed, many, quantity, span, tickWords, tied } from './format';

/** Value and unit never part at a line's end. */
const tie = (words: string) => words.replaceAll(' ', '\u00a0');

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
  ])('%s in %s reads %s', (value, unit, words) => expect(quantity(value, unit)).toBe(tie(words)));
});

it.each([
  [[1, 1.0025, 1.005], 'ratio', ['100 %', '100.3 %', '100.5 %']],
  [[0, 0.5, 1], 'ratio', ['0 %', '50 %', '100 %']],
  [[1000.2, 1000.4], '', ['1,000.2', '1,000.4']],
  [[5, 5], '', ['5', '5']],
])('ticks %j of %s differ where they can', (ticks, unit, words) => expect(tickWords(ticks, unit)).toEqual(words.map(tie)));

it('says spans and countdowns', () => {
  expect(span(372_000)).toBe(tie('6 min 12 s'));
  expect(span(3 * 86_400_000)).toBe(tie('3 d'));
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

it.each([
  ['above 88 % for 5 min, now 1.2 GiB', 'above 88\u00a0% for 5\u00a0min, now 1.2\u00a0GiB'],
  ['12 sailings and 3 hosts, 5 messages', '12 sailings and 3 hosts, 5 messages'],
  ['40 MiB/s of 3 d', '40 MiB/s of 3\u00a0d'],
])('ties the values of %s', (sentence, words) => expect(tied(sentence)).toBe(words));

it('counts and lists as a sentence does', () => {
  expect([many(1, 'target'), many(3_400, 'target'), many(2, 'query', 'queries')]).toEqual(
    ['1 target', '3,400 targets', '2 queries'].map(tie),
  );
  expect([Spelt(0), Spelt(2), Spelt(12)]).toEqual(['No', 'Two', '12']);
  expect(listed(['broker-north', 'web-1', 'web-2'])).toBe('broker-north, web-1 and web-2');
});

it('numbers days that follow each other, also over a clock change and far from UTC', () => {
  for (const zone of ['Europe/Lisbon', 'Asia/Kolkata', 'Pacific/Auckland', 'America/St_Johns']) {
    let before = dayNumber(Date.UTC(2026, 0, 1, 12), zone);
    for (let at = Date.UTC(2026, 0, 2, 12); at < Date.UTC(2027, 0, 1); at += 86_400_000) {
      const now = dayNumber(at, zone);
      expect(now - before, `${zone} ${new Date(at).toISOString()}`).toBe(1);
      before = now;
    }
  }
});
