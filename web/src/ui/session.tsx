import { createContext, useContext } from 'react';
import type { Person } from '../api/types';

export const SessionContext = createContext<{ person: Person; zone: string }>({ person: { id: 0, name: '', email: '', role: 'viewer' }, zone: 'UTC' });
export const useSession = () => useContext(SessionContext);
export const useZone = () => useSession().zone;
export const useMayChange = () => useSession().person.role !== 'viewer';
