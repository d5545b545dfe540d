const MOST = 5.2;
const SECONDS = [
  30, 60, 120, 300, 600, 1800, 3600, 7200, 10_800, 21_600, 43_200, 86_400, 172_800, 604_800, 1_209_600, 2_592_000, 7_776_000,
];

/** Numbers along an axis, round in their unit: powers of two for bytes, minutes, hours and days for seconds. */
export function niceSplits(low: number, high: number, unit: string): number[] {
  const range = high - low;
  if (!(range > 0) || !Number.isFinite(range)) return [low];
  const step =
    (unit === 'seconds' && high > 120 && SECONDS.find((candidate) => range / candidate <= MOST)) || roundStep(range, unit);
  const splits: number[] = [];
  for (let at = Math.ceil(low / step - 1e-9); at * step <= high + step * 1e-9; at++) splits.push(at * step || 0);
  return splits;
}

function roundStep(range: number, unit: string): number {
  // What is beyond months of seconds counts days by the ten and the hundred.
  const whole = unit === 'seconds' && range > SECONDS.at(-1)! * MOST ? 86_400 : 1;
  const bytes = unit.startsWith('bytes');
  const base = bytes ? 2 ** Math.floor(Math.log2(range / 4)) : whole * 10 ** Math.floor(Math.log10(range / whole / 4));
  return (
    [1, 2, 2.5, 5, 10]
      .map((factor) => base * (bytes ? Math.max(1, 2 ** Math.round(Math.log2(factor))) : factor))
      .find((candidate) => range / candidate <= MOST) ?? base * 10
  );
}
