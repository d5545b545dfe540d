import type { Target } from '../api/types';
import { clock } from '../ui/format';
import { useZone } from '../ui/session';

const TICKS = 30;

/** Each of the last scrapes as a tick: tall on time, tall and yellow late, low and red failed. */
export function Ribbon({ target }: { target: Target }) {
  const zone = useZone();
  const ticks = target.ticks.split(' ').filter(Boolean).map((tick): [number, boolean] => [Number(tick.slice(0, -1)) * 1000, tick.endsWith('+')]);
  const failed = ticks.filter(([, ok]) => !ok).length;
  return (
    <svg width="124" height="18" role="img" aria-label={`${target.name}: ${ticks.length - failed} of the last ${ticks.length} scrapes succeeded`} className="block">
      {ticks.map(([at, ok], i) => {
        const late = i > 0 && at - ticks[i - 1]![0] > target.intervalSeconds * 1500;
        return (
          <rect key={at} x={(TICKS - ticks.length + i) * 4 + 2} y={ok ? 3 : 10} width="2.4" height={ok ? 12 : 6} fill={ok ? (late ? 'var(--minor)' : 'var(--accent)') : 'var(--critical)'} opacity={target.paused ? 0.4 : 1}>
            <title>{`${clock(at, zone)}: ${ok ? (late ? 'late' : 'on time') : 'failed'}`}</title>
          </rect>
        );
      })}
    </svg>
  );
}
