import type { ReactNode } from 'react';
import { PageTabs } from '../ui/page-tabs';

const TABS = [
  { to: '/fleet', name: 'Targets' },
  { to: '/fleet/checks', name: 'Checks' },
  { to: '/fleet/jobs', name: 'Jobs' },
  { to: '/fleet/certificates', name: 'Certificates' },
  { to: '/fleet/places', name: 'Places' },
  { to: '/fleet/findings', name: 'Findings' },
  { to: '/fleet/recipes', name: 'Recipes' },
  { to: '/fleet/cost', name: 'Cost' },
] as const;

/** The pages of the fleet, and what can be done on the one that is open. */
export function FleetTabs({ children }: { children?: ReactNode }) {
  return (
    <div className="mt-4 mb-3 flex flex-wrap items-center justify-between gap-3">
      <PageTabs label="Fleet" tabs={TABS} />
      <div className="flex gap-2">{children}</div>
    </div>
  );
}
