import { describe, expect, it } from 'vitest';
import { type Column, byText, nextSort, sorted, tableRows } from './rows';

type Pier = { name: string; queue: number };
const piers: Pier[] = [
  { name: 'pier-10', queue: 4 },
  { name: 'pier-2', queue: 9 },
  { name: 'pier-1', queue: 4 },
];
const columns: Column<Pier>[] = [
  { name: 'name', label: 'pier', track: '1fr', compare: (a, b) => byText(a.name, b.name), cell: () => null },
  { name: 'queue', label: 'queue', track: '90px', compare: (a, b) => a.queue - b.queue, mostFirst: true, cell: () => null },
  { name: 'curve', label: 'last hour', track: '90px', cell: () => null },
];
const names = (rows: Pier[]) => rows.map((one) => one.name);

describe('a table is sorted', () => {
  it.each([
    ['by name, as people count', { by: 'name', down: false }, ['pier-1', 'pier-2', 'pier-10']],
    ['the other way', { by: 'name', down: true }, ['pier-10', 'pier-2', 'pier-1']],
    ['most first, equals as they came', { by: 'queue', down: true }, ['pier-2', 'pier-10', 'pier-1']],
    ['least first, equals as they came', { by: 'queue', down: false }, ['pier-10', 'pier-1', 'pier-2']],
    ['by nothing that can be compared', { by: 'curve', down: false }, ['pier-10', 'pier-2', 'pier-1']],
  ])('%s', (_, sort, order) => expect(names(sorted(piers, columns, sort))).toEqual(order));

  it('by what is clicked: another column as it is looked for, the same turned round', () => {
    const byName = { by: 'name', down: false };
    expect(nextSort(byName, columns[1]!)).toEqual({ by: 'queue', down: true });
    expect(nextSort({ by: 'queue', down: true }, columns[1]!)).toEqual({ by: 'queue', down: false });
    expect(nextSort(byName, columns[0]!)).toEqual({ by: 'name', down: true });
  });

  it('within its groups', () => {
    const rows = tableRows(sorted(piers, columns, { by: 'name', down: false }), (pier) => `queue ${pier.queue}`);
    expect(rows.map((row) => (row.kind === 'group' ? `${row.name}: ${row.members.length}` : row.row.name))).toEqual([
      'queue 4: 2',
      'pier-1',
      'pier-10',
      'queue 9: 1',
      'pier-2',
    ]);
  });
});
