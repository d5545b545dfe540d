import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { delivery, watch } from '../api/queries';
import type { TemplatePreviewFields, TemplateWay } from '../api/types';
import { Select, Sheet } from '../ui/controls';
import { useSettled } from '../ui/use-settled';

const KINDS: [NonNullable<TemplatePreviewFields['kind']>, string][] = [
  ['raised', 'it is raised'],
  ['worse', 'it grew worse'],
  ['recovered', 'it is over'],
];

/** What the template makes of an incident that there was, while it is typed. */
export function TemplatePreview({ way, subject, text }: { way: TemplateWay; subject: string; text: string }) {
  const [incident, setIncident] = useState<number>();
  const [kind, setKind] = useState(KINDS[0]![0]);
  const past = useQuery(watch.past({}));
  const settled = useSettled({ subject, text }, 300);
  const seen = useQuery({
    ...delivery.previewed({ way: way.name, ...settled, kind, ...(incident !== undefined && { incident }) }),
    placeholderData: keepPreviousData,
  });
  const page = seen.data;
  return (
    <Sheet label="What it says" className="p-4">
      <h2>What it says</h2>
      <div className="mt-2 flex gap-2">
        <Select
          aria-label="Of which incident"
          value={incident ?? ''}
          onChange={(event) => setIncident(Number(event.target.value) || undefined)}
        >
          <option value="">the newest incident</option>
          {(past.data?.incidents ?? []).map((one) => (
            <option key={one.id} value={one.id}>
              {one.id}: {one.title}
            </option>
          ))}
        </Select>
        <Select aria-label="When" className="!w-40" value={kind} onChange={(event) => setKind(event.target.value as typeof kind)}>
          {KINDS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </Select>
      </div>
      {seen.error && <p className="mt-2 text-critical">{seen.error.message}</p>}
      {page && (
        <>
          <p className="mt-2 truncate text-[13px] text-muted">{page.of}</p>
          {page.fault && (
            <p role="alert" className="mt-2 rounded-lg border border-critical/40 px-3 py-1.5 break-words text-critical">
              {page.fault}. So it would be said as it ships:
            </p>
          )}
          <div className="mt-2 rounded-lg bg-future px-3 py-2">
            {way.titled && <p className="font-semibold break-words">{page.subject}</p>}
            <p className="max-h-72 overflow-auto break-words whitespace-pre-wrap">{page.text}</p>
          </div>
          {page.length && <p className="mt-1.5 text-[13px] text-muted">{page.length}</p>}
        </>
      )}
    </Sheet>
  );
}
