import type { Target } from '../api/types';

export type How = 'on time' | 'late' | 'failed' | 'refused' | 'paused';
export type Tick = { at: number; how: How };

/** The last scrapes of a target, oldest first. One is late when the one before is more than an interval and a half away; after a pause none is. */
export function ticksOf({ ticks, intervalSeconds }: Pick<Target, 'ticks' | 'intervalSeconds'>): Tick[] {
  let before = Infinity;
  return ticks.split(' ').filter(Boolean).map((tick) => {
    const at = Number(tick.slice(0, -1)) * 1000;
    const sign = tick.at(-1);
    const late = at - before > intervalSeconds * 1500;
    before = sign === '/' ? Infinity : at;
    return { at, how: sign === '-' ? 'failed' : sign === '!' ? 'refused' : sign === '/' ? 'paused' : late ? 'late' : 'on time' };
  });
}

/** What a ribbon says to those who do not see it. */
export function tickWords(ticks: Tick[]): string {
  const scrapes = ticks.filter((tick) => tick.how !== 'paused');
  const bad = (['failed', 'refused', 'late'] as const).map((how) => [how, scrapes.filter((tick) => tick.how === how).length] as const).filter(([, count]) => count > 0);
  if (scrapes.length === 0) return 'no scrapes yet';
  return bad.length === 0 ? `all of the last ${scrapes.length} scrapes on time` : `of the last ${scrapes.length} scrapes ${bad.map(([how, count]) => `${count} ${how}`).join(', ')}`;
}
