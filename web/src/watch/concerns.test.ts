import { expect, it } from 'vitest';
import type { WatchData } from '../api/types';
import { type Whose, concerning } from './concerns';
import { inRows } from './hushes';

const row = (id: number, told: string[], holder: string | null = null, next: string | null = null) =>
  ({
    id,
    acknowledgedBy: holder,
    told: told.map((person) => ({ person })),
    next: next && { person: next },
  }) as WatchData['open'][number];
const data = {
  open: [row(1, ['Ines']), row(2, [], 'Tomasz'), row(3, []), row(4, [], null, 'Mei-Lin and Ines'), row(5, ['Oyelaran'])],
  teams: [
    { name: 'piers', people: ['Ines', 'Oyelaran'] },
    { name: 'desk', people: ['Tomasz'] },
  ],
};

it.each<[Whose, string, number[]]>([
  ['everything', 'Ines', [1, 2, 3, 4, 5]],
  ['mine', 'Ines', [1, 3, 4]],
  ['team', 'Ines', [1, 3, 4, 5]],
  ['team', 'Tomasz', [2, 3]],
  ['mine', 'Nobody', [3]],
])('%s of %s', (whose, self, ids) => expect(concerning(data, whose, self).map((one) => one.id)).toEqual(ids));

it('lays spans that overlap into rows', () => {
  const span = (name: string, from: number, to: number) => ({ id: 1, name, kind: 'mute' as const, from, to });
  const rows = inRows([span('b', 5, 15), span('a', 0, 10), span('c', 10, 20), span('d', 15, 16)]);
  expect(rows.map((one) => one.map((each) => each.name).join(' '))).toEqual(['a c', 'b d']);
});
