import { type MouseEvent, memo } from 'react';
import type { Target } from '../api/types';
import { clock } from '../ui/format';
import { useZone } from '../ui/session';

const TICKS = 30;
const PITCH = 4;
const LOOKS = {
  'on time': { hue: 'var(--accent)', y: 3, height: 12 },
  late: { hue: 'var(--minor)', y: 3, height: 12 },
  failed: { hue: 'var(--critical)', y: 10, height: 6 },
} as const;
type Tick = { at: number; x: number; how: keyof typeof LOOKS };

function ticksOf(target: Target): Tick[] {
  const ticks = target.ticks.split(' ').filter(Boolean);
  let before = Infinity;
  return ticks.map((tick, i) => {
    const at = Number(tick.slice(0, -1)) * 1000;
    const late = at - before > target.intervalSeconds * 1500;
    before = at;
    return { at, x: (TICKS - ticks.length + i) * PITCH + 2, how: tick.endsWith('-') ? 'failed' : late ? 'late' : 'on time' };
  });
}

/** Each of the last scrapes as a tick: tall on time, tall and yellow late, low and red failed. Drawn as three shapes, for there are thousands. */
export const Ribbon = memo(function Ribbon({ target }: { target: Target }) {
  const zone = useZone();
  const ticks = ticksOf(target);
  const point = (event: MouseEvent<SVGSVGElement>) => {
    const tick = ticks.find((one) => Math.abs(one.x + 1 - event.nativeEvent.offsetX) <= PITCH / 2);
    event.currentTarget.querySelector('title')!.textContent = tick ? `${clock(tick.at, zone)}: ${tick.how}` : '';
  };
  return (
    <svg width="124" height="18" role="img" aria-label={`${target.name}: ${ticks.filter((tick) => tick.how !== 'failed').length} of the last ${ticks.length} scrapes succeeded`} className="block" opacity={target.paused ? 0.4 : 1} onMouseMove={point}>
      <title />
      {Object.entries(LOOKS).map(([how, { hue, y, height }]) => {
        const shape = ticks.filter((tick) => tick.how === how).map(({ x }) => `M${x} ${y}h2.4v${height}h-2.4z`);
        return shape.length > 0 && <path key={how} d={shape.join('')} fill={hue} />;
      })}
    </svg>
  );
});
