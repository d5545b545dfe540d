import { type MouseEvent, memo } from 'react';
import type { Target } from '../api/types';
import { clockSeconds } from '../ui/format';
import { useZone } from '../ui/session';
import { type Tick, afterWords, heightOf, ticksOf, tickWords } from './ticks';

const WIDTH = 132;
const FLOOR = 16;
const LOWEST = 2.5;
const HIGHEST = 14;
const SCRAPES = 30;

/**
 * Each of the last scrapes stands on the rail at its time, as high as it was late or slow; a cross where none was brought,
 * an open mark where it could not be taken, no rail where the target was paused.
 */
export const Rail = memo(function Rail({ target }: { target: Target }) {
  const zone = useZone();
  const ticks = ticksOf(target);
  const newest = ticks.at(-1)?.at ?? 0;
  const x = (at: number) => WIDTH - 4 - ((newest - at) / (SCRAPES * target.intervalSeconds * 1000)) * (WIDTH - 8);
  const seen = ticks.filter((tick) => x(tick.at) >= 2);
  const point = (event: MouseEvent<SVGSVGElement>) => {
    const at = event.nativeEvent.offsetX;
    const near = seen.reduce<Tick | undefined>(
      (best, tick) => (best && Math.abs(x(best.at) - at) <= Math.abs(x(tick.at) - at) ? best : tick),
      undefined,
    );
    const words =
      near?.how === 'paused'
        ? 'paused'
        : near && `${near.how}, ${near.how === 'failed' ? 'given up' : 'there'} ${afterWords(near.afterMs)} after its time`;
    event.currentTarget.querySelector('title')!.textContent =
      near && Math.abs(x(near.at) - at) <= 4 ? `${clockSeconds(near.at, zone)}: ${words}` : '';
  };
  const standing = (how: Tick['how']) =>
    seen
      .map((tick) => {
        if (tick.how !== how) return '';
        const height = LOWEST + heightOf(tick, target.intervalSeconds) * (HIGHEST - LOWEST);
        return `M${x(tick.at).toFixed(1)} ${FLOOR}v${(-height).toFixed(1)}`;
      })
      .join('');
  const crosses = seen
    .map((tick) => (tick.how === 'failed' ? `M${(x(tick.at) - 2).toFixed(1)} ${FLOOR - 6}l4 4m-4 0l4 -4` : ''))
    .join('');
  const opens = seen
    .map((tick) => (tick.how === 'refused' ? `M${x(tick.at).toFixed(1)} ${FLOOR - 7}l2.4 3l-2.4 3l-2.4 -3z` : ''))
    .join('');
  return (
    <svg
      width={WIDTH}
      height="18"
      role="img"
      aria-label={`${target.name}: ${tickWords(ticks)}`}
      className="block"
      opacity={target.paused ? 0.4 : 1}
      onMouseMove={point}
    >
      <title />
      <path d={railUnder(seen, x, target.intervalSeconds * 1000)} stroke="var(--line)" strokeWidth="1.5" fill="none" />
      <path d={standing('on time')} stroke="var(--accent)" strokeWidth="1.6" fill="none" />
      <path d={standing('late')} stroke="var(--minor)" strokeWidth="2.2" fill="none" />
      {crosses && <path d={crosses} stroke="var(--critical)" strokeWidth="1.4" fill="none" />}
      {opens && <path d={opens} stroke="var(--major)" strokeWidth="1.2" fill="none" />}
    </svg>
  );
});

/** The rail lies under each scrape for its interval, broken around those that brought nothing. */
function railUnder(ticks: Tick[], x: (at: number) => number, intervalMs: number): string {
  const half = intervalMs / 2;
  return ticks
    .map((tick) =>
      tick.how === 'paused' || tick.how === 'failed'
        ? ''
        : `M${x(tick.at - half).toFixed(1)} ${FLOOR + 0.75}H${x(tick.at + half).toFixed(1)}`,
    )
    .join('');
}
