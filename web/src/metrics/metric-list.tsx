import clsx from 'clsx';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { metrics as asked } from '../api/queries';
import { Answered } from '../ui/answered';
import { Input, Sheet } from '../ui/controls';
import { hasWords } from '../ui/has-words';

export function MetricList({ chosen, onChoose }: { chosen: string; onChoose: (name: string, type: string) => void }) {
  const metrics = useQuery(asked.all());
  const [find, setFind] = useState('');
  const fits = hasWords(find);
  const found = (metrics.data ?? []).filter((metric) => fits(`${metric.name} ${metric.help}`));
  const groups = Map.groupBy(found, (metric) => metric.name.split('_')[0]!);
  return (
    <Sheet className="flex max-h-[calc(100dvh-190px)] flex-col max-lg:max-h-64" label="Metrics">
      <div className="p-3 pb-2">
        <Input
          type="search"
          aria-label="Search metrics"
          placeholder="cpu, queue, memory …"
          value={find}
          onChange={(event) => setFind(event.target.value)}
        />
      </div>
      <div className="overflow-y-auto pb-2" tabIndex={0} role="group" aria-label="List of metrics">
        {[...groups].map(([group, members]) => (
          <div key={group}>
            <p className="px-3 pt-2 pb-0.5 text-[13px] text-muted">{group}</p>
            {members.map((metric) => (
              <button
                key={metric.name}
                type="button"
                title={`${metric.help}\n${metric.type}${metric.unit ? `, ${metric.unit}` : ''}`}
                aria-current={metric.name === chosen}
                onClick={() => onChoose(metric.name, metric.type)}
                className={clsx(
                  'flex w-full items-baseline gap-2 px-3 py-1 text-left hover:bg-future',
                  'aria-[current=true]:bg-accent-soft aria-[current=true]:font-semibold',
                )}
              >
                <span className="min-w-0 flex-1">
                  <span className="block truncate">
                    {metric.name.slice(group.length + 1).replaceAll('_', ' ') || metric.name}
                  </span>
                  <span className="block truncate text-[12px] font-normal text-muted">
                    {metric.type}
                    {metric.unit && `, ${metric.unit}`}
                    {metric.help && ` · ${metric.help}`}
                  </span>
                </span>
                <span className="text-muted">{metric.series}</span>
              </button>
            ))}
          </div>
        ))}
        <Answered of={metrics} what="the metrics" className="px-3 py-2">
          {(all) =>
            found.length === 0 && (
              <p className="px-3 py-2 text-muted">
                {all.length === 0 ? 'No target has brought a metric yet. Add one in Fleet.' : `Nothing is named “${find}”.`}
              </p>
            )
          }
        </Answered>
      </div>
    </Sheet>
  );
}
