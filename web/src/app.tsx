import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Outlet, RouterProvider, createRootRoute, createRoute, createRouter, lazyRouteComponent } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { read } from './api/client';
import { carried } from './metrics/carried';
import { type Look, looksOf } from './metrics/look';
import { SignIn } from './people/sign-in';
import { SessionContext } from './ui/session';
import { TopBar } from './ui/top-bar';
import { isZone } from './ui/zone';
import { WatchPage } from './watch/watch-page';

const root = createRootRoute({
  component: () => (
    <>
      <TopBar />
      <main className="mx-auto max-w-[1600px] px-5 pb-8 max-sm:px-3">
        <Outlet />
      </main>
    </>
  ),
  notFoundComponent: () => (
    <div className="py-16 text-center">
      <h1>There is no such page</h1>
      <p className="mt-2 text-muted">The bar above leads on.</p>
    </div>
  ),
});
const number = (value: unknown) =>
  Number.isFinite(Number(value)) && value !== undefined && value !== '' ? Number(value) : undefined;
const formula = (value: unknown) => (typeof value === 'string' ? carried(value) : undefined);
const text = (value: unknown) => (typeof value === 'string' ? value : undefined);

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

export const watchRoute = createRoute({
  getParentRoute: () => root,
  path: '/',
  component: WatchPage,
  validateSearch: (search: Record<string, unknown>): { back?: number } => ({ back: number(search['back']) }),
});
export const incidentRoute = createRoute({
  getParentRoute: () => root,
  path: '/incidents/$id',
  component: WatchPage,
  validateSearch: (search: Record<string, unknown>): { back?: number } => ({ back: number(search['back']) }),
});
export const metricsRoute = createRoute({
  getParentRoute: () => root,
  path: '/metrics',
  component: lazyRouteComponent(() => import('./metrics/metrics-page'), 'MetricsPage'),
  validateSearch: (search: Record<string, unknown>): MetricsSearch => ({
    formula: formula(search['formula']),
    also: Array.isArray(search['also'])
      ? search['also'].filter((one): one is string => typeof one === 'string').map(carried)
      : undefined,
    span: text(search['span']),
    from: number(search['from']),
    to: number(search['to']),
    ago: search['ago'] === '1d' || search['ago'] === '7d' ? search['ago'] : undefined,
    form: search['form'] === 'stacked' || search['form'] === 'table' ? search['form'] : undefined,
    usual: search['usual'] === 'off' ? 'off' : undefined,
    zone: isZone(search['zone']) ? search['zone'] : undefined,
    looks: looksOf(search['looks']),
  }),
});
const rulesRoute = createRoute({
  getParentRoute: () => root,
  path: '/rules',
  component: lazyRouteComponent(() => import('./rules/rules-page'), 'RulesPage'),
});
export const ruleRoute = createRoute({
  getParentRoute: () => root,
  path: '/rules/$id',
  component: lazyRouteComponent(() => import('./rules/rule-page'), 'RulePage'),
  validateSearch: (search: Record<string, unknown>): { formula?: string; limit?: number } => ({
    formula: formula(search['formula']),
    limit: number(search['limit']),
  }),
});
const fleetRoute = createRoute({
  getParentRoute: () => root,
  path: '/fleet',
  component: lazyRouteComponent(() => import('./fleet/fleet-page'), 'FleetPage'),
  validateSearch: (
    search: Record<string, unknown>,
  ): { find?: string; by?: string; sort?: string; only?: string; spark?: string } => ({
    find: text(search['find']),
    by: text(search['by']),
    sort: text(search['sort']),
    only: text(search['only']),
    spark: text(search['spark']),
  }),
});
const costRoute = createRoute({
  getParentRoute: () => root,
  path: '/fleet/cost',
  component: lazyRouteComponent(() => import('./fleet/cost-page'), 'CostPage'),
});
const targetRoute = createRoute({
  getParentRoute: () => root,
  path: '/fleet/$id',
  component: lazyRouteComponent(() => import('./fleet/target-page'), 'TargetPage'),
});
const setupRoute = createRoute({
  getParentRoute: () => root,
  path: '/setup',
  component: lazyRouteComponent(() => import('./people/setup-page'), 'SetupPage'),
});

const router = createRouter({
  routeTree: root.addChildren([
    watchRoute,
    incidentRoute,
    metricsRoute,
    rulesRoute,
    ruleRoute,
    fleetRoute,
    costRoute,
    targetRoute,
    setupRoute,
  ]),
  defaultPreload: 'intent',
});

declare module '@tanstack/react-router' {
  interface Register {
    router: typeof router;
  }
}

export function App() {
  const queries = useQueryClient();
  const session = useQuery({
    queryKey: ['session'],
    queryFn: () => read('/api/session'),
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
  const [chosenZone, setChosenZone] = useState(() => localStorage.getItem('zone'));
  useEffect(() => {
    const signedOut = () => void queries.invalidateQueries({ queryKey: ['session'] });
    addEventListener('olivine:signed-out', signedOut);
    return () => removeEventListener('olivine:signed-out', signedOut);
  }, [queries]);
  if (session.isPending) return null;
  if (session.isError) return <p className="p-8">{session.error.message}</p>;
  if (!session.data.person) return <SignIn />;
  const siteZone = session.data.zone;
  const chooseZone = (zone: string) => {
    if (zone === siteZone) localStorage.removeItem('zone');
    else localStorage.setItem('zone', zone);
    setChosenZone(zone);
  };
  return (
    <SessionContext
      value={{ person: session.data.person, siteZone, zone: isZone(chosenZone) ? chosenZone : siteZone, chooseZone }}
    >
      <RouterProvider router={router} />
      <Toaster position="bottom-left" toastOptions={{ className: '!bg-ink !text-paper !border-0 !font-sans' }} />
    </SessionContext>
  );
}
