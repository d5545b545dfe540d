import { PageTabs } from '../ui/page-tabs';

const TABS = [
  { to: '/rules', name: 'Rules' },
  { to: '/rules/noise', name: 'Noise' },
] as const;

/** The two pages of rules. */
export const RulesTabs = () => <PageTabs label="Rules" tabs={TABS} className="mt-4" />;
