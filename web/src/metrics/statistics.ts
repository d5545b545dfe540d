type Values = (number | null)[];

export function quantile(share: number, sorted: number[]): number {
  const place = share * (sorted.length - 1);
  const low = Math.floor(place);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low]! + (place - low) * (sorted[high]! - sorted[low]!);
}

const MAD_SCALE = 1.4826;
/** From this many MADs on a twin is called the odd one. */
const APART = 5;

/** Distance of each line from the median of all at each instant, in scaled MADs; null where it has no value. */
export function distances(lines: Values[]): Values[] {
  const count = lines[0]?.length ?? 0;
  const found: Values[] = lines.map(() => []);
  for (let i = 0; i < count; i++) {
    const present = lines.map((line) => line[i]).filter((value): value is number => value !== null && value !== undefined);
    const sorted = present.toSorted((a, b) => a - b);
    const median = sorted.length ? quantile(0.5, sorted) : 0;
    const mad = sorted.length
      ? MAD_SCALE *
        quantile(
          0.5,
          sorted.map((value) => Math.abs(value - median)).toSorted((a, b) => a - b),
        )
      : 0;
    lines.forEach((line, n) => {
      const value = line[i];
      found[n]!.push(
        value === null || value === undefined ? null : value === median ? 0 : mad > 0 ? Math.abs(value - median) / mad : null,
      );
    });
  }
  return found;
}

/**
 * The one line that stands apart from its twins up to now, and since which instant.
 * Among three lines or fewer nobody can say who is the odd one.
 */
export function oddOne(lines: Values[]): { line: number; since: number; distance: number } | null {
  if (lines.length < 4) return null;
  const apart = distances(lines);
  // A lone instant is noise: what counts is the middle of the last few.
  const recent = apart.map((line) => {
    const last = line.slice(-12).filter((value): value is number => value !== null);
    return last.length < 3
      ? 0
      : quantile(
          0.5,
          last.toSorted((a, b) => a - b),
        );
  });
  const far = recent.map((distance, line) => ({ distance, line })).filter((one) => one.distance > APART);
  if (far.length !== 1) return null;
  const odd = far[0]!;
  const own = apart[odd.line]!;
  let since = own.length - 1;
  let calm = 0;
  for (let i = own.length - 1; i >= 0 && calm < 6; i--) {
    if ((own[i] ?? 0) > APART / 2) {
      since = i;
      calm = 0;
    } else calm++;
  }
  return { line: odd.line, since, distance: odd.distance };
}

export type Distribution = {
  low: number;
  high: number;
  bins: number[];
  count: number;
  median: number;
  p95: number;
  p995: number;
};

/** How often which value: counted in bins of equal height. */
export function distribution(lines: Values[], bins = 36): Distribution | null {
  const values = lines
    .flat()
    .filter((value): value is number => value !== null)
    .sort((a, b) => a - b);
  if (values.length < 2) return null;
  const low = values[0]!;
  const high = values.at(-1)!;
  const counts = Array.from({ length: bins }, () => 0);
  for (const value of values) counts[high === low ? 0 : Math.min(bins - 1, Math.floor(((value - low) / (high - low)) * bins))]!++;
  return {
    low,
    high,
    bins: counts,
    count: values.length,
    median: quantile(0.5, values),
    p95: quantile(0.95, values),
    p995: quantile(0.995, values),
  };
}

/** Which share of the values lies above a limit. */
export function shareAbove(lines: Values[], limit: number): number {
  const values = lines.flat().filter((value): value is number => value !== null);
  return values.length === 0 ? 0 : values.filter((value) => value > limit).length / values.length;
}

/** Each line on top of the ones before it; a line's gap adds nothing, and where all have a gap there is one. */
export function stacked(lines: Values[]): Values[] {
  const sums: number[] = [];
  const isGap = (lines[0] ?? []).map((_, i) => lines.every((line) => line[i] === null));
  return lines.map((line) => line.map((value, i) => (isGap[i] ? null : (sums[i] = (sums[i] ?? 0) + (value ?? 0)))));
}

/** The middle one of the last few values: one noisy reading is not the present. */
export function middleOfLast(values: Values): number | null {
  const last = values.slice(-7).filter((value): value is number => value !== null);
  return last.length === 0
    ? null
    : quantile(
        0.5,
        last.toSorted((a, b) => a - b),
      );
}
