/** Numbers, times, lists and counts as this application writes them: one place, so that they read alike everywhere. */

/** Between a value and its unit, which never part at a line's end. */
const TIE = '\u00a0';

const numbers = [0, 1, 2, 3, 4, 5, 6].map((digits) => new Intl.NumberFormat('en-US', { maximumFractionDigits: digits }));
const lists = new Intl.ListFormat('en-GB', { style: 'long', type: 'conjunction' });
const plurals = new Intl.PluralRules('en-GB');
const SMALL = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine'];

/** A value in the unit a person reads: `1.2 GiB`, `71 %`, `340 ms`, `1,284`. */
export function quantity(value: number | null | undefined, unit: string, digits?: number): string {
  if (value === null || value === undefined || !Number.isFinite(value)) return '–';
  if (unit === 'bytes' || unit === 'bytes per second') {
    const names = ['B', 'KiB', 'MiB', 'GiB', 'TiB', 'PiB'];
    let power = 0;
    while (Math.abs(value) >= 1024 && power < names.length - 1) {
      value /= 1024;
      power++;
    }
    return `${plain(value, digits)}${TIE}${names[power]}${unit === 'bytes' ? '' : '/s'}`;
  }
  if (unit === 'seconds') {
    const size = Math.abs(value);
    if (size < 1 && size > 0) return `${plain(value * 1000, digits)}${TIE}ms`;
    return size < 120 ? `${plain(value, digits)}${TIE}s` : `${value < 0 ? '-' : ''}${span(size * 1000)}`;
  }
  if (unit === 'ratio') return `${plain(value * 100, digits)}${TIE}%`;
  if (unit === 'per second') return `${plain(value, digits)}/s`;
  if (unit.endsWith(' per second')) return `${plain(value, digits)}${TIE}${unit.slice(0, -11)}/s`;
  return unit === '' ? plain(value, digits) : `${plain(value, digits)}${TIE}${unit}`;
}

export function plain(value: number, least = 0): string {
  const size = Math.abs(value);
  const usual = size >= 100 || Number.isInteger(value) ? 0 : size >= 10 ? 1 : size >= 1 ? 2 : 3;
  return numbers[Math.min(6, Math.max(usual, least))]!.format(value);
}

/** A whole number: `1,284`. */
export const whole = (value: number): string => numbers[0]!.format(value);

/** `one target`, `3,400 targets`; the other form where it is not made with an s. */
export function many(count: number, one: string, others = `${one}s`): string {
  return `${whole(count)}${TIE}${plurals.select(count) === 'one' ? one : others}`;
}

/** `one`, `two` … as a sentence says it, figures from ten on. */
const spelt = (count: number): string => SMALL[count] ?? whole(count);
/** The same where a sentence begins with it. */
export const Spelt = (count: number): string => spelt(count).replace(/^./, (letter) => letter.toUpperCase());

/** `broker-north, broker-south and web-1`. */
export const listed = (words: string[]): string => lists.format(words);

/** A sentence that came as text: its values stay with their units, too. */
export const tied = (sentence: string): string =>
  sentence.replace(/(\d) (?=(?:%|ms|s|min|h|d|B|[KMGTP]iB|[km]?B\/s|\/s)(?![\w/]))/g, `$1${TIE}`);

/** The ticks of an axis, each told from the next: `101 %, 100.5 %` where whole ones would read 101 %, 101 %. */
export function tickWords(ticks: number[], unit: string): string[] {
  for (let digits = 0; digits < 6; digits++) {
    const words = ticks.map((tick) => quantity(tick, unit, digits || undefined));
    if (new Set(words).size === words.length) return words;
  }
  return ticks.map((tick) => quantity(tick, unit, 6));
}

/** `372000` → `6 min`. */
export function span(milliseconds: number): string {
  const seconds = Math.floor(milliseconds / 1000);
  if (seconds < 60) return `${seconds}${TIE}s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return two(minutes, 'min', minutes >= 10 ? 0 : seconds % 60, 's');
  const hours = Math.floor(minutes / 60);
  return hours < 48 ? two(hours, 'h', minutes % 60, 'min') : two(Math.floor(hours / 24), 'd', hours % 24, 'h');
}
const two = (more: number, unit: string, less: number, below: string): string =>
  `${more}${TIE}${unit}${less === 0 ? '' : `${TIE}${less}${TIE}${below}`}`;

/** `3:41` until something. */
export function countdown(milliseconds: number): string {
  const seconds = Math.max(0, Math.floor(milliseconds / 1000));
  return seconds >= 3600 ? span(milliseconds) : `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`;
}

const formats = new Map<string, Intl.DateTimeFormat>();
function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options);
  let found = formats.get(key);
  if (!found) formats.set(key, (found = new Intl.DateTimeFormat('en-GB', { timeZone: zone, hourCycle: 'h23', ...options })));
  return found;
}
const CLOCK = { hour: '2-digit', minute: '2-digit' } as const;
export const clock = (at: number, zone: string) => format(zone, CLOCK).format(at);
export const clockSeconds = (at: number, zone: string) => format(zone, { ...CLOCK, second: '2-digit' }).format(at);
export const dayClock = (at: number, zone: string) =>
  format(zone, { weekday: 'short', day: 'numeric', month: 'short', ...CLOCK }).format(at);
export const day = (at: number, zone: string) => format(zone, { weekday: 'short', day: 'numeric' }).format(at);

/** Minutes past midnight in the zone. */
export function minuteOfDay(at: number, zone: string): number {
  const [hours, minutes] = clock(at, zone).split(':').map(Number);
  return (hours ?? 0) * 60 + (minutes ?? 0);
}

/** The zone's day, counted from the first of 1970; days next to each other differ by one, also over a clock change. */
export function dayNumber(at: number, zone: string): number {
  const parts = format(zone, { year: 'numeric', month: 'numeric', day: 'numeric' }).formatToParts(at);
  const part = (type: string) => Number(parts.find((one) => one.type === type)?.value);
  return Date.UTC(part('year'), part('month') - 1, part('day')) / 86_400_000;
}

const DIGITS = {
  year: 'numeric',
  month: 'numeric',
  day: 'numeric',
  hour: 'numeric',
  minute: 'numeric',
  second: 'numeric',
} as const;
/** How far the clocks of a zone are ahead of UTC at an instant, in milliseconds. */
export function clocksAhead(at: number, zone: string): number {
  const parts = format(zone, DIGITS).formatToParts(at);
  const part = (type: string) => Number(parts.find((one) => one.type === type)?.value);
  const shown = Date.UTC(part('year'), part('month') - 1, part('day'), part('hour'), part('minute'), part('second'));
  return shown - Math.floor(at / 1000) * 1000;
}
