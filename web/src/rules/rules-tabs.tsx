import clsx from 'clsx';
import { Link } from '@tanstack/react-router';

/** The two pages of rules. */
export function RulesTabs() {
  return (
    <nav aria-label="Rules" className="mt-4 flex gap-4">
      {(
        [
          ['/rules', 'Rules'],
          ['/rules/noise', 'Noise'],
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
  );
}
