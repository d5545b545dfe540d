import { Link } from '@tanstack/react-router';
import clsx from 'clsx';
import type { IncidentRow as Incident } from '../api/types';
import { Button } from '../ui/controls';
import { clock, countdown, quantity, span, tied } from '../ui/format';
import { useMay } from '../ui/session';
import { Crystal, HUES } from '../ui/severity';
import { Spark } from '../ui/spark';
import { useAct } from './use-act';

/** An open incident: what is wrong, how bad against its limit, who was told, and the one thing to press. */
export function IncidentRow({ incident, now, zone, chosen }: { incident: Incident; now: number; zone: string; chosen: boolean }) {
  const act = useAct();
  const may = useMay();
  const first = incident.first;
  const values = incident.spark?.values ?? [];
  const value = values.findLast((one) => one !== null) ?? null;
  const told = incident.told.findLast((one) => one.status === 'sent');
  const waiting = incident.told.find((one) => one.status === 'planned' || one.status === 'sending');
  return (
    <div
      className={clsx(
        'relative flex items-center gap-4 border-b border-line last:border-b-0 px-3 py-2.5 max-sm:flex-wrap max-sm:gap-2',
        chosen && 'bg-future',
      )}
    >
      {chosen && <span className="absolute inset-y-0 left-0 w-[3px]" style={{ background: HUES[incident.severity] }} />}
      <Crystal severity={incident.severity} />
      <div className="min-w-0 flex-1 basis-52">
        <Link
          to="/incidents/$id"
          params={{ id: String(incident.id) }}
          search={(old) => old}
          className="font-semibold after:absolute after:inset-0"
          data-incident={incident.id}
        >
          {tied(incident.title)}
        </Link>
        <p className="text-muted">
          {first?.broken
            ? `cannot be evaluated: ${first.broken}`
            : first?.blind
              ? 'no readings'
              : `now ${quantity(value, first?.unit ?? '')}`}{' '}
          · {incident.service} · since {span(now - incident.openedAt)}
          {incident.alerts > 1 && ` · ${incident.open} of ${incident.alerts} alerts still raised`}
        </p>
      </div>
      <div className="max-sm:hidden">
        {incident.spark && <Spark curve={incident.spark} limit={first?.lines[0]} hue={HUES[incident.severity]} />}
      </div>
      <div className="w-44 shrink-0 max-sm:w-full">
        {incident.status === 'acknowledged' ? (
          <>
            <strong className="font-semibold">{incident.acknowledgedBy}</strong> has it
            <p className="text-muted">
              {incident.heldUntil === null
                ? `since ${clock(incident.acknowledgedAt!, zone)}`
                : `until ${clock(incident.heldUntil, zone)}`}
            </p>
          </>
        ) : incident.hushedUntil !== null ? (
          <>
            <strong className="font-semibold">hushed</strong> until {clock(incident.hushedUntil, zone)}
            <p className="text-muted">nobody is told before</p>
          </>
        ) : told ? (
          <>
            <strong className="font-semibold">{told.person}</strong> told {clock(told.at!, zone)}
            <p className="text-muted">
              {incident.next
                ? `rung ${incident.next.rung} in ${countdown(incident.next.at - now)}`
                : `by ${told.channel}, no more rungs`}
            </p>
          </>
        ) : waiting ? (
          <>
            {waiting.channel} to <strong className="font-semibold">{waiting.person}</strong> waits
            <p className="truncate text-muted" title={waiting.answer}>
              {waiting.answer || 'on its way'}
            </p>
          </>
        ) : (
          <span className="text-muted">
            {incident.next
              ? `gathering, ${incident.next.person} hears in ${countdown(incident.next.at - now)}`
              : 'nobody was told'}
          </span>
        )}
      </div>
      {may('answer incidents') && (
        <div className="relative z-10 shrink-0 text-right">
          {incident.status === 'open' ? (
            <Button
              look={chosen ? 'ink' : 'plain'}
              onClick={() => act.mutate({ id: incident.id, action: 'acknowledge' })}
              disabled={act.isPending}
            >
              Acknowledge
            </Button>
          ) : (
            <Button onClick={() => act.mutate({ id: incident.id, action: 'resolve' })} disabled={act.isPending}>
              Resolve
            </Button>
          )}
        </div>
      )}
    </div>
  );
}
