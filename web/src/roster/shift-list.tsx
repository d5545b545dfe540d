import type { ShownCover, ShownRoster } from '../api/types';
import { Button } from '../ui/controls';
import { dayClock } from '../ui/format';
import { useNow } from '../ui/use-now';
import { type Wanted, awayAt, coverWords, isGap } from './calendar';

type Props = { roster: ShownRoster; zone: string; onCover: (wanted: Wanted) => void; onAnswer: (cover: ShownCover) => void };
/** The same for a thumb: who is on call, one below the other, and what is asked. */
export function ShiftList({ roster, zone, onCover, onAnswer }: Props) {
  const now = useNow();
  const coming = roster.shifts.filter((one) => one.to > now);
  return (
    <div className="sm:hidden">
      {roster.covers
        .filter((one) => one.state === 'asked')
        .map((one) => (
          <p key={one.id} className="flex items-center justify-between gap-2 border-b border-line py-2">
            <span>{coverWords(one)}</span>
            <Button onClick={() => onAnswer(one)}>{one.mayAnswer ? 'Answer' : 'See'}</Button>
          </p>
        ))}
      <ol className="divide-y divide-line">
        {coming.map((shift) => (
          <li key={shift.from} className="flex items-center justify-between gap-3 py-2.5">
            <span>
              <span className={isGap(shift) ? 'font-semibold text-critical' : 'font-semibold'}>
                {shift.person ?? (isGap(shift) ? 'no one' : 'nobody planned')}
              </span>
              <span className="block text-[13px] text-muted">
                {dayClock(shift.from, zone)} to {dayClock(shift.to, zone)}
              </span>
            </span>
            {(shift.personId !== null || isGap(shift)) && (
              <Button
                onClick={() =>
                  onCover({ from: shift.from, to: shift.to, forId: shift.personId ?? awayAt(roster, shift.from), personId: null })
                }
              >
                Cover
              </Button>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}
