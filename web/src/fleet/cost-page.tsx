import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { fleet } from '../api/queries';
import type { Cost, CostRow } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { plain, quantity, whole } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { FleetTabs } from './fleet-tabs';

/** What collecting takes: by target, by metric, and the labels that multiply series. */
export function CostPage() {
  const cost = useQuery({ ...fleet.cost(), refetchInterval: 60_000 });
  return (
    <>
      <FleetTabs />
      <Answered of={cost} what="what collecting takes">
        {(data) => <Costs data={data} />}
      </Answered>
    </>
  );
}

function Costs({ data }: { data: Cost }) {
  return (
    <>
      <PageHead title="Cost">
        {quantity(data.bytesADay, 'bytes')} a day{' '}
        <span className="font-normal text-muted">
          for {plain(data.readingsPerSecond)} readings a second from {whole(data.series)} series;{' '}
          {data.bytesPerReading.toFixed(2)} bytes a reading, {quantity(data.storedBytes, 'bytes')} on disk by now.
        </span>
      </PageHead>
      <div className="mt-3 grid grid-cols-2 items-start gap-4 max-lg:grid-cols-1">
        <Shares
          title="Targets"
          rows={data.targets}
          all={data.bytesADay}
          link={(row) => (
            <Link to="/fleet/$id" params={{ id: String(row.id) }} className="hover:underline">
              {row.name}
            </Link>
          )}
        />
        <div className="space-y-4">
          <Sheet label="Labels that cost most" className="p-4">
            <h2>The labels that cost most</h2>
            <p className="mb-2 text-muted">What would fall away if it were dropped at the source.</p>
            <table className="w-full">
              <thead className="text-left text-muted">
                <tr>
                  <th className="py-1 font-normal">label</th>
                  <th className="px-3 py-1 text-right font-normal">most values</th>
                  <th className="px-3 py-1 text-right font-normal">series</th>
                  <th className="py-1 text-right font-normal">a day</th>
                </tr>
              </thead>
              <tbody>
                {data.labels.map((label) => (
                  <tr key={label.name} className="border-t border-line">
                    <td className="py-1 font-semibold">{label.name}</td>
                    <td className="px-3 py-1 text-right">{whole(label.values)}</td>
                    <td className="px-3 py-1 text-right">{whole(label.series)}</td>
                    <td className="py-1 text-right">{quantity(label.bytesADay, 'bytes')}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Sheet>
          <Shares
            title="Metrics"
            rows={data.metrics}
            all={data.bytesADay}
            link={(row) => (
              <Link to="/metrics" search={{ formula: row.name }} className="font-mono text-[12.5px] hover:underline">
                {row.name}
              </Link>
            )}
          />
        </div>
      </div>
    </>
  );
}

const SHORT = 20;

function Shares({
  title,
  rows,
  all,
  link,
}: {
  title: string;
  rows: CostRow[];
  all: number;
  link: (row: CostRow) => React.ReactNode;
}) {
  const [long, setLong] = useState(false);
  const most = rows[0]?.bytesADay ?? 1;
  return (
    <Sheet label={title} className="p-4">
      <h2 className="mb-2">
        {title} <span className="font-normal text-muted">{rows.length}</span>
      </h2>
      <table className="w-full">
        <thead className="text-left text-muted">
          <tr>
            <th className="py-1 font-normal">name</th>
            <th className="px-3 py-1 text-right font-normal">series</th>
            <th className="px-3 py-1 text-right font-normal">readings</th>
            <th className="py-1 text-right font-normal">a day</th>
            <th className="w-24 py-1 pl-3 font-normal">
              <span className="sr-only">share</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, long ? undefined : SHORT).map((row) => (
            <tr key={row.name} className="border-t border-line">
              <td className="max-w-64 truncate py-1">{link(row)}</td>
              <td className="px-3 py-1 text-right">{whole(row.series)}</td>
              <td className="px-3 py-1 text-right whitespace-nowrap">{plain(row.readingsPerSecond)}/s</td>
              <td className="py-1 text-right whitespace-nowrap">{quantity(row.bytesADay, 'bytes')}</td>
              <td className="py-1 pl-3" title={`${((row.bytesADay / all) * 100).toFixed(1)} % of all`}>
                <span className="block h-2 rounded-sm bg-accent" style={{ width: `${(row.bytesADay / most) * 100}%` }} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > SHORT && (
        <button type="button" className="mt-2 text-muted hover:text-ink" onClick={() => setLong(!long)}>
          {long ? 'Fewer' : `All ${rows.length}`}
        </button>
      )}
    </Sheet>
  );
}
