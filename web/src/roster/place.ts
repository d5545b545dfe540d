/** A span of time laid out from left to right. */
export type Scale = { from: number; to: number };

/** Where a stretch lies in it, in percent; null where it does not. */
export function placed(scale: Scale, from: number, to: number): { left: string; width: string } | null {
  const [begin, end] = [Math.max(from, scale.from), Math.min(to, scale.to)];
  if (end <= begin) return null;
  const whole = scale.to - scale.from;
  return { left: `${((begin - scale.from) / whole) * 100}%`, width: `${((end - begin) / whole) * 100}%` };
}

const HOUR = 3_600_000;
/** The whole hour nearest to a place, 0 to 1. */
export function hourAt(scale: Scale, share: number): number {
  const at = scale.from + Math.min(1, Math.max(0, share)) * (scale.to - scale.from);
  return scale.from + Math.round((at - scale.from) / HOUR) * HOUR;
}

/** One colour for each, in the order of their ids; the ninth has that of the first. */
export function hues(people: number[]): (person: number | null) => string {
  const known = [...new Set(people)].sort((a, b) => a - b);
  return (person) => (person === null ? 'transparent' : `var(--who-${(Math.max(0, known.indexOf(person)) % 8) + 1})`);
}
