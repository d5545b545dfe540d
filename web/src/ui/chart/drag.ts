import type uPlot from 'uplot';
import type { Limit } from './plot';

const REACH_PX = 9;

/**
 * Limits follow the pointer that took them, by mouse, pen or finger. The axis stands still until it is let go: a drag that
 * pauses, while an answer comes and is drawn, goes on where it was.
 *
 * @param hold told the bounds that stand still, and null when they need not any more
 * @returns what takes the listeners away again
 */
export function dragLimits(plot: uPlot, limits: () => Limit[], hold: (bounds: [number, number] | null) => void): () => void {
  const over = plot.over;
  let taken: { pointer: number; limit: number; offset: number } | null = null;
  const yOf = (clientY: number) => clientY - over.getBoundingClientRect().top;
  const near = (clientY: number) =>
    limits().findIndex((limit) => limit.onDrag && Math.abs(plot.valToPos(limit.value, 'y') - yOf(clientY)) < REACH_PX);

  const down = (event: PointerEvent) => {
    const limit = near(event.clientY);
    const { min, max } = plot.scales['y'] ?? {};
    if (limit < 0 || min === undefined || max === undefined) return;
    event.stopPropagation();
    event.preventDefault();
    taken = { pointer: event.pointerId, limit, offset: plot.valToPos(limits()[limit]!.value, 'y') - yOf(event.clientY) };
    hold([min, max]);
    addEventListener('pointermove', move);
    addEventListener('pointerup', end);
    addEventListener('pointercancel', end);
  };
  const move = (event: PointerEvent) => {
    if (taken?.pointer !== event.pointerId) return;
    const y = Math.max(0, Math.min(over.clientHeight, yOf(event.clientY) + taken.offset));
    limits()[taken.limit]?.onDrag?.(plot.posToVal(y, 'y'));
  };
  const end = (event: PointerEvent) => {
    if (taken?.pointer !== event.pointerId) return;
    letGo();
    plot.setData(plot.data);
  };
  const letGo = () => {
    taken = null;
    hold(null);
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', end);
    removeEventListener('pointercancel', end);
  };
  // The mouse events that come with a pointer's would begin a zoom, the touch would scroll the page.
  const stopMouse = (event: MouseEvent) => {
    if (near(event.clientY) >= 0) event.stopPropagation();
  };
  const stopTouch = (event: TouchEvent) => {
    const [touch] = event.touches;
    if (touch && near(touch.clientY) >= 0) event.preventDefault();
  };
  over.addEventListener('pointerdown', down, true);
  over.addEventListener('mousedown', stopMouse, true);
  over.addEventListener('touchstart', stopTouch, { passive: false });
  return () => {
    letGo();
    over.removeEventListener('pointerdown', down, true);
    over.removeEventListener('mousedown', stopMouse, true);
    over.removeEventListener('touchstart', stopTouch);
  };
}
