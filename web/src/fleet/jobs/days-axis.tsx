import { clock, clocksAhead, day } from '../../ui/format';
import { useZone } from '../../ui/session';

const HOUR_MS = 3_600_000;
const ROOM = 64;

/** Marks on the hours or days of the viewer's zone, as many as there is room for. */
export function DaysAxis({ from, to, width }: { from: number; to: number; width: number }) {
  const zone = useZone();
  const step = [1, 2, 3, 6, 12, 24, 48, 72].map((hours) => hours * HOUR_MS).find((ms) => (ms / (to - from)) * width >= ROOM);
  if (!step) return null;
  const ahead = clocksAhead(from, zone);
  const marks: number[] = [];
  for (let wall = Math.ceil((from + ahead) / step) * step; wall - ahead < to; wall += step) {
    // Behind a change of the clocks a mark still stands on the full hour.
    marks.push(wall - clocksAhead(wall - ahead, zone));
  }
  return (
    <div className="relative h-5 text-[12px] text-muted tabular-nums" style={{ width }} aria-hidden>
      {marks.map((at) => {
        const left = ((at - from) / (to - from)) * width;
        return (
          left < width - 40 && (
            <span key={at} className="absolute border-l border-line pl-1" style={{ left }}>
              {step >= 24 * HOUR_MS || clock(at, zone) === '00:00' ? day(at, zone) : clock(at, zone)}
            </span>
          )
        );
      })}
    </div>
  );
}
