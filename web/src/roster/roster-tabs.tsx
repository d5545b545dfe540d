import { PageTabs } from '../ui/page-tabs';

const TABS = [
  { to: '/roster', name: 'Rosters' },
  { to: '/roster/coverage', name: 'Coverage' },
  { to: '/roster/mine', name: 'My on-call' },
] as const;

export const RosterTabs = () => <PageTabs label="Roster" tabs={TABS} className="mt-4" />;
