import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { send } from '../api/client';
import { watch } from '../api/queries';
import type { WatchData } from '../api/types';
import { clock, countdown, many } from '../ui/format';
import { useMay } from '../ui/session';
import { sayFailure } from '../ui/say-failure';

const SHOWN_SILENT = 5;

/** What is no incident, and yet worth a look: broken rules, what was set aside, what builds up, who does not report. */
export function Beside({ data, now, zone }: { data: WatchData; now: number; zone: string }) {
  return (
    <div className="space-y-1 border-t border-line px-3 py-3 text-muted first:border-t-0 empty:hidden">
      {data.broken.map((one) => (
        <p key={one.ruleId} className="line-clamp-2 break-words text-critical" title={one.message}>
          Broken since {clock(one.since, zone)}:{' '}
          <Link to="/rules/$id" params={{ id: String(one.ruleId) }} search={{}} className="underline">
            {one.rule}
          </Link>
          . {one.message}
        </p>
      ))}
      {data.away.map((one) => (
        <p key={one.name} className="line-clamp-2 break-words text-critical" title={one.reason}>
          <Link to="/delivery" className="underline">
            {one.name}
          </Link>{' '}
          {one.isThere ? 'refuses some' : 'takes nothing'}
          {one.since !== null && ` since ${clock(one.since, zone)}`}: {one.reason}.
          {one.waiting > 0 && ` ${many(one.waiting, 'message waits', 'messages wait')}.`}
        </p>
      ))}
      {data.aside.map((one) => (
        <SetAside key={`${one.part} ${one.subject}`} item={one} zone={zone} />
      ))}
      {data.open.length === 0 && (
        <p>No incident is open. What happened before stands on the timeline; choose a mark to read its trail.</p>
      )}
      {data.building.map((one) => (
        <p key={`${one.ruleId}-${one.raisesAt}`}>
          Building:{' '}
          <Link to="/rules/$id" params={{ id: String(one.ruleId) }} search={{}} className="underline">
            {one.rule}
          </Link>
          , raises in {countdown(one.raisesAt - now)} if it lasts.
        </p>
      ))}
      {data.silent.length > 0 && (
        <p>
          Not reporting:{' '}
          {data.silent.slice(0, SHOWN_SILENT).map((target, i) => (
            <span key={target.id} title={target.message ?? 'not asked yet'}>
              {i > 0 && ', '}
              <Link to="/fleet" search={{ find: target.name }} className="underline">
                {target.name}
              </Link>
            </span>
          ))}
          {data.silent.length > SHOWN_SILENT && ` and ${data.silent.length - SHOWN_SILENT} more`}.
        </p>
      )}
    </div>
  );
}

function SetAside({ item, zone }: { item: WatchData['aside'][number]; zone: string }) {
  const may = useMay();
  const queries = useQueryClient();
  const seen = useMutation({
    mutationFn: () => send('post', '/api/set-aside/seen', { body: { part: item.part, subject: item.subject } }),
    onSettled: () => queries.invalidateQueries({ queryKey: watch.key }),
    onError: sayFailure,
  });
  return (
    <p className="break-words">
      Set aside by the {item.part} {item.times > 1 && `${item.times} times `}since {clock(item.firstAt, zone)}: {item.subject};{' '}
      {item.reason}.{' '}
      {may('answer incidents') && (
        <button type="button" className="font-semibold underline" disabled={seen.isPending} onClick={() => seen.mutate()}>
          Seen
        </button>
      )}
    </p>
  );
}
