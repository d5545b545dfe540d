import clsx from 'clsx';
import type { ShownFairness } from '../api/types';
import { Sheet } from '../ui/controls';
import { whole } from '../ui/format';

const FIELDS = [
  ['hours', 'hours'],
  ['nights', 'nights'],
  ['weekends', 'weekend days'],
  ['wakings', 'woken'],
] as const;

/** Who carried how much of a roster. */
export function FairnessSheet({ fairness, title }: { fairness: ShownFairness; title: string }) {
  return (
    <Sheet label={title} className="p-4">
      <h2>{title}</h2>
      <p className={clsx('mt-1', (fairness.times ?? 0) >= 1.5 && 'font-semibold text-critical')}>{fairness.words}</p>
      <FairnessTable fairness={fairness} />
      <p className="mt-2 text-[13px] text-muted">
        A night is 22:00 to 06:00 and counts for whoever had half of it or more; woken counts what really rang in one.
      </p>
    </Sheet>
  );
}

export function FairnessTable({ fairness }: { fairness: ShownFairness }) {
  const most = Math.max(1, ...fairness.shares.map((one) => one.nights));
  const hasHolidays = fairness.shares.some((one) => one.holidays > 0);
  return (
    <table className="mt-2 w-full">
      <thead className="text-right text-[12px] text-muted">
        <tr>
          <th className="text-left font-normal">
            <span className="sr-only">Who</span>
          </th>
          {FIELDS.map(([name, words]) => (
            <th key={name} className="pl-2 font-normal">
              {words}
            </th>
          ))}
          {hasHolidays && <th className="pl-2 font-normal">holidays</th>}
        </tr>
      </thead>
      <tbody>
        {fairness.shares.map((one) => (
          <tr key={one.personId} className="border-t border-line text-right">
            <th className="py-1.5 text-left font-normal">
              {one.person}
              <span className="mt-0.5 block h-1 rounded-full bg-future" aria-hidden>
                <span
                  className={clsx(
                    'block h-1 rounded-full',
                    one.nights === most && (fairness.times ?? 0) >= 1.5 ? 'bg-critical' : 'bg-accent',
                  )}
                  style={{ width: `${(one.nights / most) * 100}%` }}
                />
              </span>
            </th>
            {FIELDS.map(([name]) => (
              <td key={name} className="pl-2">
                {whole(Math.round(one[name]))}
              </td>
            ))}
            {hasHolidays && <td className="pl-2">{one.holidays}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
