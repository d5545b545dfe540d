import clsx from 'clsx';
import { Link } from '@tanstack/react-router';
import type { ReactNode } from 'react';

/** The two pages of the fleet, and what can be done on the one that is open. */
export function FleetTabs({ children }: { children?: ReactNode }) {
  return (
    <div className="mt-4 mb-3 flex flex-wrap items-center justify-between gap-3">
      <nav aria-label="Fleet" className="flex gap-4">
        {(
          [
            ['/fleet', 'Targets'],
            ['/fleet/cost', 'Cost'],
          ] as const
        ).map(([to, name]) => (
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
      <div className="flex gap-2">{children}</div>
    </div>
  );
}
