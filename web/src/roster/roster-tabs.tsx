import { PageTabs } from '../ui/page-tabs';

const TABS = [{ to: '/roster', name: 'Rosters' }] as const;

export const RosterTabs = () => <PageTabs label="Roster" tabs={TABS} className="mt-4" />;
