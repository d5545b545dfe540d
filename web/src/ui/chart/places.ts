export type Box = { left: number; top: number; right: number; bottom: number };
type Words = { width: number; height: number; line: number; gap: number; margin: number };

/**
 * Where the words of a limit stand: above or below its line, at either end or in the middle, where the fewest points of the curves run through them
 * and no other words are. Of places as good the first is taken, above the line at the left.
 *
 * @param heights the heights of all curves between two places
 */
export function placeFor(
  { width, height, line, gap, margin }: Words,
  within: Box,
  taken: Box[],
  heights: (from: number, to: number) => number[],
): Box {
  const lefts = [
    within.left + gap + 2,
    within.right - margin - width,
    (within.left + within.right - width) / 2,
    within.left + (within.right - within.left) / 4,
    within.left + ((within.right - within.left) * 5) / 8,
  ];
  const boxes = lefts.flatMap((left) =>
    [line - gap - height, line + gap].map((top): Box => ({ left, top, right: left + width, bottom: top + height })),
  );
  const cost = (box: Box): number => {
    if (box.top < within.top || box.bottom > within.bottom || box.left < within.left || box.right > within.right) return Infinity;
    if (
      taken.some((other) => other.left < box.right && other.right > box.left && other.top < box.bottom && other.bottom > box.top)
    )
      return 1e6;
    return heights(box.left, box.right).filter((at) => at > box.top - 2 && at < box.bottom + 2).length;
  };
  return boxes.map((box) => ({ box, cost: cost(box) })).reduce((best, next) => (next.cost < best.cost ? next : best)).box;
}
