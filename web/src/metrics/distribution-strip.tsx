import { quantity } from '../ui/format';
import { type Distribution } from './statistics';

type Props = {
  found: Distribution;
  unit: string;
  scale: { min: number; max: number; top: number; height: number };
  height: number;
  limit: number | null;
  onLimit: (value: number) => void;
};

/** How often which value, on the chart's own scale; a click picks a limit. */
export function DistributionStrip({ found, unit, scale, height, limit, onLimit }: Props) {
  const width = 176;
  const bar = 88;
  const y = (value: number) => scale.top + scale.height - ((value - scale.min) / (scale.max - scale.min || 1)) * scale.height;
  const value = (at: number) => scale.min + ((scale.top + scale.height - at) / scale.height) * (scale.max - scale.min);
  const most = Math.max(...found.bins);
  const size = (found.high - found.low) / found.bins.length || 1;
  const marks = [
    { name: 'median', value: found.median },
    { name: 'p95', value: found.p95 },
    { name: 'p99.5', value: found.p995 },
  ];
  // Labels give way to each other from below upwards.
  let floor = Infinity;
  const placed = marks.map((mark) => {
    const at = Math.min(y(mark.value), floor - 14);
    floor = at;
    return { ...mark, at };
  });
  const step = (scale.max - scale.min) / 50;
  return (
    <svg
      width={width}
      height={height}
      role="slider"
      tabIndex={0}
      aria-label="Limit, picked from how often which value occurs"
      aria-orientation="vertical"
      aria-valuemin={scale.min}
      aria-valuemax={scale.max}
      aria-valuenow={limit ?? found.p995}
      aria-valuetext={limit === null ? 'no limit picked' : quantity(limit, unit)}
      className="shrink-0 cursor-crosshair max-md:hidden"
      onPointerDown={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const pick = (at: number) => onLimit(Math.min(scale.max, Math.max(scale.min, value(at - box.top))));
        pick(event.clientY);
        const move = (next: PointerEvent) => pick(next.clientY);
        const end = () => {
          removeEventListener('pointermove', move);
          removeEventListener('pointerup', end);
        };
        addEventListener('pointermove', move);
        addEventListener('pointerup', end);
      }}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
        event.preventDefault();
        onLimit((limit ?? found.p995) + (event.key === 'ArrowUp' ? step : -step));
      }}
    >
      {found.bins.map((count, i) => {
        const low = found.low + i * size;
        const thick = Math.max(1.5, y(low) - y(low + size) - 1);
        return (
          <rect
            key={i}
            x="0"
            y={y(low + size)}
            height={thick}
            width={count === 0 ? 0 : Math.max(1.5, (count / most) * bar)}
            fill={limit !== null && low + size / 2 > limit ? 'var(--critical)' : 'var(--muted)'}
            opacity={limit !== null && low + size / 2 > limit ? 0.55 : 0.4}
          />
        );
      })}
      {placed.map((mark) => (
        <g key={mark.name}>
          <path
            d={`M0 ${y(mark.value)}H${bar}L${bar + 8} ${mark.at}`}
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1"
            opacity="0.55"
          />
          <text x={bar + 12} y={mark.at + 4} fontSize="12" fill="var(--muted)">
            {mark.name} {quantity(mark.value, unit)}
          </text>
        </g>
      ))}
      {limit !== null && (
        <g stroke="var(--critical)" strokeWidth="1.6">
          <line x1="0" x2={bar + 4} y1={y(limit)} y2={y(limit)} />
          <circle cx={bar + 8} cy={y(limit)} r="4.5" fill="var(--sheet)" />
        </g>
      )}
    </svg>
  );
}
