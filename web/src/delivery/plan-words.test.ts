import { describe, expect, it } from 'vitest';
import type { Heard, PlanCompared } from '../api/types';
import { changeWords, channelWords, comparedWords, hoursOfWeek, personWords, whoWords } from './plan-words';

const heard = (incidents: number, people: [string, number, number][], unheard = 0): Heard => ({
  incidents,
  unheard,
  people: people.map(([name, messages, atNight]) => ({ name, messages, atNight })),
});
const compared = (inService: Heard, draft: Heard, price = 0, priceThen = 0): PlanCompared => ({
  alerts: 51,
  from: 0,
  to: 1,
  inService,
  draft,
  price,
  priceThen,
});

/** Figures and their units are tied together. */
const plain = (words: string) => words.replaceAll('\u00a0', ' ');

describe('a draft on what happened', () => {
  it.each([
    [
      heard(14, [['Ines', 20, 5]]),
      heard(9, [['Ines', 12, 5]]),
      'these 14 incidents would have been 9, with 8 fewer messages, as many of them at night',
    ],
    [heard(3, []), heard(3, [['Mei', 2, 1]]), 'the same 3 incidents, with 2 more messages, 1 more of them at night'],
    [
      heard(1, [['Mei', 1, 1]]),
      heard(1, [], 1),
      'the same 1 incident, with 1 fewer messages, 1 fewer of them at night, and 1 incident would have reached nobody',
    ],
  ])('is said in one sentence', (was, now, words) => expect(plain(comparedWords(compared(was, now)))).toBe(words));

  it('says what messages would have cost, where any of them costs something', () => {
    const same = heard(1, []);
    expect(comparedWords(compared(same, same, 8_200, 5_850))).toMatch(/; messages would have cost 5\.85 instead of 8\.20$/);
    expect(comparedWords(compared(same, same, 120, 120))).toMatch(/cost 0\.12, as they did$/);
    expect(comparedWords(compared(same, same))).not.toMatch(/cost/);
  });

  it('names whom it concerns, and nobody else', () =>
    expect(
      personWords(
        compared(
          heard(3, [
            ['Ines', 9, 2],
            ['Tomasz', 4, 0],
          ]),
          heard(3, [
            ['Ines', 12, 3],
            ['Tomasz', 4, 0],
            ['Mei', 1, 1],
          ]),
        ),
      ).map(plain),
    ).toEqual(['Ines 12 times, 3 at night; it was 9 and 2', 'Mei 1 time, 1 at night; it was 0 and 0']));
});

describe('hours of a week', () => {
  const covered = (from: string, to: string, days: number[]) =>
    hoursOfWeek({ stretches: [{ days, from, to }] }).map((day) => day.filter(Boolean).length);
  it.each([
    ['08:00', '18:00', [1, 2, 3, 4, 5], [10, 10, 10, 10, 10, 0, 0]],
    ['22:00', '06:00', [7], [6, 0, 0, 0, 0, 0, 2]],
    ['00:00', '24:00', [6], [0, 0, 0, 0, 0, 24, 0]],
    ['08:30', '09:15', [1], [2, 0, 0, 0, 0, 0, 0]],
    ['09:00', '09:00', [1], [15, 9, 0, 0, 0, 0, 0]],
  ])('%s to %s of %j', (from, to, days, hours) => expect(covered(from, to, days)).toEqual(hours));
  it('are all of them where none are set', () => expect(hoursOfWeek(null).flat().every(Boolean)).toBe(true));
});

it('says whom a rung means, and what was changed', () => {
  const people = [{ address: 'ines@saltmarsh.example', name: 'Ines Duarte' }];
  expect(whoWords({ listener: 'person', name: 'ines@saltmarsh.example' }, people)).toBe('Ines Duarte');
  expect(whoWords({ listener: 'person', name: 'gone@saltmarsh.example' }, people)).toBe('gone@saltmarsh.example (gone)');
  expect(whoWords({ listener: 'team', name: 'piers' }, people)).toBe('team piers');
  expect(whoWords({ listener: 'on call', name: '' }, people)).toBe('on call');
  expect(whoWords({ listener: 'on call', name: 'piers' }, people)).toBe('roster piers');
  expect(whoWords({ listener: 'next on the roster', name: 'piers' }, people)).toBe('next on roster piers');
  expect(channelWords(['mail', 'pier-room'], { channels: ['mail', 'phone'] })).toEqual(['mail', 'pier-room (gone)']);
  expect(changeWords({ kind: 'path', name: 'boarding', what: 'added', fields: [] })).toBe('path boarding added');
  expect(
    changeWords({ kind: 'ladder', name: 'piers', what: 'changed', fields: [{ field: 'rung 2', was: 'on call', now: '' }] }),
  ).toBe('ladder piers changed: rung 2 on call → not set');
});
