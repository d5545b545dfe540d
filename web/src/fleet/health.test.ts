import { describe, expect, it } from 'vitest';
import type { Target } from '../api/types';
import { ageOf, fleetSentence, groupTrouble, health, type Health, targetSentence } from './health';
import { type How, heightOf, ticksOf, tickWords } from './ticks';

const status = {
  at: 60_000,
  ok: true,
  overdue: false,
  okAt: 60_000,
  form: 'openmetrics',
  seconds: 0.1,
  bytes: 1,
  readings: 3,
  message: '',
  notice: '',
  refused: 0,
  verdict: '',
};
const well = { paused: false, status };
const failing = { paused: false, status: { ...status, ok: false, okAt: null } };
const overdue = { paused: false, status: { ...status, overdue: true } };
const waiting = { paused: false, status: null };
const paused = { paused: true, status: { ...status, ok: false, overdue: true } };

/** Value and unit are tied there; here they are read. */
const plainly = (words: string) => words.replaceAll('\u00a0', ' ');

describe('how a target is', () => {
  it.each<[string, Pick<Target, 'paused' | 'status'>, Health, string]>([
    ['answers', well, 'well', '3 min 1 s ago'],
    ['fails, and never answered', failing, 'failing', 'never'],
    ['was well when last asked, but that is long ago', overdue, 'overdue', '3 min 1 s ago'],
    ['is new', waiting, 'waiting', 'not asked yet'],
    ['is paused, whatever its last scrape said', paused, 'paused', 'paused'],
  ])('%s', (_, target, expected, age) => {
    expect(health(target)).toBe(expected);
    expect(plainly(ageOf(target, 241_000))).toBe(age);
  });

  it('never has an age below zero where clocks differ', () => expect(plainly(ageOf(well, 0))).toBe('0 s ago'));
});

describe('the sentence of a target', () => {
  const asked = { kind: 'scrape' as const, intervalSeconds: 15, ticks: '45+20 60+35' };
  const away = { paused: false, status: { ...status, ok: false } };
  it.each<[string, Parameters<typeof targetSentence>[0], string]>([
    ['well', { ...well, ...asked }, 'answers every 15 s, in 100 ms.'],
    ['paused, whatever was before', { ...paused, ...asked }, 'is paused.'],
    ['handed in', { ...well, ...asked, kind: 'pushed' }, 'handed in what holds now.'],
    ['new', { ...waiting, ...asked, ticks: '' }, 'has not been asked yet.'],
    ['nobody asks it', { ...overdue, ...asked }, 'was last asked 1 min ago; the collector is behind, or stands still.'],
    ['away', { ...away, ...asked, ticks: '60+20 75-10000' }, 'has not answered for 1 min.'],
    ['away from the first', { ...failing, ...asked, ticks: '60-3' }, 'has never answered.'],
    ['answers what is none', { ...away, ...asked, ticks: '60+20 75!12' }, 'has brought nothing that can be taken for 1 min.'],
    ['answered nothing else', { ...failing, ...asked, ticks: '60!3' }, 'has brought nothing yet that can be taken.'],
  ])('%s', (_, target, sentence) => expect(plainly(targetSentence(target, 120_000))).toBe(sentence));
});

describe('the sentence of the fleet', () => {
  it.each<[string, Pick<Target, 'paused' | 'status'>[], string]>([
    ['nothing there', [], 'No targets yet. '],
    ['all well', [well, well, paused], 'Every target answers. '],
    ['all paused', [paused], 'Every target is paused. '],
    ['one fails: those that are paused do not count', [failing, well, paused], '1 of 2 targets does not answer. '],
    ['a collector that stands still is not called well', [overdue, overdue, well], '2 were not asked for three intervals. '],
    [
      'everything at once',
      [failing, failing, overdue, waiting],
      '2 of 4 targets do not answer. 1 was not asked for three intervals. 1 waits to be asked for the first time. ',
    ],
  ])('%s', (_, targets, sentence) => expect(fleetSentence(targets)).toBe(sentence));

  it('names what is wrong in a group, and nothing where nothing is', () => {
    expect(groupTrouble([well, paused, waiting])).toBe('');
    expect(groupTrouble([failing, overdue, overdue, well])).toBe('1 does not answer · 2 overdue');
  });
});

describe('the rail', () => {
  it.each<[string, string, How[], number[], string]>([
    ['no scrapes yet', '', [], [], 'no scrapes yet'],
    [
      'in step',
      '100+40 115+7000 130+90',
      ['on time', 'on time', 'on time'],
      [40, 7000, 90],
      'all of the last 3 scrapes on time; the latest 7.0 s after its time',
    ],
    [
      'more than half an interval after its time is late',
      '100+40 115+7501',
      ['on time', 'late'],
      [40, 7501],
      'of the last 2 scrapes 1 late; the latest 7.5 s after its time',
    ],
    [
      'one before it is missing',
      '100+1 122+2 145+3',
      ['on time', 'on time', 'late'],
      [1, 2, 8000],
      'of the last 3 scrapes 1 late; the latest 8.0 s after its time',
    ],
    [
      'what failed or was refused is no longer late',
      '100+5 160-10000 220!30 235+5',
      ['on time', 'failed', 'refused', 'on time'],
      [5, 45_000, 45_000, 5],
      'of the last 4 scrapes 1 failed, 1 refused; the latest 5 ms after its time',
    ],
    [
      'nothing is missing after a pause',
      '100+5 110/ 900+5 940+6',
      ['on time', 'paused', 'on time', 'late'],
      [5, 0, 5, 25_000],
      'of the last 3 scrapes 1 late; the latest 25 s after its time',
    ],
    [
      'what was kept before lateness was',
      '100+ 115+',
      ['on time', 'on time'],
      [0, 0],
      'all of the last 2 scrapes on time; the latest 0 ms after its time',
    ],
  ])('%s', (_, ticks, hows, afters, words) => {
    const seen = ticksOf({ ticks, intervalSeconds: 15 });
    expect(seen.map((tick) => tick.how)).toEqual(hows);
    expect(seen.map((tick) => tick.afterMs)).toEqual(afters);
    expect(seen.map((tick) => `${tick.at / 1000}`)).toEqual(
      ticks
        .split(' ')
        .filter(Boolean)
        .map((tick) => String(parseInt(tick))),
    );
    expect(plainly(tickWords(seen))).toBe(words);
  });

  it.each([
    [0, 0],
    [150, 0.1],
    [3750, 0.5],
    [15_000, 1],
    [90_000, 1],
  ])('stands %i ms after its time as high as %d', (afterMs, height) => expect(heightOf({ afterMs }, 15)).toBeCloseTo(height));
});
