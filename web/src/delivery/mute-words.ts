import type { ShownMute } from '../api/types';
import { dayClock, many } from '../ui/format';

const DAYS: Record<string, string> = {
  MO: 'Monday',
  TU: 'Tuesday',
  WE: 'Wednesday',
  TH: 'Thursday',
  FR: 'Friday',
  SA: 'Saturday',
  SU: 'Sunday',
};
/** The day of the week of a local day: `SU` of 2026-11-29. */
export const weekday = (day: string): string =>
  ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'][new Date(`${day.slice(0, 10)}T00:00:00Z`).getUTCDay()]!;

/** `each Sunday`, `each day`, `every 3 days`, or the rule itself where it says more. */
export function recursWords(recurs: string): string {
  if (recurs === '') return 'once';
  const parts = Object.fromEntries(recurs.split(';').map((part) => part.split('=') as [string, string]));
  const { FREQ, BYDAY, INTERVAL, ...rest } = parts;
  if (Object.keys(rest).length === 0 && FREQ === 'DAILY' && !BYDAY) return INTERVAL ? `every ${INTERVAL} days` : 'each day';
  const days = BYDAY?.split(',').map((day) => DAYS[day]);
  if (Object.keys(rest).length === 0 && FREQ === 'WEEKLY' && !INTERVAL && days?.every((day) => day !== undefined))
    return `each ${days.join(' and ')}`;
  return `by ${recurs}`;
}

/** `hushes until Sat 28 Nov, 18:00`, `from Sun 29 Nov, 01:00`. */
export function whenWords(mute: ShownMute, zone: string): string {
  if (mute.begins === null) return 'does not come again within two months';
  return mute.isNow ? `until ${dayClock(mute.ends!, zone)}` : `from ${dayClock(mute.begins, zone)}`;
}

/** `hides 2 alerts that are up: Disk on web-3, Disk on web-4`. */
export function hidesWords(mute: Pick<ShownMute, 'hides' | 'titles'>): string {
  if (mute.hides === 0) return 'nothing is up beneath';
  const more = mute.hides - mute.titles.length;
  return `hides ${many(mute.hides, 'alert that is', 'alerts that are')} up: ${mute.titles.join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}

/** A filter for what has these labels, as it is written: `rule = "Disk" and host = "web-3"`. */
export function matchingOf(labels: Record<string, string>): string {
  return Object.entries(labels)
    .map(([name, value]) => `${name} = ${JSON.stringify(value)}`)
    .join(' and ');
}

/** The labels and values that all of these have. */
export function sharedBy(all: readonly Record<string, string>[]): Record<string, string> {
  const [first, ...rest] = all;
  return Object.fromEntries(Object.entries(first ?? {}).filter(([name, value]) => rest.every((one) => one[name] === value)));
}
