import { type MouseEvent, memo } from 'react';
import type { Target } from '../api/types';
import { clock } from '../ui/format';
import { useZone } from '../ui/session';
import { type How, ticksOf, tickWords } from './ticks';

const TICKS = 30;
const PITCH = 4;
const LOOKS: Record<How, { hue: string; y: number; height: number; hollow?: boolean }> = {
  'on time': { hue: 'var(--accent)', y: 3, height: 12 },
  late: { hue: 'var(--minor)', y: 3, height: 12 },
  failed: { hue: 'var(--critical)', y: 10, height: 5 },
  refused: { hue: 'var(--major)', y: 6.5, height: 8, hollow: true },
  paused: { hue: 'var(--muted)', y: 13, height: 2 },
};

/** Each of the last scrapes as a tick: tall on time, tall and yellow late, low and red failed, hollow refused, a dash for a pause. Drawn as one shape a kind, for there are thousands. */
export const Ribbon = memo(function Ribbon({ target }: { target: Target }) {
  const zone = useZone();
  const ticks = ticksOf(target);
  const x = (i: number) => (TICKS - ticks.length + i) * PITCH + 2;
  const point = (event: MouseEvent<SVGSVGElement>) => {
    const tick = ticks.find((_, i) => Math.abs(x(i) + 1 - event.nativeEvent.offsetX) <= PITCH / 2);
    event.currentTarget.querySelector('title')!.textContent = tick ? `${clock(tick.at, zone)}: ${tick.how}` : '';
  };
  return (
    <svg width="124" height="18" role="img" aria-label={`${target.name}: ${tickWords(ticks)}`} className="block" opacity={target.paused ? 0.4 : 1} onMouseMove={point}>
      <title />
      {Object.entries(LOOKS).map(([how, { hue, y, height, hollow }]) => {
        const shape = ticks.map((tick, i) => (tick.how === how ? (hollow ? `M${x(i) + 0.4} ${y}h1.6v${height}h-1.6z` : `M${x(i)} ${y}h2.4v${height}h-2.4z`) : '')).join('');
        return shape && <path key={how} d={shape} fill={hollow ? 'none' : hue} stroke={hollow ? hue : 'none'} strokeWidth="0.9" />;
      })}
    </svg>
  );
});
