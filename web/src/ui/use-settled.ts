import { useEffect, useState } from 'react';

/** The value once it has stopped changing for so long; values that say the same are the same. */
export function useSettled<T>(value: T, ms: number, first = value): T {
  const [settled, setSettled] = useState(first);
  const said = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(said) as T), ms);
    return () => clearTimeout(timer);
  }, [said, ms]);
  return settled;
}
