import type { WatchData } from '../api/types';

type Span = WatchData['hushes'][number];

/** Spans that overlap stand in rows of their own: `[[drill], [patches]]`; none lies over another. */
export function inRows(spans: readonly Span[]): Span[][] {
  const rows: Span[][] = [];
  for (const span of [...spans].sort((a, b) => a.from - b.from)) {
    const row = rows.find((one) => one.at(-1)!.to <= span.from);
    if (row) row.push(span);
    else rows.push([span]);
  }
  return rows;
}
