import { useState } from 'react';

/**
 * The order in which a list is shown: the server's, but while somebody points into the list what is there keeps its place.
 * What is new stands at the end then, so that nothing moves between looking and pressing.
 */
export function heldOrder(shown: number[], now: number[]): number[] {
  return [...shown.filter((id) => now.includes(id)), ...now.filter((id) => !shown.includes(id))];
}

export function useHeldOrder(now: number[]): { order: number[]; hold: () => void; letGo: () => void } {
  const [held, setHeld] = useState<number[] | null>(null);
  const order = held === null ? now : heldOrder(held, now);
  return { order, hold: () => setHeld(order), letGo: () => setHeld(null) };
}
