import { useEffect, useState } from 'react';

/** The server's now, ticking each second from the newest answer on. */
export function useNow(serverNow: number | undefined): number {
  const [tick, setTick] = useState(() => Date.now());
  const [base, setBase] = useState<{ server: number; local: number } | null>(null);
  useEffect(() => {
    if (serverNow !== undefined) setBase({ server: serverNow, local: Date.now() });
  }, [serverNow]);
  useEffect(() => {
    const timer = setInterval(() => setTick(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  return base ? base.server + (tick - base.local) : (serverNow ?? tick);
}
