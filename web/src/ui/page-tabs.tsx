import { Link } from '@tanstack/react-router';
import clsx from 'clsx';

type Tab = {
  to:
    | '/fleet'
    | '/fleet/checks'
    | '/fleet/jobs'
    | '/fleet/places'
    | '/fleet/certificates'
    | '/fleet/findings'
    | '/fleet/recipes'
    | '/fleet/cost'
    | '/rules'
    | '/rules/noise'
    | '/delivery'
    | '/delivery/messages'
    | '/delivery/mutes'
    | '/delivery/rehearse'
    | '/delivery/actions'
    | '/delivery/templates'
    | '/roster'
    | '/roster/coverage'
    | '/roster/mine';
  name: string;
};

/** The pages of one area, of which one is open. */
export function PageTabs({ label, tabs, className }: { label: string; tabs: readonly Tab[]; className?: string }) {
  return (
    <nav aria-label={label} className={clsx('flex flex-wrap gap-x-4 gap-y-1', className)}>
      {tabs.map(({ to, name }) => (
        <Link
          key={to}
          to={to}
          activeOptions={{ exact: true, includeSearch: false }}
          className={clsx(
            'border-b-2 border-transparent pb-0.5 text-muted hover:text-ink',
            'data-[status=active]:border-accent data-[status=active]:font-semibold data-[status=active]:text-ink',
          )}
        >
          {name}
        </Link>
      ))}
    </nav>
  );
}
