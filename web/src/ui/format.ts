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
    return `${plain(value, digits)} ${names[power]}${unit === 'bytes' ? '' : '/s'}`;
  }
  if (unit === 'seconds') {
    const size = Math.abs(value);
    if (size < 1 && size > 0) return `${plain(value * 1000, digits)} ms`;
    return size < 120 ? `${plain(value, digits)} s` : `${value < 0 ? '-' : ''}${span(size * 1000)}`;
  }
  if (unit === 'ratio') return `${plain(value * 100, digits)} %`;
  if (unit === 'per second') return `${plain(value, digits)}/s`;
  if (unit.endsWith(' per second')) return `${plain(value, digits)} ${unit.slice(0, -11)}/s`;
  return unit === '' ? plain(value, digits) : `${plain(value, digits)} ${unit}`;
}

const numbers = [0, 1, 2, 3, 4, 5, 6].map((digits) => new Intl.NumberFormat('en-US', { maximumFractionDigits: digits }));
export function plain(value: number, least = 0): string {
  const size = Math.abs(value);
  const usual = size >= 100 || Number.isInteger(value) ? 0 : size >= 10 ? 1 : size >= 1 ? 2 : 3;
  return numbers[Math.min(6, Math.max(usual, least))]!.format(value);
}

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
  if (seconds < 60) return `${seconds} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return seconds % 60 === 0 || minutes >= 10 ? `${minutes} min` : `${minutes} min ${seconds % 60} s`;
  const hours = Math.floor(minutes / 60);
  if (hours < 48) return minutes % 60 === 0 ? `${hours} h` : `${hours} h ${minutes % 60} min`;
  return hours % 24 === 0 ? `${hours / 24} d` : `${Math.floor(hours / 24)} d ${hours % 24} h`;
}

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
export const clock = (at: number, zone: string) => format(zone, { hour: '2-digit', minute: '2-digit' }).format(at);
export const clockSeconds = (at: number, zone: string) =>
  format(zone, { hour: '2-digit', minute: '2-digit', second: '2-digit' }).format(at);
export const dayClock = (at: number, zone: string) =>
  format(zone, { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }).format(at);
export const day = (at: number, zone: string) => format(zone, { weekday: 'short', day: 'numeric' }).format(at);
/** Minutes past midnight in the zone. */
export function minuteOfDay(at: number, zone: string): number {
  const [hours, minutes] = clock(at, zone).split(':').map(Number);
  return (hours ?? 0) * 60 + (minutes ?? 0);
}
