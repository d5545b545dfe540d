import type { Target } from '../api/types';
import { span } from '../ui/format';

export type How = 'on time' | 'late' | 'failed' | 'refused' | 'paused';
/** `afterMs`: how long after its time its answer was there, or was given up on. */
export type Tick = { at: number; how: How; afterMs: number };

const HOWS: Record<string, How> = { '-': 'failed', '!': 'refused', '/': 'paused' };

/**
 * The last scrapes of a target, oldest first, from `100+40 115+9000`: the second, how it went, milliseconds after its time.
 * One is late when its answer was there more than half an interval after its time, or when one before it is missing; after a pause none is missing.
 */
export function ticksOf({ ticks, intervalSeconds }: Pick<Target, 'ticks' | 'intervalSeconds'>): Tick[] {
  const interval = intervalSeconds * 1000;
  let before = Infinity;
  return [...ticks.matchAll(/(\d+)([-+!/])(\d*)/g)].map(([, second, sign, after]) => {
    const at = Number(second) * 1000;
    const missing = at - before > interval * 1.5 ? at - before - interval : 0;
    const afterMs = Math.max(Number(after), missing);
    before = sign === '/' ? Infinity : at;
    return { at, afterMs, how: HOWS[sign!] ?? (afterMs > interval / 2 ? 'late' : 'on time') };
  });
}

/** How high a tick stands, 0 to 1: a whole interval after its time is as high as it goes; what is small shows all the same. */
export const heightOf = (tick: Pick<Tick, 'afterMs'>, intervalSeconds: number): number =>
  Math.sqrt(Math.min(1, tick.afterMs / (intervalSeconds * 1000)));

/** `+`, `-`, `!` or `/` of the newest scrape; nothing before the first. */
export const lastSign = (ticks: string): string => /([-+!/])\d*$/.exec(ticks)?.[1] ?? '';

export const afterWords = (milliseconds: number): string =>
  milliseconds < 1000
    ? `${Math.round(milliseconds)} ms`
    : milliseconds < 10_000
      ? `${(milliseconds / 1000).toFixed(1)} s`
      : span(milliseconds);

/** What a rail says to those who do not see it. */
export function tickWords(ticks: Tick[]): string {
  const scrapes = ticks.filter((tick) => tick.how !== 'paused');
  if (scrapes.length === 0) return 'no scrapes yet';
  const bad = (['failed', 'refused', 'late'] as const)
    .map((how) => [how, scrapes.filter((tick) => tick.how === how).length] as const)
    .filter(([, count]) => count > 0);
  const taken = scrapes.filter((tick) => tick.how === 'on time' || tick.how === 'late').map((tick) => tick.afterMs);
  const latest = taken.length > 0 ? `; the latest ${afterWords(Math.max(...taken))} after its time` : '';
  return (
    (bad.length === 0
      ? `all of the last ${scrapes.length} scrapes on time`
      : `of the last ${scrapes.length} scrapes ${bad.map(([how, count]) => `${count} ${how}`).join(', ')}`) + latest
  );
}
