import { createContext, useContext } from 'react';
import type { Person, Role } from '../api/types';

type Session = { person: Person; siteZone: string; zone: string; chooseZone: (zone: string) => void };

/** What one may do, and from which role on; the server asks the same again. */
const WHO = {
  'answer incidents': 'engineer',
  'write rules': 'engineer',
  'keep targets': 'engineer',
  'set who hears': 'engineer',
  'keep rosters': 'engineer',
  'keep people': 'administrator',
  'keep settings': 'administrator',
  'read the audit': 'administrator',
} as const satisfies Record<string, Role>;
const ROLES: Role[] = ['viewer', 'engineer', 'administrator'];
export type Capability = keyof typeof WHO;

export const SessionContext = createContext<Session>({
  person: { id: 0, name: '', email: '', role: 'viewer' },
  siteZone: 'UTC',
  zone: 'UTC',
  chooseZone: () => undefined,
});
export const useSession = () => useContext(SessionContext);
/** The zone in which this person looks at times. */
export const useZone = () => useSession().zone;
/** `const may = useMay(); … may('answer incidents') && …` */
export function useMay(): (what: Capability) => boolean {
  const { role } = useSession().person;
  return (what) => ROLES.indexOf(role) >= ROLES.indexOf(WHO[what]);
}
