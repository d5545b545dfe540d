import type { ChartData, UsualBands } from '../api/types';
import { lineHue } from '../ui/hues';
import { areTwins, labelKey, named } from './names';
import type { TableRow } from './series-table';
import { distances, middleOfLast, oddOne, quantile } from './statistics';

export const LETTERS = 'ABCDEF';
const MOST_TWINS = 60;

/** Says in one sentence what stands out. */
export function headline(rows: TableRow[], metric: string, knowsUsual: boolean): string {
  const odd = rows.find((row) => row.odd !== null);
  if (odd) return `${odd.name} stands apart from its ${rows.filter((row) => row.formula === odd.formula).length - 1} twins ${odd.odd}.`;
  const unusual = rows.filter((row) => {
    const now = middleOfLast(row.values);
    return row.usual && now !== null && (now < row.usual[0] || now > row.usual[1]);
  });
  if (unusual.length === 1) return `${unusual[0]!.name || metric} is outside its usual range.`;
  if (unusual.length > 1) return `${unusual.length} of ${rows.length} are outside their usual range.`;
  return knowsUsual && rows.length > 0 ? `${metric} is within its usual range.` : metric || 'Metrics';
}

export function tableRows(datas: (ChartData | undefined)[], bands: UsualBands | undefined, times: number[], clock: (at: number) => string): TableRow[] {
  let hue = 0;
  return datas.flatMap((data, i) => {
    if (!data) return [];
    const lines = named(data.lines);
    const twins = lines.length >= 4 && lines.length <= MOST_TWINS && areTwins(data.lines);
    const odd = twins ? oddOne(lines.map((line) => line.values)) : null;
    const apart = twins ? distances(lines.map((line) => line.values)) : null;
    return lines.map((line, n): TableRow => {
      const band = i === 0 ? bands?.bands.find((one) => one.key === labelKey(line.labels)) : undefined;
      const [low, high] = [band?.low.findLast((value) => value !== null), band?.high.findLast((value) => value !== null)];
      const recent = apart?.[n]?.slice(-12).filter((value): value is number => value !== null) ?? [];
      return {
        id: `${i} ${labelKey(line.labels)}`,
        formula: LETTERS[i]!,
        name: line.name,
        hue: lineHue(hue++),
        unit: data.unit,
        values: line.values,
        usual: low !== undefined && high !== undefined && low !== null && high !== null ? [low, high] : null,
        apart: recent.length > 0 ? quantile(0.5, recent.toSorted((a, b) => a - b)) : null,
        odd: odd?.line === n ? (odd.since === 0 ? 'all of this span' : `since ${clock(times[odd.since] ?? 0)}`) : null,
      };
    });
  });
}

/** One band for all lines, by their middle one: twins share what is usual, and one that often goes astray does not widen it. */
export function union(bands: UsualBands, times: number[]): { low: (number | null)[]; high: (number | null)[] } {
  const between = (values: (number | null)[], time: number): number | null => {
    const place = (time - bands.first) / bands.step;
    const [before, after] = [values[Math.max(0, Math.floor(place))] ?? null, values[Math.min(values.length - 1, Math.ceil(place))] ?? null];
    return before === null || after === null ? (before ?? after) : before + (after - before) * (place - Math.floor(place));
  };
  const pick = (name: 'low' | 'high') =>
    times.map((time) => {
      const values = bands.bands.map((band) => between(band[name], time)).filter((value): value is number => value !== null);
      return values.length === 0 ? null : quantile(0.5, values.toSorted((a, b) => a - b));
    });
  return { low: pick('low'), high: pick('high') };
}
