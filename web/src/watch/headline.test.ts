import { expect, it } from 'vitest';
import type { WatchData } from '../api/types';
import { headlineOf } from './headline';

const calm = {
  open: [],
  broken: [],
  aside: [],
  away: [],
  unheard: [],
  parts: [{ name: 'collector', ageMs: 900 }],
  targets: { known: 3, paused: 0, onTime: 3, new: 0 },
  rulesInService: 4,
  stoodStill: [],
  cutOff: null,
  silentStations: [],
  now: Date.UTC(2026, 10, 27, 18),
  zone: 'UTC',
} as unknown as WatchData;
const incident = (status: string, hushedUntil: number | null = null) => ({ status, hushedUntil }) as WatchData['open'][number];
const broken = { ruleId: 1 } as unknown as WatchData['broken'][number];

it.each<[string, Partial<WatchData>, string]>([
  ['all as it should be', {}, 'All calm.'],
  [
    'an empty installation',
    { targets: { known: 0, paused: 0, onTime: 0, new: 0 }, rulesInService: 1 },
    'No target is read yet, so nothing is watched.',
  ],
  ['targets and no rule', { rulesInService: 0 }, 'No rule is in service, so nothing is watched.'],
  ['a silent target', { targets: { known: 3, paused: 0, onTime: 2, new: 0 } }, 'One target is silent.'],
  ['one that is paused', { targets: { known: 3, paused: 1, onTime: 2, new: 0 } }, 'All calm.'],
  ['a ladder that reaches nobody', { unheard: ['everything else'] }, 'Nobody would hear of what everything else answers for.'],
  [
    'a mail server that is away',
    { away: [{ name: 'e-mail', reason: 'nobody listens there', since: 1, isThere: false, waiting: 2 }] },
    'e-mail takes no messages.',
  ],
  [
    'a mail server that refuses one',
    { away: [{ name: 'e-mail', reason: '550 no such person', since: 1, isThere: true, waiting: 1 }] },
    'e-mail refuses some messages.',
  ],
  ['a broken rule', { broken: [broken] }, 'One rule is broken.'],
  [
    'a part that stands still',
    { parts: [{ name: 'evaluator', ageMs: 60_000 }] as WatchData['parts'] },
    'evaluator does not report.',
  ],
  ['an incident that nobody has', { open: [incident('open')], broken: [broken] }, 'One incident needs someone now.'],
  ['one that is hushed', { open: [incident('open', 5)] }, 'Nothing needs anyone new.'],
  [
    'one that is hushed, and one that is not',
    { open: [incident('open', 5), incident('open')] },
    'One incident needs someone now.',
  ],
  ['one that somebody has', { open: [incident('acknowledged')] }, 'Nothing needs anyone new.'],
])('%s', (_, part, expected) => expect(headlineOf({ ...calm, ...part }).strong.replaceAll('\u00A0', ' ')).toBe(expected));

it('says for an hour when nobody collected', () => {
  const at = (hour: number, minute: number) => Date.UTC(2026, 10, 27, hour, minute);
  const pale = (from: number, to: number) => headlineOf({ ...calm, stoodStill: [{ from, to }] }).pale;
  expect(pale(at(17, 24), at(17, 40))).toContain('Nobody collected from 17:24 to 17:40');
  expect(pale(at(14, 24), at(16, 40))).not.toContain('Nobody');
});

it.each([
  [
    'one place',
    { places: ['Skarn'], since: Date.UTC(2026, 10, 29, 5, 8), isAll: false },
    /^Skarn is cut off since \d\d:\d\d; verdicts/,
  ],
  [
    'all of them',
    { places: ['centre', 'Skarn'], since: Date.UTC(2026, 10, 29, 5, 8), isAll: true },
    /^We are the ones who are cut off/,
  ],
])('says that %s is cut off', (_, cutOff, words) => expect(headlineOf({ ...calm, cutOff }).strong).toMatch(words));

it('says of which stations nothing is heard', () =>
  expect(headlineOf({ ...calm, silentStations: ['Skarn', 'Greyhaven'] }).strong).toBe(
    'Nothing is heard of the stations at Skarn and Greyhaven.',
  ));
