import { describe, expect, it } from 'vitest';
import { hidesWords, matchingOf, recursWords, sharedBy, weekday } from './mute-words';

const plain = (words: string) => words.replaceAll('\u00a0', ' ');

describe('what hushes, in words', () => {
  it.each([
    ['', 'once'],
    ['FREQ=DAILY', 'each day'],
    ['FREQ=DAILY;INTERVAL=3', 'every 3 days'],
    ['FREQ=WEEKLY;BYDAY=SU', 'each Sunday'],
    ['FREQ=WEEKLY;BYDAY=SA,SU', 'each Saturday and Sunday'],
    ['FREQ=WEEKLY;BYDAY=SU;COUNT=3', 'by FREQ=WEEKLY;BYDAY=SU;COUNT=3'],
    ['FREQ=MONTHLY;BYDAY=-1FR', 'by FREQ=MONTHLY;BYDAY=-1FR'],
  ])('%s', (rule, words) => expect(recursWords(rule)).toBe(words));

  it('says what lies beneath', () => {
    expect(hidesWords({ hides: 0, titles: [] })).toBe('nothing is up beneath');
    expect(plain(hidesWords({ hides: 1, titles: ['Disk on web-3'] }))).toBe('hides 1 alert that is up: Disk on web-3');
    expect(plain(hidesWords({ hides: 7, titles: ['a', 'b'] }))).toBe('hides 7 alerts that are up: a, b and 5 more');
  });

  it('makes a filter of what several share', () => {
    const shared = sharedBy([
      { host: 'web-3', mount: '/var', site: 'skarn' },
      { host: 'web-3', mount: '/"odd"', site: 'skarn' },
    ]);
    expect(matchingOf(shared)).toBe('host = "web-3" and site = "skarn"');
    expect(matchingOf({ mount: '/"odd"' })).toBe('mount = "/\\"odd\\""');
    expect(weekday('2026-11-29')).toBe('SU');
  });
});
