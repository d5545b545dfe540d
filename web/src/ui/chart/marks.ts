import type uPlot from 'uplot';
import { type Box, placeFor } from './places';
import type { Band, Envelope, Limit, Shown } from './plot';

const POINTS_OF_A_LIMIT = 200;

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
const resolve = (hue: string) => (hue.startsWith('var(') ? token(hue.slice(4, -1)) : hue);

/** A spell as a pale stretch behind the lines. */
export function drawBand(self: uPlot, band: Band): void {
  const edge = self.bbox.left + self.bbox.width;
  const from = Math.max(self.bbox.left, self.valToPos(band.from / 1000, 'x', true));
  const to = band.to === null ? edge : Math.min(edge, self.valToPos(band.to / 1000, 'x', true));
  if (to <= from) return;
  self.ctx.save();
  self.ctx.globalAlpha = 0.13;
  self.ctx.fillStyle = resolve(band.hue);
  self.ctx.fillRect(from, self.bbox.top, Math.max(to - from, 2), self.bbox.height);
  self.ctx.restore();
}

/** Limits as lines, the first over the others where they meet, and what each says where there is room for it. */
export function drawLimits(self: uPlot, { limits, series }: Shown): void {
  const bottom = self.bbox.top + self.bbox.height;
  const seen = limits.flatMap((limit) => {
    const at = self.valToPos(limit.value, 'y', true);
    // In the middle of a row of pixels a line is drawn sharp, and at the edge it is still there.
    return at < self.bbox.top - 1 || at > bottom + 1
      ? []
      : [{ limit, y: Math.min(Math.floor(at) + 0.5, Math.floor(bottom) - 0.5) }];
  });
  for (const { limit, y } of seen.toReversed()) drawLimit(self, limit, y);
  const taken: Box[] = [];
  const curves = series.flatMap((line, i) => (line.hidden ? [] : [i + 1]));
  for (const { limit, y } of seen) {
    // The line of another limit is no place for words: it counts as many points of a curve do.
    const others = seen
      .filter((other) => other.limit !== limit)
      .flatMap((other) => Array.from({ length: POINTS_OF_A_LIMIT }, () => other.y));
    taken.push(drawWords(self, limit, y, taken, (from, to) => [...heightsBetween(self, curves, from, to), ...others]));
  }
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
function heightsBetween(self: uPlot, curves: number[], from: number, to: number): number[] {
  const first = self.posToIdx(Math.max(0, (from - self.bbox.left) / devicePixelRatio));
  const last = self.posToIdx(Math.max(0, (to - self.bbox.left) / devicePixelRatio));
  return curves.flatMap((at) => {
    const scale = self.series[at]?.scale ?? 'y';
    return Array.from(self.data[at]?.slice(first, last + 1) ?? []).flatMap((value) =>
      value === null || value === undefined ? [] : [self.valToPos(value, scale, true)],
    );
  });
}

/** What is usual, as a pale band under the lines. */
export function drawEnvelope(self: uPlot, times: number[], { low, high }: Envelope): void {
  self.ctx.save();
  self.ctx.beginPath();
  self.ctx.rect(self.bbox.left, self.bbox.top, self.bbox.width, self.bbox.height);
  self.ctx.clip();
  self.ctx.fillStyle = token('--accent-soft');
  self.ctx.globalAlpha = 0.75;
  const endOf = (value: number | null | undefined, edge: number) =>
    value === null || value === undefined ? edge : self.valToPos(value, 'y', true);
  let from = 0;
  while (from < times.length) {
    while (from < times.length && low[from] === null && high[from] === null) from++;
    let to = from;
    while (to < times.length && (low[to] !== null || high[to] !== null)) to++;
    if (to - from > 1) {
      self.ctx.beginPath();
      for (let i = from; i < to; i++) self.ctx.lineTo(self.valToPos(times[i]! / 1000, 'x', true), endOf(high[i], self.bbox.top));
      for (let i = to - 1; i >= from; i--)
        self.ctx.lineTo(self.valToPos(times[i]! / 1000, 'x', true), endOf(low[i], self.bbox.top + self.bbox.height));
      self.ctx.fill();
    }
    from = to;
  }
  self.ctx.restore();
}
