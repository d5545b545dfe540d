import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useCallback, useDeferredValue, useMemo, useState } from 'react';
import { fleet, metrics as metricsAsked } from '../api/queries';
import type { Target } from '../api/types';
import { Answered, Old } from '../ui/answered';
import { Input, Sheet, smallLook } from '../ui/controls';
import { many } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useMay } from '../ui/session';
import { ColumnsMenu } from '../ui/table/columns';
import { hasWords } from '../ui/has-words';
import { Table } from '../ui/table/table';
import { fleetColumns } from './columns';
import { AddSomething } from './add-something';
import { FleetTabs } from './fleet-tabs';
import { GroupsDialog } from './groups-dialog';
import { HEALTHS, fleetSentence, groupTrouble, health } from './health';
import { ImportDialog } from './import-dialog';
import { SORTS, sortOf } from './kinds';
import { ManyBar } from './many-bar';
import { useCosts, useSparks } from './use-sparks';

const ROW_HEIGHT = 45;
const idOf = (target: Target) => target.id;
const nameOf = (target: Target) => target.name;

/** Every target in a row, grouped by a label; search, order and grouping stand in the address. */
export function FleetPage() {
  const targets = useQuery({ ...fleet.targets(), refetchInterval: 5_000 });
  return (
    <Answered of={targets} what="the targets" className="py-10">
      {(data) => <Targets all={data} />}
    </Answered>
  );
}

function Targets({ all }: { all: Target[] }) {
  const mayChange = useMay()('keep targets');
  const navigate = useNavigate();
  const search = useSearch({ from: '/signed-in/fleet' });
  const { find = '', by = 'service', sort = 'name', order, only = 'all', what, spark = 'olivine_scrape_took_seconds' } = search;
  const set = (part: Partial<typeof search>) => void navigate({ to: '/fleet', search: { ...search, ...part }, replace: true });
  const { sparks, question: curves } = useSparks(spark, all.length);
  const { costs, question: cost } = useCosts();

  const counts = useMemo(() => Map.groupBy(all, health), [all]);
  const labels = useMemo(() => [...new Set(all.flatMap((target) => Object.keys(target.labels)))].sort(), [all]);
  const texts = useMemo(() => new Map(all.map((target) => [target, textOf(target)])), [all]);
  const wanted = useDeferredValue(find);
  const shown = useMemo(() => {
    const fits = hasWords(wanted);
    return all.filter(
      (target) => (only === 'all' || health(target) === only) && (!what || sortOf(target) === what) && fits(texts.get(target)!),
    );
  }, [all, texts, wanted, only, what]);
  const groupOf = useCallback(
    (target: Target) => (by === 'group' ? (target.group?.name ?? 'in no group') : (target.labels[by] ?? `no ${by}`)),
    [by],
  );
  const columns = useMemo(() => fleetColumns(sparks, costs), [sparks, costs]);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const shownIds = useMemo(() => new Set(shown.map(idOf)), [shown]);
  const series = all.reduce((sum, target) => sum + (target.status?.readings ?? 0), 0);

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
              <AddSomething />
            </>
          )
        )}
      </FleetTabs>
      <PageHead title="Fleet" means={fleetSentence(all)}>
        {fleetSentence(all)}
        <span className="font-normal text-muted">
          {many(series, 'series', 'series')} from {many(all.length, 'target')}.
        </span>
      </PageHead>
      <Old question={curves} what="the curves" />
      <Old question={cost} what="what a day takes" />
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
        <select
          aria-label="What they are"
          value={what ?? ''}
          onChange={(event) => set({ what: (event.target.value || undefined) as typeof what })}
          className={smallLook}
        >
          <option value="">of every kind</option>
          {SORTS.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
        <label className="flex items-center gap-1.5 text-muted">
          grouped by
          <select aria-label="Group by" value={by} onChange={(event) => set({ by: event.target.value })} className={smallLook}>
            {['group', ...labels].map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
        <SparkChoice value={spark} onChange={(name) => set({ spark: name })} />
        <span className="ml-auto">
          <ColumnsMenu list="targets" columns={columns} />
        </span>
      </div>
      <Sheet className="mt-3 overflow-x-auto" label="Targets">
        <div className="max-lg:min-w-[950px]">
          <Table
            label="Targets"
            remembered="targets"
            columns={columns}
            rows={shown}
            idOf={idOf}
            nameOf={nameOf}
            sort={{ by: sort, down: order === 'down' }}
            onSort={(next) => set({ sort: next.by, order: next.down ? 'down' : undefined })}
            groupOf={groupOf}
            groupWords={(members) => <span className="text-critical">{groupTrouble(members)}</span>}
            chosen={chosen}
            onChoose={mayChange ? setChosen : undefined}
            onOpen={(target) => void navigate({ to: '/fleet/$id', params: { id: String(target.id) } })}
            rowHeight={ROW_HEIGHT}
            empty={
              <p className="border-t border-line px-3 py-4 text-muted">
                {all.length === 0
                  ? 'No targets yet. Add one by its URL; Olivine tests it before it is saved.'
                  : 'No target fits. Take a word out of the search.'}
              </p>
            }
          />
        </div>
      </Sheet>
    </>
  );
}

const textOf = ({ name, group, labels, status }: Target) =>
  [name, group?.name ?? '', ...Object.values(labels), status?.message ?? ''].join(' ');

function SparkChoice({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  const metrics = useQuery(metricsAsked.all());
  const gauges = (metrics.data ?? []).filter((metric) => metric.type === 'gauge' || metric.name === value);
  return (
    <label className="flex min-w-0 items-center gap-1.5 text-muted">
      curve of
      <select
        aria-label="Metric of the curves"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className={`max-w-80 ${smallLook}`}
      >
        {(metrics.data ? gauges : [{ name: value }]).map((metric) => (
          <option key={metric.name} value={metric.name}>
            {metric.name.replaceAll('_', ' ')}
          </option>
        ))}
      </select>
    </label>
  );
}
