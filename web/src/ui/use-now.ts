import { useSyncExternalStore } from 'react';
import { serverNow } from '../api/server-clock';

const listeners = new Set<() => void>();
let second = Math.floor(serverNow() / 1_000) * 1_000;
let timer: ReturnType<typeof setTimeout> | undefined;

function tick(): void {
  clearTimeout(timer);
  const now = Math.floor(serverNow() / 1_000) * 1_000;
  if (now !== second) {
    second = now;
    listeners.forEach((listener) => listener());
  }
  timer = listeners.size > 0 ? setTimeout(tick, 1_000 - (serverNow() % 1_000) + 5) : undefined;
}
// Timers of a hidden page are slowed down; whoever comes back sees the time as it is.
document.addEventListener('visibilitychange', tick);

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  tick();
  return () => listeners.delete(listener);
}

/** The server's now, in whole seconds; all clocks of a page turn together. */
export const useNow = (): number => useSyncExternalStore(subscribe, () => second);
