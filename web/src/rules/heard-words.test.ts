import { expect, it } from 'vitest';
import type { Heard } from '../api/types';
import { heardWords } from './heard-words';

const person = (name: string, messages: number, atNight: number) => ({ name, messages, atNight });

it.each<[string, Heard, string | null]>([
  ['nothing', { incidents: 0, people: [], unheard: 0 }, null],
  ['one, by day', { incidents: 1, people: [person('Ines', 1, 0)], unheard: 0 }, 'As 1 incident this would have told Ines once.'],
  [
    'several, some at night, one too quick',
    { incidents: 9, people: [person('Ines', 5, 2), person('Tomasz', 2, 2)], unheard: 1 },
    'As 9 incidents this would have told Ines 5 times (2 at night) and Tomasz twice (at night); 1 was over before anybody was reached.',
  ],
  ['nobody to tell', { incidents: 3, people: [], unheard: 3 }, 'As 3 incidents this would have told nobody.'],
  [
    'many people',
    { incidents: 30, people: ['A', 'B', 'C', 'D', 'E', 'F'].map((name) => person(name, 3, 0)), unheard: 2 },
    'As 30 incidents this would have told A 3 times, B 3 times, C 3 times, D 3 times and 2 others; 2 were over before anybody was reached.',
  ],
])('%s', (_, heard, words) => expect(heardWords(heard)?.replaceAll('\u00a0', ' ') ?? null).toBe(words));
