import type { HoursDefinition } from '../api/types';
import { hoursOfWeek } from './plan-words';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const [CELL, GAP] = [9, 2];

/** The hours of a week as a small picture, a column a day; what it says is beside it in words. */
export function WeekGrid({ hours }: { hours: HoursDefinition | null }) {
  const week = hoursOfWeek(hours);
  return (
    <svg width={7 * (CELL + GAP) - GAP} height={24} aria-hidden className="block">
      {week.map((day, column) =>
        day.map((covered, hour) => (
          <rect
            key={`${DAYS[column]}-${hour}`}
            x={column * (CELL + GAP)}
            y={hour}
            width={CELL}
            height={0.8}
            className={covered ? 'fill-accent' : 'fill-line'}
          />
        )),
      )}
    </svg>
  );
}
