import type { Curve } from '../api/types';

type Props = {
  curve: Curve;
  limit?: number;
  band?: { low: (number | null)[]; high: (number | null)[] };
  hue?: string;
  width?: number;
  height?: number;
};

/** The last hour in a thumb's width, with its limit and, as a pale band, what is usual. */
export function Spark({ curve, limit, band, hue = 'var(--ink)', width = 112, height = 34 }: Props) {
  const present = curve.values.filter((value): value is number => value !== null);
  if (present.length === 0) return <span className="text-muted">no readings</span>;
  const sides = band
    ? [...band.high.map((high, i) => [i, high] as const), ...band.low.map((low, i) => [i, low] as const).reverse()].filter(
        (point): point is [number, number] => point[1] !== null,
      )
    : [];
  const shown = [...present, ...sides.map(([, value]) => value), ...(limit === undefined ? [] : [limit])];
  const low = Math.min(...shown);
  const high = Math.max(...shown);
  const y = (value: number) => height - 3 - ((value - low) / (high - low || 1)) * (height - 6);
  const x = (i: number) => (i / (curve.values.length - 1)) * (width - 5) + 1;
  let path = '';
  let pen = false;
  curve.values.forEach((value, i) => {
    if (value !== null) path += `${pen ? 'L' : 'M'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`;
    pen = value !== null;
  });
  const last = curve.values.findLastIndex((value) => value !== null);
  return (
    <svg width={width} height={height} aria-hidden="true" className="block">
      {band && sides.length > 3 && (
        <path
          d={`M${sides.map(([i, value]) => `${((i / (band.low.length - 1)) * (width - 5) + 1).toFixed(1)} ${y(value).toFixed(1)}`).join('L')}Z`}
          fill="var(--accent-soft)"
        />
      )}
      {limit !== undefined && <line x1="0" x2={width} y1={y(limit)} y2={y(limit)} stroke={hue} strokeDasharray="2 3" />}
      <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.4" strokeLinejoin="round" />
      {last >= 0 && <circle cx={x(last)} cy={y(curve.values[last]!)} r="2.4" fill={hue} />}
    </svg>
  );
}
