import { Outlet, createRootRoute, createRoute, createRouter, lazyRouteComponent } from '@tanstack/react-router';
import type { Severity } from './api/types';
import { SEVERITIES } from './ui/severity';
import { SignedInLayout, WallLayout } from './layouts';
import { carried } from './metrics/carried';
import { type Look, looksOf } from './metrics/look';
import { PageHead } from './ui/page-head';
import { isZone } from './ui/zone';
import { WatchPage } from './watch/watch-page';

type Asked = Record<string, unknown>;
const number = (value: unknown) =>
  Number.isFinite(Number(value)) && value !== undefined && value !== '' ? Number(value) : undefined;
const formula = (value: unknown) => (typeof value === 'string' ? carried(value) : undefined);
const text = (value: unknown) => (typeof value === 'string' ? value : undefined);
const oneOf = <T extends string>(value: unknown, ...words: T[]) => words.find((word) => word === value);

const root = createRootRoute({
  notFoundComponent: () => (
    <SignedInLayout>
      <div className="py-16 text-center">
        <PageHead title="No such page">There is no such page</PageHead>
        <p className="mt-2 text-muted">The bar above leads on.</p>
      </div>
    </SignedInLayout>
  ),
});
const signedIn = createRoute({
  getParentRoute: () => root,
  id: 'signed-in',
  component: () => (
    <SignedInLayout>
      <Outlet />
    </SignedInLayout>
  ),
});

/** One page: choosing an incident changes its address, and what is open on it stays. */
const watch = createRoute({
  getParentRoute: () => signedIn,
  id: 'watch',
  component: WatchPage,
  validateSearch: (search: Asked): { back?: number } => ({ back: number(search['back']) }),
});
const watchAlone = createRoute({ getParentRoute: () => watch, path: '/' });
const watchIncident = createRoute({ getParentRoute: () => watch, path: '/incidents/$id' });
const wall = createRoute({
  getParentRoute: () => root,
  path: '/wall',
  component: lazyRouteComponent(async () => {
    const { WallPage } = await import('./watch/wall-page');
    return {
      default: () => (
        <WallLayout>
          <WallPage />
        </WallLayout>
      ),
    };
  }),
});

type MetricsSearch = {
  formula?: string;
  also?: string[];
  span?: string;
  from?: number;
  to?: number;
  ago?: '1d' | '7d';
  form?: 'stacked' | 'table';
  usual?: 'off';
  zone?: string;
  looks?: Look[];
};
const metrics = createRoute({
  getParentRoute: () => signedIn,
  path: '/metrics',
  component: lazyRouteComponent(() => import('./metrics/metrics-page'), 'MetricsPage'),
  validateSearch: (search: Asked): MetricsSearch => ({
    formula: formula(search['formula']),
    also: Array.isArray(search['also'])
      ? search['also'].filter((one): one is string => typeof one === 'string').map(carried)
      : undefined,
    span: text(search['span']),
    from: number(search['from']),
    to: number(search['to']),
    ago: oneOf(search['ago'], '1d', '7d'),
    form: oneOf(search['form'], 'stacked', 'table'),
    usual: oneOf(search['usual'], 'off'),
    zone: isZone(search['zone']) ? search['zone'] : undefined,
    looks: looksOf(search['looks']),
  }),
});

const rules = createRoute({
  getParentRoute: () => signedIn,
  path: '/rules',
  component: lazyRouteComponent(() => import('./rules/rules-page'), 'RulesPage'),
  validateSearch: (search: Asked): { find?: string; sort?: string; order?: 'down'; only?: 'raised' | 'broken' | 'off' } => ({
    find: text(search['find']),
    sort: text(search['sort']),
    order: oneOf(search['order'], 'down'),
    only: oneOf(search['only'], 'raised', 'broken', 'off'),
  }),
});
const rule = createRoute({
  getParentRoute: () => signedIn,
  path: '/rules/$id',
  component: lazyRouteComponent(() => import('./rules/rule-page'), 'RulePage'),
  validateSearch: (search: Asked): { formula?: string; limit?: number; draft?: number } => ({
    formula: formula(search['formula']),
    limit: number(search['limit']),
    draft: number(search['draft']),
  }),
});
const noise = createRoute({
  getParentRoute: () => signedIn,
  path: '/rules/noise',
  component: lazyRouteComponent(() => import('./rules/noise-page'), 'NoisePage'),
  validateSearch: (search: Asked): { chosen?: number } => ({ chosen: number(search['chosen']) }),
});

type FleetSearch = {
  find?: string;
  by?: string;
  sort?: string;
  order?: 'down';
  only?: string;
  what?: 'metrics' | 'checks' | 'jobs';
  spark?: string;
};
const fleet = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet',
  component: lazyRouteComponent(() => import('./fleet/fleet-page'), 'FleetPage'),
  validateSearch: (search: Asked): FleetSearch => ({
    find: text(search['find']),
    by: text(search['by']),
    sort: text(search['sort']),
    order: oneOf(search['order'], 'down'),
    only: text(search['only']),
    what: oneOf(search['what'], 'metrics', 'checks', 'jobs'),
    spark: text(search['spark']),
  }),
});
const cost = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/cost',
  component: lazyRouteComponent(() => import('./fleet/cost-page'), 'CostPage'),
});
const checks = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/checks',
  component: lazyRouteComponent(() => import('./fleet/checks/checks-page'), 'ChecksPage'),
});
const check = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/checks/$id',
  component: lazyRouteComponent(() => import('./fleet/checks/check-page'), 'CheckPage'),
});
const service = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/service/$name',
  component: lazyRouteComponent(() => import('./fleet/service/service-page'), 'ServicePage'),
});
const findings = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/findings',
  component: lazyRouteComponent(() => import('./recipes/findings-page'), 'FindingsPage'),
});
const recipes = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/recipes',
  component: lazyRouteComponent(() => import('./recipes/shelf-page'), 'ShelfPage'),
});
const recipe = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/recipes/$key',
  component: lazyRouteComponent(() => import('./recipes/recipe-page'), 'RecipePage'),
});
const certificates = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/certificates',
  component: lazyRouteComponent(() => import('./fleet/certificates/certificates-page'), 'CertificatesPage'),
});
const places = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/places',
  component: lazyRouteComponent(() => import('./fleet/places/places-page'), 'PlacesPage'),
});
const jobs = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/jobs',
  component: lazyRouteComponent(() => import('./fleet/jobs/jobs-page'), 'JobsPage'),
  validateSearch: (search: Asked) => ({ days: oneOf(String(search['days']), '1', '14') }),
});
const job = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/jobs/$id',
  component: lazyRouteComponent(() => import('./fleet/jobs/job-page'), 'JobPage'),
});
const target = createRoute({
  getParentRoute: () => signedIn,
  path: '/fleet/$id',
  component: lazyRouteComponent(() => import('./fleet/target-page'), 'TargetPage'),
});
const coverage = createRoute({
  getParentRoute: () => signedIn,
  path: '/roster/coverage',
  component: lazyRouteComponent(() => import('./roster/coverage-page'), 'CoveragePage'),
});
const mine = createRoute({
  getParentRoute: () => signedIn,
  path: '/roster/mine',
  component: lazyRouteComponent(() => import('./roster/mine-page'), 'MinePage'),
});
type RosterSearch = { from?: string };
const rosterSearch = (search: Asked): RosterSearch => ({ from: text(search['from']) });
const rosterFirst = createRoute({
  getParentRoute: () => signedIn,
  path: '/roster',
  component: lazyRouteComponent(() => import('./roster/roster-page'), 'RosterPage'),
  validateSearch: rosterSearch,
});
const rosterOne = createRoute({
  getParentRoute: () => signedIn,
  path: '/roster/$id',
  component: lazyRouteComponent(() => import('./roster/roster-page'), 'RosterPage'),
  validateSearch: rosterSearch,
});

const delivery = createRoute({
  getParentRoute: () => signedIn,
  path: '/delivery',
  component: lazyRouteComponent(() => import('./delivery/delivery-page'), 'DeliveryPage'),
});
const messages = createRoute({
  getParentRoute: () => signedIn,
  path: '/delivery/messages',
  component: lazyRouteComponent(() => import('./delivery/messages-page'), 'MessagesPage'),
  validateSearch: (search: Asked): { person?: number; channel?: string; before?: number } => ({
    person: number(search['person']),
    channel: text(search['channel']),
    before: number(search['before']),
  }),
});
const past = createRoute({
  getParentRoute: () => signedIn,
  path: '/past',
  component: lazyRouteComponent(() => import('./watch/past-page'), 'PastPage'),
  validateSearch: (search: Asked): { words?: string; severity?: Severity; before?: number } => ({
    words: text(search['words']),
    severity: SEVERITIES.find((one) => one === search['severity']),
    before: number(search['before']),
  }),
});
const mutes = createRoute({
  getParentRoute: () => signedIn,
  path: '/delivery/mutes',
  component: lazyRouteComponent(() => import('./delivery/mutes-page'), 'MutesPage'),
});
const rehearse = createRoute({
  getParentRoute: () => signedIn,
  path: '/delivery/rehearse',
  component: lazyRouteComponent(() => import('./delivery/rehearse-page'), 'RehearsePage'),
  validateSearch: (search: Asked): { rule?: number } => ({ rule: number(search['rule']) }),
});
const templates = createRoute({
  getParentRoute: () => signedIn,
  path: '/delivery/templates',
  component: lazyRouteComponent(() => import('./delivery/templates-page'), 'TemplatesPage'),
  validateSearch: (search: Asked): { way?: string; team?: string } => ({ way: text(search['way']), team: text(search['team']) }),
});
const actions = createRoute({
  getParentRoute: () => signedIn,
  path: '/delivery/actions',
  component: lazyRouteComponent(() => import('./delivery/actions-page'), 'ActionsPage'),
});
const setup = createRoute({
  getParentRoute: () => signedIn,
  path: '/setup',
  component: lazyRouteComponent(() => import('./people/setup-page'), 'SetupPage'),
  validateSearch: (search: Asked): { who?: number; until?: number } => ({
    who: number(search['who']),
    until: number(search['until']),
  }),
});

export const router = createRouter({
  routeTree: root.addChildren([
    signedIn.addChildren([
      watch.addChildren([watchAlone, watchIncident]),
      metrics,
      rules,
      noise,
      rule,
      fleet,
      checks,
      jobs,
      service,
      certificates,
      findings,
      recipes,
      recipe,
      places,
      job,
      check,
      cost,
      target,
      rosterFirst,
      coverage,
      mine,
      rosterOne,
      delivery,
      messages,
      mutes,
      rehearse,
      actions,
      templates,
      past,
      setup,
    ]),
    wall,
  ]),
  defaultPreload: 'intent',
});

declare module '@tanstack/react-router' {
  interface Register {
    router: typeof router;
  }
}
