import { createContext, useContext } from 'react';
import type { Person } from '../api/types';

type Session = { person: Person; siteZone: string; zone: string; chooseZone: (zone: string) => void };

export const SessionContext = createContext<Session>({
  person: { id: 0, name: '', email: '', role: 'viewer' },
  siteZone: 'UTC',
  zone: 'UTC',
  chooseZone: () => undefined,
});
export const useSession = () => useContext(SessionContext);
/** The zone in which this person looks at times. */
export const useZone = () => useSession().zone;
export const useMayChange = () => useSession().person.role !== 'viewer';
