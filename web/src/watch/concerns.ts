import type { WatchData } from '../api/types';

type Row = WatchData['open'][number];
export type Whose = 'everything' | 'team' | 'mine';

/** Who was told of it, hears next, or has it in hand. */
const concerned = (row: Row): (string | null)[] => [
  row.acknowledgedBy,
  ...row.told.map((one) => one.person),
  ...(row.next ? row.next.person.split(/, | and /) : []),
];

/** Those that concern somebody, or anybody of a team that they are in; whatever nobody was told of concerns everybody. */
export function concerning(data: Pick<WatchData, 'open' | 'teams'>, whose: Whose, self: string): Row[] {
  if (whose === 'everything') return data.open;
  const mates = new Set([
    self,
    ...(whose === 'team' ? data.teams.filter((team) => team.people.includes(self)).flatMap((team) => team.people) : []),
  ]);
  return data.open.filter((row) => {
    const people = concerned(row).filter((one): one is string => one !== null && one !== '');
    return people.length === 0 || people.some((one) => mates.has(one));
  });
}
