import { Link } from '@tanstack/react-router';
import clsx from 'clsx';
import type { ChartLine, Target } from '../api/types';
import { quantity, whole } from '../ui/format';
import { Spark } from '../ui/spark';
import { type Column, byText } from '../ui/table/rows';
import { useNow } from '../ui/use-now';
import { ageOf, health } from './health';
import { pageOf } from './kinds';
import { Rail } from './rail';

type Band = { low: (number | null)[]; high: (number | null)[] };
/** One curve a target, and what is usual at this hour. */
export type Sparks = { metric: string; unit: string; lines: Map<string, ChartLine>; bands: Map<string, Band> };
/** Bytes a day, by target. */
export type Costs = ReadonlyMap<number, number>;

const shareOf = ({ status, intervalSeconds }: Target) => (status?.seconds ?? 0) / intervalSeconds;
const newestOf = (line: ChartLine | undefined) => line?.values.findLast((value) => value !== null) ?? null;

export const fleetColumns = (sparks: Sparks, costs: Costs): Column<Target>[] => [
  { name: 'rail', label: 'last scrapes', track: '132px', cell: (target) => <Rail target={target} /> },
  {
    name: 'name',
    label: 'target',
    track: 'minmax(180px,1.5fr)',
    stays: true,
    compare: (a, b) => byText(a.name, b.name),
    cell: (target) => <Name target={target} />,
  },
  {
    name: 'newest',
    label: 'newest',
    track: '90px',
    compare: (a, b) => (a.status?.okAt ?? 0) - (b.status?.okAt ?? 0),
    cell: (target) => <Age target={target} />,
  },
  {
    name: 'scrape',
    label: 'scrape of interval',
    track: '150px',
    mostFirst: true,
    compare: (a, b) => shareOf(a) - shareOf(b),
    cell: (target) => <ScrapeTime target={target} />,
  },
  {
    name: 'series',
    label: 'series',
    track: '64px',
    mostFirst: true,
    compare: (a, b) => (a.status?.readings ?? 0) - (b.status?.readings ?? 0),
    cell: ({ status }) => (status ? whole(status.readings) : '–'),
  },
  {
    name: 'cost',
    label: 'a day',
    track: '76px',
    mostFirst: true,
    compare: (a, b) => (costs.get(a.id) ?? 0) - (costs.get(b.id) ?? 0),
    cell: ({ id }) => costs.has(id) && quantity(costs.get(id), 'bytes'),
  },
  {
    name: 'spark',
    label: 'last hour',
    title: sparks.metric,
    track: '150px',
    cell: ({ name }) => {
      const line = sparks.lines.get(name);
      return line && <Spark curve={{ times: [], values: line.values }} band={sparks.bands.get(name)} width={140} height={28} />;
    },
  },
  {
    name: 'now',
    label: 'now',
    track: '70px',
    right: true,
    mostFirst: true,
    compare: (a, b) => (newestOf(sparks.lines.get(a.name)) ?? -Infinity) - (newestOf(sparks.lines.get(b.name)) ?? -Infinity),
    cell: ({ name }) => sparks.lines.has(name) && quantity(newestOf(sparks.lines.get(name)), sparks.unit),
  },
];

function Name({ target }: { target: Target }) {
  return (
    <>
      <span className="block truncate">
        <Link to={pageOf(target)} params={{ id: String(target.id) }} className="font-semibold hover:underline">
          {target.name}
        </Link>{' '}
        <span className="text-muted">
          {['site', 'kind']
            .map((name) => target.labels[name])
            .filter(Boolean)
            .join(' · ')}
        </span>
      </span>
      <Fault target={target} />
    </>
  );
}

/** Why it does not answer; of a check, what is not as it should be. */
function Fault({ target: { status, paused } }: { target: Target }) {
  const isWell = status === null || paused || (status.ok && ['', 'runs'].includes(status.verdict));
  if (isWell) return null;
  const words = status.ok ? status.notice : status.message;
  return (
    <span
      className={clsx('block truncate text-[13px]', status.verdict === 'partly' ? 'text-major' : 'text-critical')}
      title={words}
    >
      {words}
    </span>
  );
}

function Age({ target }: { target: Target }) {
  const now = useNow();
  return (
    <span className={clsx('whitespace-nowrap', health(target) === 'overdue' && 'font-semibold text-critical')}>
      {ageOf(target, now)}
    </span>
  );
}

function ScrapeTime({ target }: { target: Target }) {
  const every = <span className="text-muted">of {quantity(target.intervalSeconds, 'seconds')}</span>;
  if (!target.status) return <span className="text-muted">every {quantity(target.intervalSeconds, 'seconds')}</span>;
  return (
    <span className={clsx('whitespace-nowrap', shareOf(target) > 0.5 && 'font-semibold text-minor')}>
      {quantity(target.status.seconds, 'seconds')} {every}
    </span>
  );
}
