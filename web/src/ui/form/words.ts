import { clocksAhead } from '../format';

/** What people type into fields and what it means: `5m`, `1h 30min`, `80 %`, `2GiB`, `400 MB`, `250ms`, `1.5k`. */

const SECONDS: Record<string, number> = { ms: 0.001, s: 1, min: 60, m: 60, h: 3_600, d: 86_400, w: 604_800 };
const BYTES: Record<string, number> = Object.fromEntries([
  ['B', 1],
  ...['k', 'M', 'G', 'T', 'P'].map((letter, i) => [`${letter}B`, 1_000 ** (i + 1)]),
  ...['K', 'M', 'G', 'T', 'P'].map((letter, i) => [`${letter}iB`, 1_024 ** (i + 1)]),
]) as Record<string, number>;
const THOUSANDS: Record<string, number> = { '': 1, k: 1e3, M: 1e6, G: 1e9 };

/** Seconds of a duration in words, null where it is none; a bare number counts seconds. */
export function durationOf(text: string): number | null {
  const words = text.trim().replace(/\s+/g, '');
  if (/^\d+(\.\d+)?$/.test(words)) return Number(words);
  if (!/^(\d+(\.\d+)?(ms|min|[smhdw]))+$/.test(words)) return null;
  let seconds = 0;
  for (const [, number, unit] of words.matchAll(/(\d+(?:\.\d+)?)(ms|min|[smhdw])/g)) seconds += Number(number) * SECONDS[unit!]!;
  return seconds;
}

/** `5400` → `1h30m`: the largest units that say it exactly. */
export function durationWords(seconds: number): string {
  let rest = Math.round(seconds);
  let words = '';
  for (const [unit, size] of [
    ['d', 86_400],
    ['h', 3_600],
    ['m', 60],
    ['s', 1],
  ] as const) {
    const count = Math.floor(rest / size);
    rest -= count * size;
    if (count > 0) words += `${count}${unit}`;
  }
  return words || '0s';
}

/** The value in base units of what stands in a field of a unit, null where it says nothing that can be meant. */
export function valueOf(text: string, unit: string): number | null {
  const [, number, suffix = ''] = /^([-+]?(?:\d[\d,]*\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([a-zA-Zµ%/]*)$/i.exec(text.trim()) ?? [];
  if (unit === 'seconds') return durationOf(text.trim().replace(/^-/, '')) === null ? null : signed(text);
  if (number === undefined) return null;
  const factor =
    unit === 'ratio'
      ? { '': 0.01, '%': 0.01 }[suffix]
      : unit.startsWith('bytes')
        ? { '': 1, ...BYTES }[suffix.replace(/\/s$/, '')]
        : { ...THOUSANDS, [unit]: 1, '/s': unit.endsWith('per second') ? 1 : undefined }[suffix];
  const value = factor === undefined ? NaN : Number(number.replaceAll(',', '')) * factor;
  // 0.07 of 100 is 7, not 7.000000000000001.
  return Number.isFinite(value) ? Number(value.toPrecision(12)) : null;
}
const signed = (text: string): number => (text.trim().startsWith('-') ? -1 : 1) * durationOf(text.trim().replace(/^-/, ''))!;

/** How a value stands in a field of a unit; read back, it is the same value. */
export function valueWords(value: number, unit: string): string {
  if (unit === 'ratio') return `${plainly(value * 100)} %`;
  if (unit === 'seconds')
    return Number.isInteger(value) && Math.abs(value) >= 60 ? minus(value, durationWords) : `${plainly(value)}s`;
  if (unit.startsWith('bytes') && value !== 0) {
    const [name, size] = Object.entries(BYTES)
      .filter(([, one]) => one <= Math.abs(value) && Number.isInteger((value / one) * 1_000))
      .sort(([, a], [, b]) => b - a)[0] ?? ['', 1];
    return name === '' ? plainly(value) : `${plainly(value / size)} ${name}`;
  }
  return plainly(value);
}
const plainly = (value: number): string => {
  const words = String(Number(value.toPrecision(12)));
  return words.includes('e-') ? value.toFixed(20).replace(/0+$/, '') : words;
};
const minus = (value: number, words: (value: number) => string): string => (value < 0 ? '-' : '') + words(Math.abs(value));

/** What may be typed, with an example, for the help of a field. */
export const unitHelp = (unit: string): string =>
  unit === 'ratio'
    ? 'a share, such as 80 %'
    : unit === 'seconds'
      ? 'a duration, such as 250ms or 5m'
      : unit.startsWith('bytes')
        ? 'a size, such as 400 MB or 2 GiB'
        : 'a number, such as 400 or 1.5k';

/**
 * The instant at which the clocks of a zone show `2026-11-20 03:12`, or midnight of `2026-11-20`; null where that is no time.
 * Of an hour that is there twice it is the first, and an hour that is left out is no time.
 */
export function instantOf(text: string, zone: string): number | null {
  const parts = /^(\d{4})-(\d\d)-(\d\d)(?:[ T](\d\d):(\d\d)|)$/.exec(text.trim());
  if (parts === null) return null;
  const [year, month, day, hour, minute] = parts.slice(1).map((part) => Number(part || 0)) as [
    number,
    number,
    number,
    number,
    number,
  ];
  const shown = Date.UTC(year, month - 1, day, hour, minute);
  // The clocks are never ahead by more than a day, so the zone's offset then is one of these two.
  const found = [clocksAhead(shown - 86_400_000, zone), clocksAhead(shown + 86_400_000, zone)].map((offset) => shown - offset);
  const instants = found.filter(
    (at) => instantWords(at, zone) === instantWords(shown, 'UTC') && new Date(shown).getUTCDate() === day,
  );
  return instants.length === 0 ? null : Math.min(...instants);
}

/** How an instant stands in a field: what the clocks of the zone show, `2026-11-20 03:12`. */
export const instantWords = (at: number, zone: string): string =>
  new Date(at + clocksAhead(at, zone)).toISOString().slice(0, 16).replace('T', ' ');
