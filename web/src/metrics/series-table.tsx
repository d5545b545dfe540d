import clsx from 'clsx';
import { Sheet } from '../ui/controls';
import { quantity } from '../ui/format';
import { type TableRow, isUnusual } from './rows';

/** Each line with its figures: now, usual now, the range of the span, and how far it is from its twins. */
export function SeriesTable({
  rows,
  names,
  hidden,
  onToggle,
  more,
}: {
  rows: TableRow[];
  names: string[];
  hidden: ReadonlySet<string>;
  onToggle: (next: ReadonlySet<string>) => void;
  more: number;
}) {
  const toggle = (id: string, alone: boolean) => {
    if (alone)
      onToggle(
        hidden.size === rows.length - 1 && !hidden.has(id)
          ? new Set()
          : new Set(rows.map((row) => row.id).filter((one) => one !== id)),
      );
    else onToggle(new Set(hidden.has(id) ? [...hidden].filter((one) => one !== id) : [...hidden, id]));
  };
  const twins = rows.some((row) => row.apart !== null);
  const usual = rows.some((row) => row.usual !== null);
  const oddFirst = rows.toSorted((a, b) => Number(b.odd !== null) - Number(a.odd !== null));
  return (
    <Sheet className="overflow-x-auto" label="Series">
      <table className="w-full">
        <thead className="text-left text-muted">
          <tr>
            <th className="py-2 pl-4 font-normal">series</th>
            {['now', ...(usual ? ['usual now'] : []), 'lowest', 'mean', 'highest', ...(twins ? ['against twins'] : [])].map(
              (name) => (
                <th key={name} className="px-3 py-2 text-right font-normal whitespace-nowrap last:pr-4">
                  {name}
                </th>
              ),
            )}
          </tr>
        </thead>
        <tbody>
          {oddFirst.map((row) => {
            const present = row.values.filter((value): value is number => value !== null);
            const newest = row.values.at(-1) ?? null;
            const unusual = isUnusual(row);
            return (
              <tr
                key={row.id}
                className={clsx('border-t border-line', hidden.has(row.id) && 'text-muted', row.odd && 'font-semibold')}
              >
                <td className="py-1 pl-4">
                  <button
                    type="button"
                    aria-pressed={!hidden.has(row.id)}
                    title="Click: show or hide. With Alt: only this one."
                    onClick={(event) => toggle(row.id, event.altKey)}
                    className="flex items-center gap-2 text-left whitespace-nowrap"
                  >
                    <span
                      className={clsx('h-[3px] w-3.5 shrink-0 rounded', hidden.has(row.id) && 'opacity-25')}
                      style={{ background: row.hue }}
                    />
                    {names.length > 1 && names[row.formula] !== row.name && (
                      <span className="text-muted">{names[row.formula]}</span>
                    )}
                    {row.name || 'all'}
                  </button>
                </td>
                <td className="px-3 text-right font-semibold whitespace-nowrap">{quantity(newest, row.unit)}</td>
                {usual && (
                  <td className={clsx('px-3 text-right whitespace-nowrap', unusual && 'font-semibold text-minor')}>
                    {row.usual ? `${quantity(row.usual[0], row.unit)} to ${quantity(row.usual[1], row.unit)}` : '–'}
                  </td>
                )}
                <td className="px-3 text-right whitespace-nowrap">
                  {quantity(present.length ? Math.min(...present) : null, row.unit)}
                </td>
                <td className="px-3 text-right whitespace-nowrap">
                  {quantity(present.length ? present.reduce((sum, value) => sum + value, 0) / present.length : null, row.unit)}
                </td>
                <td className="px-3 text-right whitespace-nowrap">
                  {quantity(present.length ? Math.max(...present) : null, row.unit)}
                </td>
                {twins && (
                  <td className="pr-4 pl-3 text-right whitespace-nowrap">
                    {row.apart === null ? '–' : `${row.apart.toFixed(1)} MADs`}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      {more > 0 && (
        <p className="border-t border-line px-4 py-2 text-muted">
          {more} more series are not drawn; filter or group to see them.
        </p>
      )}
    </Sheet>
  );
}

/** The points themselves, newest first. */
export function ValuesTable({ times, rows, clock }: { times: number[]; rows: TableRow[]; clock: (at: number) => string }) {
  return (
    <div className="max-h-[330px] overflow-auto" tabIndex={0} role="group" aria-label="Values">
      <table className="w-full">
        <thead className="sticky top-0 bg-sheet text-left text-muted">
          <tr>
            <th className="px-3 py-1.5 font-normal">time</th>
            {rows.map((row) => (
              <th key={row.id} className="px-3 py-1.5 text-right font-normal">
                {row.name || 'value'}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {times
            .map((at, i) => ({ at, i }))
            .reverse()
            .slice(0, 500)
            .map(({ at, i }) => (
              <tr key={at} className="border-t border-line">
                <td className="px-3 py-0.5 whitespace-nowrap text-muted">{clock(at)}</td>
                {rows.map((row) => (
                  <td key={row.id} className="px-3 py-0.5 text-right whitespace-nowrap">
                    {quantity(row.values[i], row.unit)}
                  </td>
                ))}
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}
