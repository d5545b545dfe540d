import { memo } from 'react';
import type { Check } from '../../api/types';
import { clockSeconds } from '../../ui/format';
import { useZone } from '../../ui/session';
import { afterWords } from '../ticks';
import type { State } from './verdict';

const WIDTH = 220;
const FLOOR = 18;
const HIGHEST = 16;
const ASKINGS = 30;

type Asking = { at: number; how: 'ran' | 'partly' | 'failed' | 'paused'; ms: number };
const HOWS: Record<string, Asking['how']> = { '-': 'failed', '!': 'partly', '/': 'paused', '+': 'ran' };

/** The last askings from one place, oldest first, from `100+40 115-5000`: the second, how it went, how long it took. */
const askingsOf = (ticks: string): Asking[] =>
  [...ticks.matchAll(/(\d+)([-+!/])(\d*)/g)].map(([, second, sign, ms]) => ({
    at: Number(second) * 1000,
    how: HOWS[sign!]!,
    ms: Number(ms),
  }));

/** Against what a tick is high: what it is given, or twice what it usually takes. */
function fullHeightMs(askings: Asking[], slowMs: number | null): number {
  const took = askings
    .filter((one) => one.how === 'ran')
    .map((one) => one.ms)
    .sort((a, b) => a - b);
  return slowMs ?? Math.max(20, 2.5 * (took[Math.floor(took.length / 2)] ?? 0));
}

/** Each asking stands at its time, as high as it took long; a cross where it was down, an open mark where something failed. */
export const CheckRail = memo(function CheckRail({ check, state }: { check: Check; state: State }) {
  const zone = useZone();
  const askings = askingsOf(state.ticks);
  const full = fullHeightMs(askings, check.slowMs);
  const newest = askings.at(-1)?.at ?? 0;
  const x = (at: number) => WIDTH - 5 - ((newest - at) / (ASKINGS * check.intervalSeconds * 1000)) * (WIDTH - 10);
  const seen = askings.filter((one) => x(one.at) >= 3 && one.how !== 'paused');
  const path = (how: Asking['how'], draw: (at: number, one: Asking) => string) =>
    seen.map((one) => (one.how === how ? draw(x(one.at), one) : '')).join('');
  const height = (one: Asking) => 2.5 + Math.sqrt(Math.min(1, one.ms / full)) * (HIGHEST - 2.5);
  const bad = seen.filter((one) => one.how !== 'ran').length;
  const longest = Math.max(0, ...seen.map((one) => one.ms));
  return (
    <svg
      width={WIDTH}
      height="21"
      role="img"
      aria-label={
        seen.length === 0
          ? 'not asked yet'
          : `${seen.length - bad} of the last ${seen.length} well; the longest took ${afterWords(longest)}`
      }
      className="block"
      opacity={check.paused ? 0.4 : 1}
    >
      {seen.map((one) => (
        <rect key={one.at} x={x(one.at) - 3} y="0" width="6" height="21" fill="transparent">
          <title>{`${clockSeconds(one.at, zone)}: ${one.how === 'ran' ? `in ${afterWords(one.ms)}` : `${one.how}, after ${afterWords(one.ms)}`}`}</title>
        </rect>
      ))}
      <path d={`M0 ${FLOOR + 0.75}H${WIDTH}`} stroke="var(--line)" strokeWidth="1.5" />
      <g pointerEvents="none" fill="none">
        <path
          d={path('ran', (at, one) => `M${at.toFixed(1)} ${FLOOR}v${(-height(one)).toFixed(1)}`)}
          stroke="var(--accent)"
          strokeWidth="1.7"
        />
        <path
          d={path('failed', (at) => `M${(at - 2.2).toFixed(1)} ${FLOOR - 7}l4.4 4.4m-4.4 0l4.4 -4.4`)}
          stroke="var(--critical)"
          strokeWidth="1.5"
        />
        <path
          d={path('partly', (at) => `M${at.toFixed(1)} ${FLOOR - 8}l2.6 3.2l-2.6 3.2l-2.6 -3.2z`)}
          stroke="var(--major)"
          strokeWidth="1.3"
        />
      </g>
    </svg>
  );
});
