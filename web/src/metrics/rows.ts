import type { ChartData, UsualBands } from '../api/types';
import { lineHue } from '../ui/chart/hues';
import type { Look } from './look';
import { named, twins } from './names';
import { labelKey } from '../ui/label-key';
import { distances, middleOfLast, oddOne, quantile } from './statistics';

/** A line of the chart with all that is told of it. */
export type TableRow = {
  id: string;
  formula: number;
  name: string;
  hue: string;
  unit: string;
  values: (number | null)[];
  usual: [number, number] | null;
  apart: number | null;
  twins: number;
  odd: string | null;
};

export const MOST_ROWS = 6;
const [LEAST_TWINS, MOST_TWINS] = [4, 60];

/** Outside its usual range for some readings now, the newest among them. */
const newest = (values: (number | null)[] | undefined) => values?.findLast((value): value is number => value !== null);

export function isUnusual(row: TableRow): boolean {
  const outside = (value: number | null | undefined) =>
    row.usual !== null && value !== null && value !== undefined && (value < row.usual[0] || value > row.usual[1]);
  return outside(middleOfLast(row.values)) && outside(row.values.findLast((value) => value !== null));
}

/** Values come now, and what is usual for them is known: only then can they be within it. */
const isKnown = (row: TableRow): boolean => row.usual !== null && row.values.slice(-3).some((value) => value !== null);

/** Says in one sentence what stands out. */
export function headline(rows: TableRow[], metric: string): string {
  const odd = rows.find((row) => row.odd !== null);
  if (odd) return `${odd.name} stands apart from its ${odd.twins} twins ${odd.odd}.`;
  const unusual = rows.filter(isUnusual);
  if (unusual.length === 1) return `${unusual[0]!.name || metric} is outside its usual range.`;
  if (unusual.length > 1) return `${unusual.length} of ${rows.length} are outside their usual range.`;
  return rows.some(isKnown) ? `${metric} is within its usual range.` : metric || 'Metrics';
}

export function tableRows(
  datas: (ChartData | undefined)[],
  bands: UsualBands | undefined,
  times: number[],
  clock: (at: number) => string,
  looks: Look[] = [],
): TableRow[] {
  let hue = 0;
  return datas.flatMap((data, i) => {
    if (!data) return [];
    const look = looks[i] ?? {};
    hue = look.hue ?? hue;
    const lines = named(data.lines);
    const groups = twins(data.lines).filter((places) => places.length >= LEAST_TWINS && places.length <= MOST_TWINS);
    const beside = new Map(
      groups.flatMap((places) => {
        const values = places.map((place) => lines[place]!.values);
        const odd = oddOne(values);
        const apart = distances(values);
        return places.map(
          (place, i) =>
            [place, { twins: places.length - 1, since: odd?.line === i ? odd.since : null, apart: apart[i]! }] as const,
        );
      }),
    );
    return lines.map((line, n): TableRow => {
      const band = i === 0 ? bands?.bands.find((one) => one.key === labelKey(line.labels)) : undefined;
      const [low, high] = [newest(band?.low), newest(band?.high)];
      const group = beside.get(n);
      const recent = group?.apart.slice(-12).filter((value): value is number => value !== null) ?? [];
      return {
        id: `${i} ${labelKey(line.labels)}`,
        formula: i,
        name: line.name || (look.name ?? ''),
        hue: lineHue(hue++),
        unit: data.unit,
        values: line.values,
        usual: low !== undefined && high !== undefined ? [low, high] : null,
        apart:
          recent.length > 0
            ? quantile(
                0.5,
                recent.toSorted((a, b) => a - b),
              )
            : null,
        twins: group?.twins ?? 0,
        odd:
          group === undefined || group.since === null
            ? null
            : group.since === 0
              ? 'all of this span'
              : `since ${clock(times[group.since] ?? 0)}`,
      };
    });
  });
}

/** One band for all lines, by their middle one: twins share what is usual, and one that often goes astray does not widen it. */
export function union(bands: UsualBands, times: number[]): { low: (number | null)[]; high: (number | null)[] } {
  const between = (values: (number | null)[], time: number): number | null => {
    const place = (time - bands.first) / bands.step;
    const [before, after] = [
      values[Math.max(0, Math.floor(place))] ?? null,
      values[Math.min(values.length - 1, Math.ceil(place))] ?? null,
    ];
    return before === null || after === null ? (before ?? after) : before + (after - before) * (place - Math.floor(place));
  };
  const pick = (name: 'low' | 'high') =>
    times.map((time) => {
      const values = bands.bands.map((band) => between(band[name], time)).filter((value): value is number => value !== null);
      return values.length === 0
        ? null
        : quantile(
            0.5,
            values.toSorted((a, b) => a - b),
          );
    });
  return { low: pick('low'), high: pick('high') };
}
