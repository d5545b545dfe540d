import uPlot from 'uplot';
import type { Labels } from '../../api/types';
import { clockSeconds, day, quantity, tickWords } from '../format';
import { isDark } from '../theme';
import { lineHue } from './hues';
import { drawBand, drawEnvelope, drawLimits } from './marks';
import { niceSplits } from './splits';
import { timeSplits, timeWords } from './time-splits';

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
/** What is usual; an end that is null is open, both of them: nobody knows. */
export type Envelope = { low: (number | null)[]; high: (number | null)[] };
export type YScale = { min: number; max: number; top: number; height: number };
export type Limit = { value: number; hue: string; words: string; dashed?: boolean; onDrag?: (value: number) => void };
/** A spell; without an end it lasts to the edge. */
export type Band = { from: number; to: number | null; hue: string };

/** All that a plot shows. It is made once and told what changed; only what `shapeOf` names makes another one. */
export type Shown = {
  times: number[];
  series: ChartSeries[];
  unit: string;
  secondUnit?: string;
  zone: string;
  limits: Limit[];
  bands: Band[];
  envelope?: Envelope;
  onZoom?: (from: number, to: number) => void;
  onBack?: () => void;
  onScale?: (scale: YScale) => void;
};

const AXIS_FONT = '12px "Hanken Grotesk Variable", sans-serif';
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const hasRight = ({ series, secondUnit }: Shown) => secondUnit !== undefined && series.some((line) => line.second);

/** Two charts of one shape are one plot with other data. */
export const shapeOf = (shown: Shown, theme: string): string =>
  JSON.stringify([
    theme,
    shown.unit,
    hasRight(shown) ? shown.secondUnit : null,
    shown.series.map((line) => [line.hue, line.ghost, line.filled, line.second, line.bold]),
  ]);

export const dataOf = ({ times, series }: Shown): uPlot.AlignedData =>
  [times.map((at) => at / 1000), ...series.map((line) => line.values)] as uPlot.AlignedData;

/**
 * The bounds of the axis: all values, and the limits. From 0 where that is near; a little room above, and below 0.
 * While a limit is dragged they stand still, or the line would run from under the pointer.
 */
function bounds(low: number | null, high: number | null, limits: number[]): [number, number] {
  let min = Math.min(low ?? 0, ...limits);
  let max = Math.max(high ?? 1, ...limits);
  if (min > 0 && min < max * 0.6) min = 0;
  if (max === min) max = min + 1;
  return [min < 0 ? min - (max - min) * 0.05 : min, max + (max - min) * 0.08];
}

/**
 * @param shown what is to be seen by now; read anew at each drawing
 * @param held  the bounds that stand still while a limit is dragged
 */
export function makePlot(
  host: HTMLElement,
  tip: HTMLElement,
  height: number,
  shown: () => Shown,
  held: () => [number, number] | null,
): uPlot {
  const { series, unit, secondUnit } = shown();
  const right = hasRight(shown());
  const isOne = series.filter((line) => !line.ghost).length === 1;
  const quiet = { stroke: token('--muted'), font: AXIS_FONT };
  return new uPlot(
    {
      width: host.clientWidth,
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
            shown().onBack?.();
            return null;
          },
        },
      },
      focus: { alpha: 0.35 },
      scales: {
        x: { time: true },
        y: {
          range: (_, low, high) =>
            held() ??
            bounds(
              low,
              high,
              shown().limits.map((limit) => limit.value),
            ),
        },
        ...(right && { second: { range: (_: uPlot, low: number | null, high: number | null) => bounds(low, high, [0]) } }),
      },
      axes: [
        {
          ...quiet,
          grid: { show: false },
          ticks: { stroke: token('--line'), size: 4 },
          size: 28,
          splits: (self, _axis, from, to) =>
            timeSplits(from * 1000, to * 1000, shown().zone, self.over.clientWidth / 84).map((at) => at / 1000),
          values: (_, ticks) =>
            timeWords(
              ticks.map((tick) => tick * 1000),
              shown().zone,
            ),
        },
        {
          ...quiet,
          grid: { stroke: token('--line'), width: 1 },
          ticks: { show: false },
          size: (self, values: string[] | null) => {
            if (values === null) return 40;
            self.ctx.font = AXIS_FONT;
            return Math.max(...values.map((value) => self.ctx.measureText(value).width / devicePixelRatio)) + 16;
          },
          values: (_, ticks) => tickWords(ticks, unit),
          splits: (_self, _axis, low, high) => niceSplits(low, high, unit),
        },
        // A second axis stands on side 1, right of the plot: uPlot's enum of sides is not there at run time.
        // eslint-disable-next-line @typescript-eslint/no-unsafe-enum-assignment
        ...(right
          ? [
              {
                ...quiet,
                scale: 'second',
                side: 1 as const,
                grid: { show: false },
                ticks: { show: false },
                size: 64,
                values: (_: uPlot, ticks: number[]) => tickWords(ticks, secondUnit ?? ''),
                splits: (_self: uPlot, _axis: number, low: number, high: number) => niceSplits(low, high, secondUnit ?? ''),
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
            width: line.ghost ? 1.2 : line.bold || isOne ? 2 : 1.4,
            points: { show: false },
            spanGaps: false,
          };
        }),
      ],
      hooks: {
        drawClear: [
          (self) => {
            const { envelope, times, bands } = shown();
            if (envelope) drawEnvelope(self, times, envelope);
            bands.forEach((band) => drawBand(self, band));
          },
        ],
        draw: [
          (self) => {
            tellScale(self, shown());
            drawLimits(self, shown());
          },
        ],
        setSelect: [
          (self) => {
            if (self.select.width > 6) {
              const at = (left: number) => Math.round(self.posToVal(left, 'x') * 1000);
              shown().onZoom?.(at(self.select.left), at(self.select.left + self.select.width));
            }
            self.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false);
          },
        ],
        setCursor: [(self) => showTip(self, tip, shown(), right)],
      },
    },
    dataOf(shown()),
    host,
  );
}

function tellScale(self: uPlot, { onScale }: Shown): void {
  const y = self.scales['y'];
  if (y?.min === undefined || y.max === undefined) return;
  onScale?.({ min: y.min, max: y.max, top: self.bbox.top / devicePixelRatio, height: self.bbox.height / devicePixelRatio });
}

/** Name, value and time of the nearest line, at the cursor. */
function showTip(self: uPlot, tip: HTMLElement, { series, times, unit, secondUnit, zone }: Shown, right: boolean): void {
  const { left, top, idx } = self.cursor;
  tip.hidden = true;
  if (idx === null || idx === undefined || left === undefined || left < 0 || top === undefined) return;
  let nearest: ChartSeries | undefined;
  let distance = Infinity;
  for (const line of series) {
    const value = line.values[idx];
    if (line.hidden || value === null || value === undefined) continue;
    const away = Math.abs(self.valToPos(value, right && line.second ? 'second' : 'y') - top);
    if (away < distance) [distance, nearest] = [away, line];
  }
  if (!nearest) return;
  const strong = document.createElement('strong');
  const unitOfIt = right && nearest.second ? (secondUnit ?? '') : unit;
  strong.textContent = `${nearest.name || 'value'} · ${quantity((nearest.own ?? nearest.values)[idx], unitOfIt)}`;
  const small = document.createElement('div');
  small.textContent = `${day(times[idx]!, zone)}, ${clockSeconds(times[idx]!, zone)}`;
  tip.replaceChildren(strong, small);
  const flip = left > self.over.clientWidth - 230;
  const [x, y] = [self.over.offsetLeft + left + (flip ? -12 : 12), Math.max(0, top - 20)];
  tip.style.transform = `translate(${x}px, ${y}px)${flip ? ' translateX(-100%)' : ''}`;
  tip.hidden = false;
}
