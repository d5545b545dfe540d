import { type RefObject, useEffect, useRef, useState } from 'react';

/** How wide an element is, as long as it stands there. */
export function useWidth<E extends HTMLElement>(first: number): [RefObject<E | null>, number] {
  const element = useRef<E>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    if (!element.current) return;
    const observer = new ResizeObserver((entries) => setWidth(Math.floor(entries[0]!.contentRect.width)));
    observer.observe(element.current);
    return () => observer.disconnect();
  }, []);
  return [element, width];
}
