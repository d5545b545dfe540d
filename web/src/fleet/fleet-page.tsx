import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useWindowVirtualizer } from '@tanstack/react-virtual';
import clsx from 'clsx';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { read } from '../api/client';
import type { ChartLine, Target } from '../api/types';
import { Input, Sheet } from '../ui/controls';
import { labelKey } from '../metrics/names';
import { quantity } from '../ui/format';
import { useMayChange } from '../ui/session';
import { Spark } from '../ui/spark';
import { useNow } from '../ui/use-now';
import { FleetTabs } from './fleet-tabs';
import { ageOf, fleetSentence, groupTrouble, health, HEALTHS } from './health';
import { GroupsDialog } from './groups-dialog';
import { ImportDialog } from './import-dialog';
import { ManyBar } from './many-bar';
import { Rail } from './rail';
import { AddTarget } from './target-form';

const COLUMNS =
  'grid grid-cols-[18px_132px_minmax(180px,1.5fr)_90px_150px_64px_76px_150px_70px] items-center gap-x-3 px-3 max-lg:min-w-[950px]';
const collator = new Intl.Collator('en', { numeric: true });
type Costs = ReadonlyMap<number, number>;
const SORTS: Record<string, (a: Target, b: Target, costs: Costs) => number> = {
  name: (a, b) => collator.compare(a.name, b.name),
  newest: (a, b) => (a.status?.okAt ?? 0) - (b.status?.okAt ?? 0),
  scrape: (a, b) => (b.status?.seconds ?? 0) / b.intervalSeconds - (a.status?.seconds ?? 0) / a.intervalSeconds,
  series: (a, b) => (b.status?.readings ?? 0) - (a.status?.readings ?? 0),
  cost: (a, b, costs) => (costs.get(b.id) ?? 0) - (costs.get(a.id) ?? 0),
};
type Row = { kind: 'group'; name: string; members: Target[] } | { kind: 'target'; target: Target };

/** Every target in a row, grouped by a label; search, order and grouping stand in the address. */
export function FleetPage() {
  const mayChange = useMayChange();
  const navigate = useNavigate();
  const search = useSearch({ from: '/fleet' });
  const { find = '', by = 'service', sort = 'name', only = 'all', spark = 'olivine_scrape_took_seconds' } = search;
  const set = (part: Partial<typeof search>) => void navigate({ to: '/fleet', search: { ...search, ...part }, replace: true });
  const now = useNow(undefined);
  const targets = useQuery({ queryKey: ['targets'], queryFn: () => read('/api/targets'), refetchInterval: 5_000 });
  const sparks = useSparks(spark, targets.data?.length);
  const costs = useCosts();

  const all = useMemo(() => targets.data ?? [], [targets.data]);
  const texts = useMemo(
    () =>
      new Map(
        all.map((target) => [
          target,
          `${target.name} ${target.group?.name ?? ''} ${Object.values(target.labels).join(' ')} ${target.status?.message ?? ''}`.toLowerCase(),
        ]),
      ),
    [all],
  );
  const counts = useMemo(() => Map.groupBy(all, health), [all]);
  const labels = useMemo(() => [...new Set(all.flatMap((target) => Object.keys(target.labels)))].sort(), [all]);
  const wanted = useDeferredValue(find);
  const rows = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    const shown = all
      .filter((target) => (only === 'all' || health(target) === only) && words.every((word) => texts.get(target)!.includes(word)))
      .sort((a, b) => (SORTS[sort] ?? SORTS['name']!)(a, b, costs));
    const groups = [
      ...Map.groupBy(shown, (target) =>
        by === 'group' ? (target.group?.name ?? 'in no group') : (target.labels[by] ?? `no ${by}`),
      ),
    ].sort(([a], [b]) => collator.compare(a, b));
    return groups.flatMap(([name, members]): Row[] => [
      { kind: 'group', name, members },
      ...members.map((target) => ({ kind: 'target' as const, target })),
    ]);
  }, [all, texts, wanted, only, sort, by, costs]);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const choose = useCallback(
    (id: number, yes: boolean) => setChosen((old) => new Set(yes ? [...old, id] : [...old].filter((one) => one !== id))),
    [],
  );
  const inSight = useMemo(() => rows.flatMap((row) => (row.kind === 'target' ? [row.target.id] : [])), [rows]);
  const shownIds = useMemo(() => new Set(inSight), [inSight]);
  const allChosen = useMemo(() => inSight.length > 0 && inSight.every((id) => chosen.has(id)), [inSight, chosen]);

  return (
    <>
      <FleetTabs>
        {chosen.size > 0 ? (
          <ManyBar
            chosen={chosen}
            unseen={[...chosen].filter((id) => !shownIds.has(id)).length}
            onDone={() => setChosen(new Set())}
          />
        ) : (
          mayChange && (
            <>
              <ImportDialog />
              <GroupsDialog />
              <AddTarget />
            </>
          )
        )}
      </FleetTabs>
      <h1>
        {targets.data ? fleetSentence(all) : 'Looking … '}
        <span className="font-normal text-muted">
          {all.reduce((sum, target) => sum + (target.status?.readings ?? 0), 0).toLocaleString('en-US')} series from{' '}
          {all.length.toLocaleString('en-US')} targets.
        </span>
      </h1>
      <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Input
          type="search"
          aria-label="Search targets"
          placeholder="Search names, labels, faults"
          value={find}
          onChange={(event) => set({ find: event.target.value || undefined })}
          className="max-w-64"
        />
        <div role="group" aria-label="Show" className="flex gap-0.5">
          {(['all', ...HEALTHS] as const)
            .filter((name) => name === 'all' || (name !== 'well' && counts.has(name)))
            .map((name) => (
              <button
                key={name}
                type="button"
                aria-pressed={only === name}
                onClick={() => set({ only: name === 'all' ? undefined : name })}
                className="rounded-md px-2 py-0.5 text-muted hover:text-ink aria-pressed:bg-accent-soft aria-pressed:font-semibold aria-pressed:text-ink"
              >
                {name} {name === 'all' ? all.length : counts.get(name)?.length}
              </button>
            ))}
        </div>
        <label className="flex items-center gap-1.5 text-muted">
          grouped by
          <select
            aria-label="Group by"
            value={by}
            onChange={(event) => set({ by: event.target.value })}
            className="rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink"
          >
            {['group', ...labels].map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
        <SparkChoice value={spark} onChange={(name) => set({ spark: name })} />
      </div>
      <Sheet className="mt-3 overflow-x-auto" label="Targets">
        <div role="table" aria-label="Targets" aria-rowcount={rows.length + 1}>
          <div role="rowgroup">
            <div role="row" className={clsx(COLUMNS, 'py-2 text-muted')}>
              <span role="columnheader">
                {mayChange && (
                  <input
                    type="checkbox"
                    aria-label="Choose all that are shown"
                    checked={allChosen}
                    onChange={(event) => setChosen(new Set(event.target.checked ? inSight : []))}
                  />
                )}
              </span>
              <span role="columnheader">last scrapes</span>
              <Head name="name" label="target" sort={sort} onSort={(name) => set({ sort: name })} />
              <Head name="newest" label="newest" sort={sort} onSort={(name) => set({ sort: name })} />
              <Head name="scrape" label="scrape of interval" sort={sort} onSort={(name) => set({ sort: name })} />
              <Head name="series" label="series" sort={sort} onSort={(name) => set({ sort: name })} />
              <Head name="cost" label="a day" sort={sort} onSort={(name) => set({ sort: name })} />
              <span role="columnheader" className="truncate" title={spark}>
                last hour
              </span>
              <span role="columnheader" className="text-right">
                now
              </span>
            </div>
          </div>
          <Rows rows={rows} now={now} sparks={sparks} costs={costs} chosen={chosen} onChoose={mayChange ? choose : undefined} />
        </div>
        {targets.data && rows.length === 0 && (
          <p className="border-t border-line px-3 py-4 text-muted">
            {all.length === 0
              ? 'No targets yet. Add one by its URL; Olivine tests it before it is saved.'
              : 'No target fits. Take a word out of the search.'}
          </p>
        )}
      </Sheet>
    </>
  );
}

function Head({ name, label, sort, onSort }: { name: string; label: string; sort: string; onSort: (name: string) => void }) {
  return (
    <span role="columnheader" aria-sort={sort === name ? 'ascending' : 'none'}>
      <button
        type="button"
        onClick={() => onSort(name)}
        className={clsx('hover:text-ink', sort === name && 'font-semibold text-ink')}
      >
        {label}
        {sort === name && ' ↓'}
      </button>
    </span>
  );
}

/** Each row is as high as all of its kind, so that none has to be measured. */
const TARGET_HEIGHT = 45;
const GROUP_HEIGHT = 30;

/** Only the rows in sight are there. */
function Rows({
  rows,
  now,
  sparks,
  costs,
  chosen,
  onChoose,
}: {
  rows: Row[];
  now: number;
  sparks: Sparks;
  costs: Costs;
  chosen: ReadonlySet<number>;
  onChoose?: (id: number, yes: boolean) => void;
}) {
  const host = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState(0);
  useEffect(() => setOffset(host.current?.offsetTop ?? 0), []);
  const virtual = useWindowVirtualizer({
    count: rows.length,
    estimateSize: (i) => (rows[i]?.kind === 'group' ? GROUP_HEIGHT : TARGET_HEIGHT),
    overscan: 8,
    scrollMargin: offset,
    getItemKey: (i) => (rows[i]!.kind === 'group' ? `group ${rows[i]!.name}` : rows[i]!.target.id),
  });
  return (
    <div ref={host} role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map((item) => {
        const row = rows[item.index]!;
        const style = { transform: `translateY(${item.start - virtual.options.scrollMargin}px)`, height: item.size };
        return (
          <div
            key={item.key}
            role="row"
            aria-rowindex={item.index + 2}
            className="absolute top-0 left-0 w-full border-t border-line [contain:strict]"
            style={style}
          >
            {row.kind === 'group' ? (
              <div role="cell" className="h-full truncate bg-future px-3 py-1 font-semibold">
                {row.name} <span className="font-normal text-muted">{row.members.length}</span>
                <span className="ml-3 font-normal text-critical">{groupTrouble(row.members)}</span>
              </div>
            ) : (
              <TargetRow
                target={row.target}
                chosen={chosen.has(row.target.id)}
                onChoose={onChoose}
                age={ageOf(row.target, now)}
                cost={costs.get(row.target.id)}
                unit={sparks.unit}
                line={sparks.lines.get(row.target.name)}
                band={sparks.bands.get(row.target.name)}
              />
            )}
          </div>
        );
      })}
    </div>
  );
}

/** Drawn again only when the target, its curve or the wording of its age changes. */
const TargetRow = memo(function TargetRow({
  target,
  chosen,
  onChoose,
  age,
  cost,
  unit,
  line,
  band,
}: {
  target: Target;
  chosen: boolean;
  onChoose?: (id: number, yes: boolean) => void;
  age: string;
  cost?: number;
  unit: string;
  line?: ChartLine;
  band?: Band;
}) {
  const share = target.status ? target.status.seconds / target.intervalSeconds : 0;
  return (
    <div className={clsx(COLUMNS, 'h-full', chosen && 'bg-accent-soft')}>
      <span role="cell">
        {onChoose && (
          <input
            type="checkbox"
            aria-label={`Choose ${target.name}`}
            checked={chosen}
            onChange={(event) => onChoose(target.id, event.target.checked)}
          />
        )}
      </span>
      <span role="cell">
        <Rail target={target} />
      </span>
      <span role="cell" className="min-w-0">
        <span className="block truncate">
          <Link to="/fleet/$id" params={{ id: String(target.id) }} className="font-semibold hover:underline">
            {target.name}
          </Link>{' '}
          <span className="text-muted">
            {['site', 'kind']
              .map((name) => target.labels[name])
              .filter(Boolean)
              .join(' · ')}
          </span>
        </span>
        {target.status && !target.status.ok && !target.paused && (
          <span className="block truncate text-[13px] text-critical" title={target.status.message}>
            {target.status.message}
          </span>
        )}
      </span>
      <span role="cell" className={clsx('whitespace-nowrap', health(target) === 'overdue' && 'font-semibold text-critical')}>
        {age}
      </span>
      <span role="cell" className="whitespace-nowrap">
        {target.status ? (
          <span className={clsx(share > 0.5 && 'font-semibold text-minor')}>
            {quantity(target.status.seconds, 'seconds')} <span className="text-muted">of {target.intervalSeconds} s</span>
          </span>
        ) : (
          <span className="text-muted">every {target.intervalSeconds} s</span>
        )}
      </span>
      <span role="cell">{target.status?.readings ?? '–'}</span>
      <span role="cell">{cost !== undefined && quantity(cost, 'bytes')}</span>
      <span role="cell">{line && <Spark curve={{ times: [], values: line.values }} band={band} width={140} height={28} />}</span>
      <span role="cell" className="truncate text-right">
        {line &&
          quantity(
            line.values.findLast((value) => value !== null),
            unit,
          )}
      </span>
    </div>
  );
});

type Band = { low: (number | null)[]; high: (number | null)[] };
type Sparks = { unit: string; lines: Map<string, ChartLine>; bands: Map<string, Band> };
/** What is usual is worked out from four past weeks: of a few hundred targets at most. */
const MOST_USUAL = 200;

/** One curve a target: the highest of its series over the last hour, with what is usual at this hour. */
function useSparks(metric: string, targets: number | undefined): Sparks {
  const formula = `max(${metric}) per target`;
  const chart = useQuery({
    queryKey: ['sparks', metric],
    queryFn: ({ signal }) => read('/api/chart', { query: { formula, points: 60, lines: 5_000 }, signal }),
    refetchInterval: 30_000,
    retry: false,
  });
  const usual = useQuery({
    queryKey: ['sparks usual', metric],
    queryFn: ({ signal }) => read('/api/chart/usual', { query: { formula, points: 12 }, signal }),
    enabled: targets !== undefined && targets > 0 && targets <= MOST_USUAL,
    refetchInterval: 300_000,
    retry: false,
  });
  return useMemo(() => {
    const lines = chart.data?.lines ?? [];
    const targetOf = new Map(lines.map((line) => [labelKey(line.labels), line.labels['target'] ?? '']));
    return {
      unit: chart.data?.unit ?? '',
      lines: new Map(lines.map((line) => [line.labels['target'] ?? '', line])),
      bands: new Map((usual.data?.bands ?? []).map((band) => [targetOf.get(band.key) ?? '', band])),
    };
  }, [chart.data, usual.data]);
}

/** Bytes a day of each target, as last worked out. */
function useCosts(): Costs {
  const cost = useQuery({ queryKey: ['cost'], queryFn: () => read('/api/cost'), staleTime: 60_000, retry: false });
  return useMemo(() => new Map((cost.data?.targets ?? []).map((target) => [target.id, target.bytesADay])), [cost.data]);
}

function SparkChoice({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  const metrics = useQuery({ queryKey: ['metrics'], queryFn: () => read('/api/metrics'), staleTime: 30_000 });
  const gauges = (metrics.data ?? []).filter((metric) => metric.type === 'gauge' || metric.name === value);
  return (
    <label className="flex min-w-0 items-center gap-1.5 text-muted">
      curve of
      <select
        aria-label="Metric of the curves"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="max-w-80 rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink"
      >
        {gauges.map((metric) => (
          <option key={metric.name} value={metric.name}>
            {metric.name.replaceAll('_', ' ')}
          </option>
        ))}
      </select>
    </label>
  );
}
