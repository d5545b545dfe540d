import { useEffect, useLayoutEffect, useRef } from 'react';
import type uPlot from 'uplot';
import 'uplot/dist/uPlot.min.css';
import { useTheme } from '../theme';
import { dragLimits } from './drag';
import {
  type Band,
  type ChartSeries,
  type Envelope,
  type Limit,
  type Shown,
  type YScale,
  dataOf,
  makePlot,
  shapeOf,
} from './plot';

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

/**
 * Lines over time with limits that can be dragged, shaded spells, drag to zoom, double click to go back.
 * The plot is made once for a shape of chart; new data, other limits and another zone are shown by the one that is there.
 */
export function Chart({ height, label, limits = [], bands = [], ...rest }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const tip = useRef<HTMLDivElement>(null);
  const shown = useRef<Shown>({ ...rest, limits, bands });
  const plot = useRef<uPlot | null>(null);
  const held = useRef<[number, number] | null>(null);
  useLayoutEffect(() => {
    shown.current = { ...rest, limits, bands };
  });

  const shape = shapeOf({ ...rest, limits, bands }, useTheme());
  useEffect(() => {
    const element = host.current;
    if (!element || !tip.current) return;
    const made = makePlot(
      element,
      tip.current,
      height,
      () => shown.current,
      () => held.current,
    );
    plot.current = made;
    const stopDragging = dragLimits(
      made,
      () => shown.current.limits,
      (bounds) => {
        held.current = bounds;
      },
    );
    const observer = new ResizeObserver(() => made.setSize({ width: element.clientWidth, height }));
    observer.observe(element);
    return () => {
      observer.disconnect();
      stopDragging();
      made.destroy();
      plot.current = null;
      held.current = null;
    };
  }, [shape, height]);

  useEffect(() => {
    plot.current?.setData(dataOf(shown.current));
  }, [rest.times, rest.series]);

  const hidden = rest.series.flatMap((line, i) => (line.hidden ? [i] : [])).join();
  useEffect(() => {
    const made = plot.current;
    made?.batch(() => shown.current.series.forEach((line, i) => made.setSeries(i + 1, { show: line.hidden !== true })));
  }, [hidden, shape]);

  // A limit moves the bounds of the axis unless it is being dragged; a spell or what is usual only needs drawing.
  const values = limits.map((limit) => limit.value).join();
  const words = JSON.stringify([limits.map(({ hue, words: said, dashed }) => [hue, said, dashed]), bands]);
  useEffect(() => {
    const made = plot.current;
    if (made) made.setData(made.data);
  }, [values]);
  useEffect(() => {
    plot.current?.redraw(false, true);
  }, [words, rest.envelope, rest.zone]);

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
