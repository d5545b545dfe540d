import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, Navigate, useParams } from '@tanstack/react-router';
import { useMemo, useState } from 'react';
import { fleet, metrics } from '../api/queries';
import { serverNow } from '../api/server-clock';
import type { ChartData, Target, TargetPage as Page } from '../api/types';
import { Answered } from '../ui/answered';
import { Chart } from '../ui/chart/chart';
import ActionsAbout from '../delivery/actions-about';
import { Button, Input, Sheet } from '../ui/controls';
import { dayClock, many, quantity, span, tied } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useMay, useZone } from '../ui/session';
import { Crystal } from '../ui/severity';
import { useNow } from '../ui/use-now';
import { credentialWords } from './credential-fields';
import { targetSentence } from './health';
import { Rail } from './rail';
import { ServiceLink } from './service/service-link';
import { ChangeTarget } from './target-form';
import { pageOf, sortOf } from './kinds';
import { useLevers } from './use-levers';

/** One target: what it is, how its scrapes went, what it brings and where that is used. */
export function TargetPage() {
  const { id } = useParams({ from: '/signed-in/fleet/$id' });
  const targets = useQuery({ ...fleet.targets(), refetchInterval: 5_000 });
  const page = useQuery({ ...fleet.target(Number(id)), refetchInterval: 15_000 });
  return (
    <Answered of={page} what="this target" className="py-10">
      {(found) => (
        <Answered of={targets} what="this target" className="py-10">
          {(all) => {
            const target = all.find((one) => String(one.id) === id);
            if (target && pageOf(target) !== '/fleet/$id') return <Navigate to={pageOf(target)} params={{ id }} replace />;
            return target ? <Opened key={id} target={target} page={found} /> : <Gone />;
          }}
        </Answered>
      )}
    </Answered>
  );
}

function Gone() {
  return (
    <p className="mt-6">
      This target is not there any more.{' '}
      <Link to="/fleet" className="underline">
        All targets
      </Link>
    </p>
  );
}

function Opened({ target, page }: { target: Target; page: Page }) {
  const { id } = target;
  const mayChange = useMay()('keep targets');
  const zone = useZone();
  const now = useNow();
  const levers = useLevers(target, '/fleet');
  const status = target.status;
  const isHandedIn = sortOf(target) === 'handed in';
  const from = (field: string) => (target.inherits.includes(field) && target.group ? ` · from ${target.group.name}` : '');
  return (
    <>
      <p className="mt-4 text-muted">
        <Link to="/fleet" className="hover:text-ink">
          Fleet
        </Link>{' '}
        / <ServiceLink labels={target.labels} />
      </p>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <PageHead title={target.name}>
          {target.name} <span className="font-normal text-muted">{targetSentence(target, now)}</span>
        </PageHead>
        {mayChange && (
          <div className="flex gap-2">
            {target.url && <Button onClick={() => levers.pause(!target.paused)}>{target.paused ? 'Resume' : 'Pause'}</Button>}
            <ChangeTarget target={target} />
            <Button onClick={levers.remove}>Remove</Button>
          </div>
        )}
      </div>
      {status && !status.ok && !target.paused && (
        <p role="alert" className="mt-3 rounded-lg border border-critical/40 bg-sheet px-3 py-2 break-words text-critical">
          {status.message}
        </p>
      )}
      {status?.notice && !target.paused && (
        <p role="status" className="mt-3 rounded-lg border border-minor/40 bg-sheet px-3 py-2 break-words">
          {isHandedIn ? `${status.notice}.` : `Taken all the same: ${status.notice}`}
        </p>
      )}
      {status && status.refused > 0 && (
        <p className="mt-3 rounded-lg border border-minor/40 bg-sheet px-3 py-2">
          {many(status.refused, 'reading')} of the last scrape were refused: their times are more than{' '}
          {span(page.lateMinutes * 60_000)} old, or ahead of now. Look at the clock of this target, or let readings come later in
          Setup.
        </p>
      )}
      <div className="mt-3 grid grid-cols-[380px_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          <Sheet className="p-4" label="What it is">
            <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
              <Fact name="address">
                {target.url ? (
                  <span className="font-mono text-[12.5px] break-all">{target.url}</span>
                ) : (
                  'none: its readings come from files'
                )}
              </Fact>
              <Fact name={isHandedIn ? 'noted every' : 'interval'}>
                {span(target.intervalSeconds * 1000)}
                <span className="text-muted">{from('interval')}</span>
              </Fact>
              {!isHandedIn && (
                <>
                  {' '}
                  <Fact name="gives up after">
                    {span(target.timeoutSeconds * 1000)}
                    <span className="text-muted">{from('timeout')}</span>
                  </Fact>
                  <Fact name="credential">
                    {credentialWords(target.credential)}
                    <span className="text-muted">{target.credential ? from('credential') : ''}</span>
                  </Fact>
                </>
              )}
              {page.held && (
                <Fact name="handed in">
                  {dayClock(page.held.at, zone)}, {page.held.endsAt > now ? 'holds until' : 'ended'}{' '}
                  {dayClock(page.held.endsAt, zone)}
                </Fact>
              )}
              {!isHandedIn && (
                <Fact name="newest">
                  {status?.okAt ? `${dayClock(status.okAt, zone)}, ${span(Math.max(0, now - status.okAt))} ago` : 'none'}
                </Fact>
              )}
              <Fact name="brings">
                {status
                  ? `${status.readings} series, ${quantity(status.bytes, 'bytes')}${isHandedIn ? '' : ` a scrape (${status.form})`}`
                  : 'nothing yet'}
              </Fact>
              <Fact name="labels">
                {Object.entries(target.labels).map(([name, value]) => (
                  <span key={name} className="mr-3 inline-block">
                    <span className="text-muted">{name}</span> {value}
                    {!(name in target.ownLabels) && target.group && (
                      <span className="text-muted"> · from {target.group.name}</span>
                    )}
                  </span>
                ))}
              </Fact>
            </dl>
          </Sheet>
          <Sheet className="p-4" label="Where it is used">
            <h2 className="mb-2">Where it is used</h2>
            {page.rules.length === 0 && (
              <p className="text-muted">No rule looks at it. Choose one of its metrics and write one.</p>
            )}
            <ul className="space-y-1">
              {page.rules.map((rule) => (
                <li key={rule.id} className="flex items-center gap-2">
                  <Crystal severity={rule.severity} />
                  <Link to="/rules/$id" params={{ id: String(rule.id) }} className="hover:underline">
                    {rule.name}
                  </Link>
                </li>
              ))}
            </ul>
          </Sheet>
          <Sheet className="px-4 pb-4 empty:hidden" label="What may be done">
            <ActionsAbout about={{ target: id }} />
          </Sheet>
          <Sheet className="p-4" label="Its incidents">
            <h2 className="mb-2">Its incidents</h2>
            {page.incidents.length === 0 && <p className="text-muted">None in what is kept.</p>}
            <ul className="space-y-1.5">
              {page.incidents.map((incident) => (
                <li key={incident.id} className="flex items-start gap-2">
                  <Crystal severity={incident.severity} />
                  <span className="min-w-0">
                    <Link to="/incidents/$id" params={{ id: String(incident.id) }} className="hover:underline">
                      {tied(incident.title)}
                    </Link>
                    <span className="block text-[13px] text-muted">
                      {dayClock(incident.openedAt, zone)},{' '}
                      {incident.resolvedAt ? `for ${span(incident.resolvedAt - incident.openedAt)}` : incident.status}
                    </span>
                  </span>
                </li>
              ))}
            </ul>
          </Sheet>
        </div>
        <div className="min-w-0 space-y-4">
          <Sheet className="p-4" label={isHandedIn ? 'How it went' : 'Its scrapes'}>
            <div className="mb-2 flex items-center justify-between gap-4">
              <h2>
                {isHandedIn ? 'How it went' : 'Its scrapes'}{' '}
                <span className="font-normal text-muted">
                  {page.faultsInDay === 0 ? 'none failed in a day' : `${page.faultsInDay} failed in a day`}
                </span>
              </h2>
              <Rail target={target} />
            </div>
            {!isHandedIn && <ScrapeTimes target={target} />}
            {page.faults.length > 0 && (
              <ul
                className="mt-2 max-h-44 overflow-y-auto border-t border-line pt-2"
                tabIndex={0}
                aria-label="Scrapes that failed"
              >
                {page.faults.map((fault) => (
                  <li key={fault.at} className="flex gap-3 py-0.5">
                    <span className="w-36 shrink-0 whitespace-nowrap text-muted">{dayClock(fault.at, zone)}</span>
                    <span className="min-w-0 break-words">{fault.message}</span>
                  </li>
                ))}
              </ul>
            )}
          </Sheet>
          <Metrics page={page} target={target} />
          {mayChange && target.url && <RawText id={id} isHandedIn={isHandedIn} />}
        </div>
      </div>
    </>
  );
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="text-muted">{name}</dt>
      <dd className="min-w-0">{children}</dd>
    </>
  );
}

function ScrapeTimes({ target }: { target: Target }) {
  const zone = useZone();
  const formula = `olivine_scrape_took_seconds where target = ${JSON.stringify(target.name)}`;
  const chart = useQuery({
    ...metrics.chart(formula, 'last six hours', 400, () => ({ from: serverNow() - 21_600_000, to: serverNow() })),
    refetchInterval: 30_000,
  });
  return (
    <Answered
      of={chart}
      what="its scrape times"
      isEmpty={(data) => data.lines.length === 0}
      empty={<p className="text-muted">No scrapes in the last six hours.</p>}
    >
      {(data) => <ScrapeChart data={data} name={target.name} zone={zone} />}
    </Answered>
  );
}

function ScrapeChart({ data, name, zone }: { data: ChartData; name: string; zone: string }) {
  const [times, series] = useMemo(() => {
    const values = data.lines[0]?.values ?? [];
    return [values.map((_, i) => data.first + i * data.step), [{ name: 'answered in', values }]];
  }, [data]);
  return <Chart label={`Scrape times of ${name}`} times={times} series={series} unit="seconds" zone={zone} height={130} />;
}

function Metrics({ page, target }: { page: Page; target: Target }) {
  const [find, setFind] = useState('');
  const found = page.metrics.filter((metric) => `${metric.name} ${metric.help}`.toLowerCase().includes(find.toLowerCase()));
  return (
    <Sheet className="p-4" label="Its metrics">
      <div className="mb-2 flex items-center justify-between gap-4">
        <h2>
          Its metrics <span className="font-normal text-muted">{page.metrics.length}</span>
        </h2>
        <Input
          type="search"
          aria-label="Search its metrics"
          placeholder="Search"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          className="max-w-52"
        />
      </div>
      <ul className="max-h-72 overflow-y-auto" tabIndex={0} aria-label="Metrics of this target">
        {found.map((metric) => (
          <li key={metric.name} className="flex items-baseline gap-3 py-0.5">
            <Link
              to="/metrics"
              search={{
                formula:
                  metric.type === 'counter' || /_(count|bucket|sum)$/.test(metric.name)
                    ? `rate(${metric.name} where target = ${JSON.stringify(target.name)}, 5m)`
                    : `${metric.name} where target = ${JSON.stringify(target.name)}`,
              }}
              className="font-mono text-[12.5px] hover:underline"
            >
              {metric.name}
            </Link>
            <span className="min-w-0 flex-1 truncate text-muted">{metric.help}</span>
            <span className="text-muted">
              {metric.type}
              {metric.unit && `, ${metric.unit}`} · {metric.series}
            </span>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

/** What the target answers this moment, line by line as it says it. */
function RawText({ id, isHandedIn }: { id: number; isHandedIn: boolean }) {
  const what = isHandedIn ? 'What was handed in last' : 'Its text now';
  const raw = useMutation({
    mutationFn: async () => {
      const response = await fetch(`/api/targets/${id}/raw`);
      if (!response.ok) throw new Error(((await response.json()) as { title?: string }).title ?? 'No answer');
      return response.text();
    },
  });
  return (
    <Sheet className="p-4" label={what}>
      <div className="flex items-center justify-between gap-4">
        <h2>{what}</h2>
        <Button onClick={() => raw.mutate()} disabled={raw.isPending}>
          {isHandedIn ? 'Show' : raw.isPending ? 'Asking …' : raw.data ? 'Ask again' : 'Ask'}
        </Button>
      </div>
      {raw.error && (
        <p role="alert" className="mt-2 text-critical">
          {raw.error.message}
        </p>
      )}
      {raw.data && (
        <pre
          className="mt-2 max-h-96 overflow-auto rounded-lg bg-future p-3 font-mono text-[12px]"
          tabIndex={0}
          aria-label="Exposition text"
        >
          {raw.data}
        </pre>
      )}
    </Sheet>
  );
}
