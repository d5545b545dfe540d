import { clock, clockSeconds, day, dayNumber, minuteOfDay } from '../format';

const SECOND = 1_000;
const MINUTE = 60_000;
const QUARTER = 15 * MINUTE;
const DAY = 86_400_000;
/** Every zone is off by whole quarters of an hour, so that these fall on round times in all of them. */
const SHORT = [1, 2, 5, 10, 15, 30, 60, 120, 300].map((seconds) => seconds * SECOND);
const OF_A_DAY = [15, 30, 60, 120, 180, 360, 720, 1_440];
const DAYS = [2, 4, 7, 14, 28, 56, 112, 364];

/**
 * Round times of the zone's own day, at most about so many: hours stand on its full hours, also where it is off by half an
 * hour, and days on its midnights, also where one of them has 23 hours.
 */
export function timeSplits(from: number, to: number, zone: string, most: number): number[] {
  const length = to - from;
  if (!(length > 0)) return [];
  const short = SHORT.find((step) => length / step <= most);
  if (short !== undefined) return stepped(from, to, short);
  const minutes = OF_A_DAY.find((step) => length / MINUTE / step <= most);
  if (minutes !== undefined) return stepped(from, to, QUARTER).filter((at) => minuteOfDay(at, zone) % minutes === 0);
  const days = DAYS.find((step) => length / DAY / step <= most) ?? DAYS.at(-1)!;
  return midnights(from, to, zone).filter((at) => dayNumber(at, zone) % days === 0);
}

function midnights(from: number, to: number, zone: string): number[] {
  const found: number[] = [];
  for (let at = midnightOf(from + DAY, zone); at <= to; at = midnightOf(at + 1.5 * DAY, zone)) if (at >= from) found.push(at);
  return found;
}

/** The beginning of the zone's day: twice, since hours may have been left out or put in since. */
function midnightOf(at: number, zone: string): number {
  const quarter = Math.floor(at / QUARTER) * QUARTER;
  const near = quarter - minuteOfDay(quarter, zone) * MINUTE;
  const off = minuteOfDay(near, zone);
  return near + (off > 720 ? 1_440 - off : -off) * MINUTE;
}

/** At midnight and at the beginning the day is said, at other times the clock. */
export function timeWords(ticks: number[], zone: string): string[] {
  const step = Math.min(...ticks.slice(1).map((at, i) => at - ticks[i]!));
  const isLong = ticks.at(-1)! - ticks[0]! > 20 * 3_600_000 || ticks.some((at) => clock(at, zone) === '00:00');
  return ticks.map((at, i) => {
    if (minuteOfDay(at, zone) === 0 && at % MINUTE === 0) return day(at, zone);
    const words = step < MINUTE ? clockSeconds(at, zone) : clock(at, zone);
    return i === 0 && isLong ? `${day(at, zone)} ${words}` : words;
  });
}

function stepped(from: number, to: number, step: number): number[] {
  const first = Math.ceil(from / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, i) => first + i * step);
}
