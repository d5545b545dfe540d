import type { ReactNode } from 'react';

export type Column<T> = {
  name: string;
  label: string;
  title?: string;
  /** Its place in the grid, such as `90px` or `minmax(180px,1.5fr)`. */
  track: string;
  right?: boolean;
  /** Ascending; a column without it cannot be sorted by. */
  compare?: (a: T, b: T) => number;
  /** Sorted downwards at the first click: what is most is looked for. */
  mostFirst?: boolean;
  /** Cannot be hidden: it says which row this is. */
  stays?: boolean;
  /** Not shown until somebody wants to see it. */
  extra?: boolean;
  cell: (row: T) => ReactNode;
};
export type Sort = { by: string; down: boolean };
export type TableRow<T> = { kind: 'group'; name: string; members: T[] } | { kind: 'row'; row: T };

const collator = new Intl.Collator('en', { numeric: true });
/** `web-2` before `web-10`. */
export const byText = (a: string, b: string): number => collator.compare(a, b);

/** Another column begins as it is looked for; the same one again is turned round. */
export const nextSort = <T>(sort: Sort, { name, mostFirst = false }: Column<T>): Sort =>
  sort.by === name ? { by: name, down: !sort.down } : { by: name, down: mostFirst };

/** Rows that are alike in the column keep the order they came in, both ways. */
export function sorted<T>(rows: readonly T[], columns: readonly Column<T>[], { by, down }: Sort): T[] {
  const compare = columns.find((column) => column.name === by)?.compare;
  return compare ? rows.toSorted((a, b) => (down ? compare(b, a) : compare(a, b))) : [...rows];
}

/** With groups, each under its head; the groups stand by their names. */
export function tableRows<T>(rows: readonly T[], groupOf?: (row: T) => string): TableRow<T>[] {
  const rowsOf = (members: readonly T[]): TableRow<T>[] => members.map((row) => ({ kind: 'row', row }));
  if (!groupOf) return rowsOf(rows);
  const groups = new Map<string, T[]>();
  for (const row of rows) {
    const name = groupOf(row);
    const members = groups.get(name);
    if (members) members.push(row);
    else groups.set(name, [row]);
  }
  return [...groups]
    .sort(([a], [b]) => byText(a, b))
    .flatMap(([name, members]): TableRow<T>[] => [{ kind: 'group', name, members }, ...rowsOf(members)]);
}
