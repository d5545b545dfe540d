import { useEffect, useRef } from 'react';
import uPlot from 'uplot';
import 'uplot/dist/uPlot.min.css';
import type { Labels } from '../api/types';
import { clock, clockSeconds, day, quantity, tickWords } from './format';
import { type Box, placeFor } from './places';
import { isDark, lineHue } from './hues';
import { niceSplits } from './splits';

export type ChartSeries = {
  labels?: Labels;
  name: string;
  values: (number | null)[];
  hidden?: boolean;
  hue?: string;
  /** Its own values where the drawn ones stand on others. */
  own?: (number | null)[];
  filled?: boolean;
  /** From another time: pale and dashed. */
  ghost?: boolean;
  /** On the axis to the right, which has a unit of its own. */
  second?: boolean;
  bold?: boolean;
};
export type Envelope = { low: (number | null)[]; high: (number | null)[] };
export type YScale = { min: number; max: number; top: number; height: number };
export type Limit = { value: number; hue: string; words: string; dashed?: boolean; onDrag?: (value: number) => void };
export type Band = { from: number; to: number; hue: string };

type Props = {
  times: number[];
  series: ChartSeries[];
  unit: string;
  zone: string;
  height: number;
  limits?: Limit[];
  bands?: Band[];
  onZoom?: (from: number, to: number) => void;
  onBack?: () => void;
  /** Told where the values lie after each drawing, for what stands beside the chart. */
  onScale?: (scale: YScale) => void;
  secondUnit?: string;
  envelope?: Envelope;
  label: string;
};

const POINTS_OF_A_LIMIT = 200;

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const resolve = (hue: string) => (hue.startsWith('var(') ? token(hue.slice(4, -1)) : hue);

/** Lines over time with limits that can be dragged, shaded spells, drag to zoom, double click to go back. */
export function Chart({
  times,
  series,
  unit,
  zone,
  height,
  limits = [],
  bands = [],
  onZoom,
  onBack,
  onScale,
  secondUnit,
  envelope,
  label,
}: Props) {
  const host = useRef<HTMLDivElement>(null);
  const tip = useRef<HTMLDivElement>(null);
  const overlay = useRef({ limits, bands, onZoom, onBack, onScale });
  const plotRef = useRef<uPlot | null>(null);

  useEffect(() => {
    const element = host.current;
    if (!element) return;
    const one = series.filter((line) => !line.ghost).length === 1;
    const right = secondUnit !== undefined && series.some((line) => line.second);
    const axisFont = '12px "Hanken Grotesk Variable", sans-serif';
    const total = (times.at(-1) ?? 0) - (times[0] ?? 0);
    const plot = new uPlot(
      {
        width: element.clientWidth,
        height,
        legend: { show: false },
        padding: [12, right ? 8 : 22, 0, 0],
        cursor: {
          drag: { x: true, y: false, setScale: false },
          points: { size: 7 },
          focus: { prox: 24 },
          sync: { key: 'page' },
          bind: {
            dblclick: () => () => {
              overlay.current.onBack?.();
              return null;
            },
          },
        },
        focus: { alpha: 0.35 },
        scales: {
          x: { time: true },
          y: {
            range: (_, low, high) => {
              const all = overlay.current.limits.map((limit) => limit.value);
              let min = Math.min(low ?? 0, ...all);
              let max = Math.max(high ?? 1, ...all);
              if (min > 0 && min < max * 0.6) min = 0;
              if (max === min) max = min + 1;
              return [min < 0 ? min - (max - min) * 0.05 : min, max + (max - min) * 0.08];
            },
          },
          ...(right
            ? {
                second: {
                  range: (_: uPlot, low: number | null, high: number | null): uPlot.Range.MinMax => [
                    Math.min(0, low ?? 0),
                    (high ?? 1) + Math.abs((high ?? 1) - Math.min(0, low ?? 0)) * 0.08 || 1,
                  ],
                },
              }
            : {}),
        },
        axes: [
          {
            stroke: token('--muted'),
            font: axisFont,
            grid: { show: false },
            ticks: { stroke: token('--line'), size: 4 },
            space: 76,
            size: 28,
            values: (_, ticks) =>
              ticks.map((tick, i) => {
                const at = tick * 1000;
                const text = total <= 600_000 ? clockSeconds(at, zone) : clock(at, zone);
                return i === 0 || clock(at, zone) === '00:00' || total > 3 * 86_400_000
                  ? total > 20 * 3_600_000
                    ? text === '00:00'
                      ? day(at, zone)
                      : `${day(at, zone)} ${text}`
                    : text
                  : text;
              }),
          },
          {
            stroke: token('--muted'),
            font: axisFont,
            grid: { stroke: token('--line'), width: 1 },
            ticks: { show: false },
            size: (self, values) => {
              if (!values) return 40;
              self.ctx.font = axisFont;
              return Math.max(...values.map((value) => self.ctx.measureText(value).width / devicePixelRatio)) + 16;
            },
            values: (_, ticks) => tickWords(ticks, unit),
            splits: (_self, _axis, low, high) => niceSplits(low, high, unit),
          },
          ...(right
            ? [
                {
                  scale: 'second',
                  side: 1 as const,
                  stroke: token('--muted'),
                  font: axisFont,
                  grid: { show: false },
                  ticks: { show: false },
                  size: 64,
                  values: (_: uPlot, ticks: number[]) => tickWords(ticks, secondUnit),
                  splits: (_self: uPlot, _axis: number, low: number, high: number) => niceSplits(low, high, secondUnit),
                },
              ]
            : []),
        ],
        series: [
          {},
          ...series.map((line, i) => {
            const hue = line.hue ?? lineHue(i);
            return {
              show: !line.hidden,
              scale: right && line.second ? 'second' : 'y',
              stroke: line.ghost ? `${hue}88` : hue,
              fill: line.filled ? `${hue}${isDark() ? '77' : '99'}` : undefined,
              dash: line.ghost ? [5, 5] : undefined,
              width: line.ghost ? 1.2 : line.bold || one ? 2 : 1.4,
              points: { show: false },
              spanGaps: false,
            };
          }),
        ],
        hooks: {
          drawClear: [
            (self) => {
              if (envelope) drawEnvelope(self, times, envelope);
              for (const band of overlay.current.bands) {
                const from = Math.max(self.bbox.left, self.valToPos(band.from / 1000, 'x', true));
                const to = Math.min(self.bbox.left + self.bbox.width, self.valToPos(band.to / 1000, 'x', true));
                if (to <= from) continue;
                self.ctx.save();
                self.ctx.globalAlpha = 0.13;
                self.ctx.fillStyle = resolve(band.hue);
                self.ctx.fillRect(from, self.bbox.top, Math.max(to - from, 2), self.bbox.height);
                self.ctx.restore();
              }
            },
          ],
          draw: [
            (self) => {
              const y = self.scales['y'];
              if (y?.min !== undefined && y.max !== undefined)
                overlay.current.onScale?.({
                  min: y.min,
                  max: y.max,
                  top: self.bbox.top / devicePixelRatio,
                  height: self.bbox.height / devicePixelRatio,
                });
              // The first limit lies over the others where they meet.
              const shown = overlay.current.limits.flatMap((limit) => {
                const at = self.valToPos(limit.value, 'y', true);
                const bottom = self.bbox.top + self.bbox.height;
                // In the middle of a row of pixels a line is drawn sharp, and at the edge it is still there.
                return at < self.bbox.top - 1 || at > bottom + 1
                  ? []
                  : [{ limit, y: Math.min(Math.floor(at) + 0.5, Math.floor(bottom) - 0.5) }];
              });
              for (const { limit, y } of shown.toReversed()) drawLimit(self, limit, y);
              const taken: Box[] = [];
              const curves = series.map((line, i) => ({ line, at: i + 1 })).filter(({ line }) => !line.hidden);
              for (const { limit, y } of shown) {
                // The line of another limit is no place for words: it counts as many points of a curve do.
                const others = shown
                  .filter((other) => other.limit !== limit)
                  .flatMap((other) => Array.from({ length: POINTS_OF_A_LIMIT }, () => other.y));
                taken.push(
                  drawWords(self, limit, y, taken, (from, to) => [...heightsBetween(self, curves, from, to), ...others]),
                );
              }
            },
          ],
          setSelect: [
            (self) => {
              if (self.select.width > 6)
                overlay.current.onZoom?.(
                  Math.round(self.posToVal(self.select.left, 'x') * 1000),
                  Math.round(self.posToVal(self.select.left + self.select.width, 'x') * 1000),
                );
              self.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
            },
          ],
          setCursor: [
            (self) => {
              const box = tip.current;
              if (!box) return;
              const { left, top, idx } = self.cursor;
              if (idx === null || idx === undefined || left === undefined || left < 0 || top === undefined) {
                box.hidden = true;
                return;
              }
              let nearest = -1;
              let distance = Infinity;
              series.forEach((line, i) => {
                const value = line.values[idx];
                if (line.hidden || value === null || value === undefined) return;
                const away = Math.abs(self.valToPos(value, right && line.second ? 'second' : 'y') - top);
                if (away < distance) {
                  distance = away;
                  nearest = i;
                }
              });
              const line = series[nearest];
              box.hidden = line === undefined;
              if (!line) return;
              box.textContent = '';
              const strong = document.createElement('strong');
              strong.textContent = `${line.name || 'value'} · ${quantity((line.own ?? line.values)[idx], right && line.second ? secondUnit : unit)}`;
              const small = document.createElement('div');
              small.textContent = `${day(times[idx]!, zone)}, ${clockSeconds(times[idx]!, zone)}`;
              box.append(strong, small);
              const flip = left > self.over.clientWidth - 230;
              const [x, y] = [self.over.offsetLeft + left + (flip ? -12 : 12), Math.max(0, top - 20)];
              box.style.transform = `translate(${x}px, ${y}px)${flip ? ' translateX(-100%)' : ''}`;
            },
          ],
        },
      },
      [times.map((at) => at / 1000), ...series.map((line) => line.values)] as uPlot.AlignedData,
      element,
    );
    plotRef.current = plot;

    const drag = (event: PointerEvent) => {
      const limit = overlay.current.limits.find(
        (candidate) =>
          candidate.onDrag &&
          Math.abs(plot.valToPos(candidate.value, 'y') - (event.clientY - plot.over.getBoundingClientRect().top)) < 9,
      );
      if (!limit) return;
      event.stopPropagation();
      event.preventDefault();
      const move = (at: PointerEvent) =>
        limit.onDrag?.(
          plot.posToVal(Math.max(0, Math.min(plot.over.clientHeight, at.clientY - plot.over.getBoundingClientRect().top)), 'y'),
        );
      const end = () => {
        removeEventListener('pointermove', move);
        removeEventListener('pointerup', end);
      };
      addEventListener('pointermove', move);
      addEventListener('pointerup', end);
    };
    const stopMouse = (event: MouseEvent) => {
      if (
        overlay.current.limits.some(
          (limit) =>
            limit.onDrag &&
            Math.abs(plot.valToPos(limit.value, 'y') - (event.clientY - plot.over.getBoundingClientRect().top)) < 9,
        )
      )
        event.stopPropagation();
    };
    plot.over.addEventListener('pointerdown', drag, true);
    plot.over.addEventListener('mousedown', stopMouse, true);
    const observer = new ResizeObserver(() => plot.setSize({ width: element.clientWidth, height }));
    observer.observe(element);
    return () => {
      observer.disconnect();
      plot.destroy();
      plotRef.current = null;
    };
  }, [times, series, unit, secondUnit, envelope, zone, height]);

  useEffect(() => {
    overlay.current = { limits, bands, onZoom, onBack, onScale };
    plotRef.current?.redraw(false, true);
    const plot = plotRef.current;
    if (plot && limits.length > 0) {
      const top = plot.scales['y']?.max ?? Infinity;
      if (limits.some((limit) => limit.value > top)) plot.setData(plot.data);
    }
  });

  return (
    <div className="relative" role="img" aria-label={label}>
      <div ref={host} style={{ height }} />
      <div
        ref={tip}
        hidden
        className="pointer-events-none absolute top-0 left-0 z-10 max-w-72 rounded-lg bg-ink px-3 py-1.5 text-[13px] text-paper"
      />
    </div>
  );
}

function drawLimit(self: uPlot, limit: Limit, y: number): void {
  self.ctx.save();
  self.ctx.strokeStyle = resolve(limit.hue);
  self.ctx.lineWidth = 1.4 * devicePixelRatio;
  if (limit.dashed) self.ctx.setLineDash([4 * devicePixelRatio, 4 * devicePixelRatio]);
  self.ctx.beginPath();
  self.ctx.moveTo(self.bbox.left, y);
  self.ctx.lineTo(self.bbox.left + self.bbox.width, y);
  self.ctx.stroke();
  if (limit.onDrag) {
    self.ctx.setLineDash([]);
    self.ctx.beginPath();
    self.ctx.arc(self.bbox.left + self.bbox.width - 10 * devicePixelRatio, y, 5.5 * devicePixelRatio, 0, 7);
    self.ctx.fillStyle = token('--sheet');
    self.ctx.fill();
    self.ctx.stroke();
  }
  self.ctx.restore();
}

/** What a limit says, where the fewest points of the curves run; where it stands. */
function drawWords(self: uPlot, limit: Limit, y: number, taken: Box[], heights: (from: number, to: number) => number[]): Box {
  self.ctx.save();
  self.ctx.font = `${12 * devicePixelRatio}px "Hanken Grotesk Variable", sans-serif`;
  self.ctx.textAlign = 'left';
  self.ctx.textBaseline = 'alphabetic';
  const box = placeFor(
    {
      width: self.ctx.measureText(limit.words).width,
      height: 14 * devicePixelRatio,
      line: y,
      gap: 4 * devicePixelRatio,
      margin: (limit.onDrag ? 22 : 6) * devicePixelRatio,
    },
    {
      left: self.bbox.left,
      top: self.bbox.top,
      right: self.bbox.left + self.bbox.width,
      bottom: self.bbox.top + self.bbox.height,
    },
    taken,
    heights,
  );
  // A rim in the colour of the sheet keeps the words readable where a line runs through them.
  const place = [box.left, box.bottom - 3 * devicePixelRatio] as const;
  self.ctx.lineJoin = 'round';
  self.ctx.lineWidth = 4 * devicePixelRatio;
  self.ctx.strokeStyle = token('--sheet');
  self.ctx.fillStyle = resolve(limit.hue);
  self.ctx.strokeText(limit.words, ...place);
  self.ctx.fillText(limit.words, ...place);
  self.ctx.restore();
  return box;
}

/** Where the curves run between two places of the canvas, in its pixels. */
function heightsBetween(self: uPlot, curves: { line: ChartSeries; at: number }[], from: number, to: number): number[] {
  const first = self.posToIdx(Math.max(0, (from - self.bbox.left) / devicePixelRatio));
  const last = self.posToIdx(Math.max(0, (to - self.bbox.left) / devicePixelRatio));
  return curves.flatMap(({ at }) => {
    const scale = self.series[at]?.scale ?? 'y';
    return Array.from(self.data[at]?.slice(first, last + 1) ?? []).flatMap((value) =>
      value === null || value === undefined ? [] : [self.valToPos(value, scale, true)],
    );
  });
}

/** What is usual, as a pale band under the lines. */
function drawEnvelope(self: uPlot, times: number[], { low, high }: Envelope): void {
  self.ctx.save();
  self.ctx.beginPath();
  self.ctx.rect(self.bbox.left, self.bbox.top, self.bbox.width, self.bbox.height);
  self.ctx.clip();
  self.ctx.fillStyle = token('--accent-soft');
  self.ctx.globalAlpha = 0.75;
  let from = 0;
  while (from < times.length) {
    while (from < times.length && (low[from] === null || high[from] === null)) from++;
    let to = from;
    while (to < times.length && low[to] !== null && high[to] !== null) to++;
    if (to - from > 1) {
      self.ctx.beginPath();
      for (let i = from; i < to; i++)
        self.ctx.lineTo(self.valToPos(times[i]! / 1000, 'x', true), self.valToPos(high[i]!, 'y', true));
      for (let i = to - 1; i >= from; i--)
        self.ctx.lineTo(self.valToPos(times[i]! / 1000, 'x', true), self.valToPos(low[i]!, 'y', true));
      self.ctx.fill();
    }
    from = to;
  }
  self.ctx.restore();
}
