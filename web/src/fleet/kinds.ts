import type { Target } from '../api/types';

/** What a thing of the fleet is, as people choose by. */
export const SORTS = ['metrics', 'checks', 'jobs', 'handed in'] as const;
export type Sort = (typeof SORTS)[number];

export const sortOf = ({ kind }: Pick<Target, 'kind'>): Sort =>
  (({ scrape: 'metrics', job: 'jobs', pushed: 'handed in' }) as const)[kind] ?? 'checks';

/** Where one of them has its page. */
export const pageOf = (target: Pick<Target, 'kind'>) =>
  (({ metrics: '/fleet/$id', 'handed in': '/fleet/$id', checks: '/fleet/checks/$id', jobs: '/fleet/jobs/$id' }) as const)[
    sortOf(target)
  ];
