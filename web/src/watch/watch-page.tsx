import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import clsx from 'clsx';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { read, send } from '../api/client';
import type { IncidentRow, WatchData } from '../api/types';
import { Button, Sheet } from '../ui/controls';
import { clock, countdown, quantity, span } from '../ui/format';
import { useMayChange, useZone } from '../ui/session';
import { Crystal, HUES } from '../ui/severity';
import { Spark } from '../ui/spark';
import { useNow } from '../ui/use-now';
import { IncidentSheet } from './incident-sheet';
import { Timeline } from './timeline';
import { useAct } from './use-act';

const SPANS = [
  [6, '6 h back'],
  [24, '24 h back'],
  [72, '3 d back'],
  [168, '7 d back'],
  [336, '14 d back'],
] as const;
const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine'];
const count = (n: number) => NUMBERS[n] ?? String(n);

/** What is not as it should be although no incident says so; nothing is calm while any of it lasts. */
function troublesOf({ targets, broken, aside, parts }: WatchData): string[] {
  const silent = targets.known - targets.paused - targets.onTime - targets.new;
  const still = parts.filter((part) => part.ageMs > 20_000).map((part) => part.name);
  return [
    still.length > 0 && `${still.join(', ')} ${still.length === 1 ? 'does' : 'do'} not report.`,
    broken.length > 0 && `${count(broken.length)} ${broken.length === 1 ? 'rule is' : 'rules are'} broken.`,
    silent > 0 && `${count(silent)} ${silent === 1 ? 'target is' : 'targets are'} silent.`,
    aside.length > 0 && `${count(aside.length)} ${aside.length === 1 ? 'thing was' : 'things were'} set aside.`,
  ].filter((one): one is string => one !== false);
}

export function WatchPage() {
  const zone = useZone();
  const navigate = useNavigate();
  const search = useSearch({ strict: false }) as { back?: number };
  const params = useParams({ strict: false }) as { id?: string };
  const back = SPANS.some(([hours]) => hours === search.back) ? search.back! : 6;
  const watch = useQuery({
    queryKey: ['watch', back],
    queryFn: () => read('/api/watch', { query: { back, ahead: back > 24 ? 24 : 4 } }),
    refetchInterval: 3_000,
    placeholderData: (old) => old,
  });
  const now = useNow(watch.data?.now);
  const data = watch.data;
  const chosen = params.id ? Number(params.id) : (data?.open[0]?.id ?? null);

  const go = (step: number) => {
    const list = data?.open ?? [];
    const at = list.findIndex((one) => one.id === chosen);
    const next = list[Math.max(0, Math.min(list.length - 1, at + step))];
    if (next) void navigate({ to: '/incidents/$id', params: { id: String(next.id) }, search: { back: search.back } });
  };
  const act = useAct();
  const mayChange = useMayChange();
  const seen = useMutation({
    mutationFn: (body: { part: string; subject: string }) => send('post', '/api/set-aside/seen', { body }),
    onSettled: () => watch.refetch(),
    onError: (error) => toast.error(error.message),
  });
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (
        event.target instanceof HTMLElement &&
        (event.target.closest('input, textarea, select, [role=menu]') || event.metaKey || event.ctrlKey || event.altKey)
      )
        return;
      if (event.key === 'j') go(1);
      else if (event.key === 'k') go(-1);
      else if (event.key === 'a' && mayChange) {
        const one = data?.open.find((incident) => incident.id === chosen);
        if (one?.status === 'open') act.mutate({ id: one.id, action: 'acknowledge' });
      } else if (event.key === '[' || event.key === ']') {
        const at = SPANS.findIndex(([hours]) => hours === back);
        const next = SPANS[Math.max(0, Math.min(SPANS.length - 1, at + (event.key === '[' ? 1 : -1)))]!;
        void navigate({ to: '.', search: { back: next[0] } });
      }
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  });

  if (!data) return <p className="py-10 text-muted">{watch.error ? watch.error.message : 'Looking …'}</p>;
  const needs = data.open.filter((one) => one.status === 'open');
  const inHand = data.open.length - needs.length;
  const troubles = troublesOf(data);
  const calm = inHand > 0 ? 'Nothing needs anyone new. ' : troubles.length > 0 ? `${troubles.join(' ')} ` : 'All calm. ';
  const watched = data.targets.known - data.targets.paused;

  return (
    <>
      <div className="mt-4 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
        <h1 aria-live="polite">
          {needs.length === 0
            ? calm
            : `${count(needs.length)} ${needs.length === 1 ? 'incident needs' : 'incidents need'} someone now. `}
          <span className="font-normal text-muted">
            {inHand > 0 &&
              `${needs.length === 0 ? `${count(inHand)} ${inHand === 1 ? 'is' : 'are'}` : `${count(inHand)} more ${inHand === 1 ? 'is' : 'are'}`} in hand; `}
            {data.targets.onTime} of {watched} targets report on time
            {data.targets.new > 0 && `, ${data.targets.new} ${data.targets.new === 1 ? 'waits' : 'wait'} to be asked`}.{' '}
            {calm !== `${troubles.join(' ')} ` && troubles.join(' ')}
          </span>
        </h1>
        <label className="text-muted">
          <span className="sr-only">Span of the timeline</span>
          <select
            value={back}
            onChange={(event) => void navigate({ to: '.', search: { back: Number(event.target.value) } })}
            className="rounded-lg bg-transparent py-1"
          >
            {SPANS.map(([hours, words]) => (
              <option key={hours} value={hours}>
                {words}, {hours > 24 ? '24 h' : '4 h'} ahead
              </option>
            ))}
          </select>
        </label>
      </div>
      {watch.isError && (
        <p role="alert" className="mt-1 text-critical">
          {watch.error.message}
        </p>
      )}
      <div className="max-sm:hidden">
        <Timeline data={data} now={now} zone={zone} />
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,2.15fr)_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <Sheet label="Open incidents">
          <div className="flex items-baseline gap-3 border-b border-line px-3 py-2.5">
            <h2>Open now</h2>
            <span className="text-muted">{data.open.length === 0 ? 'nothing' : 'most urgent first'}</span>
          </div>
          {data.open.map((incident) => (
            <Row key={incident.id} incident={incident} now={now} zone={zone} chosen={incident.id === chosen} />
          ))}
          <div className="space-y-1 px-3 py-3 text-muted empty:hidden">
            {data.broken.map((one) => (
              <p key={one.ruleId} className="line-clamp-2 break-words text-critical" title={one.message}>
                Broken since {clock(one.since, zone)}:{' '}
                <Link to="/rules/$id" params={{ id: String(one.ruleId) }} search={{}} className="underline">
                  {one.rule}
                </Link>
                . {one.message}
              </p>
            ))}
            {data.aside.map((one) => (
              <p key={`${one.part} ${one.subject}`} className="break-words">
                Set aside by the {one.part} {one.times > 1 && `${one.times} times `}since {clock(one.firstAt, zone)}:{' '}
                {one.subject}. {one.reason}{' '}
                {mayChange && (
                  <button
                    type="button"
                    className="font-semibold underline"
                    disabled={seen.isPending}
                    onClick={() => seen.mutate({ part: one.part, subject: one.subject })}
                  >
                    Seen
                  </button>
                )}
              </p>
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
                {data.silent.slice(0, 5).map((target, i) => (
                  <span key={target.id} title={target.message ?? 'not asked yet'}>
                    {i > 0 && ', '}
                    <Link to="/fleet" search={{ find: target.name }} className="underline">
                      {target.name}
                    </Link>
                  </span>
                ))}
                {data.silent.length > 5 && ` and ${data.silent.length - 5} more`}.
              </p>
            )}
          </div>
        </Sheet>
        {chosen !== null && <IncidentSheet key={chosen} id={chosen} now={now} />}
      </div>
    </>
  );
}

function Row({ incident, now, zone, chosen }: { incident: IncidentRow; now: number; zone: string; chosen: boolean }) {
  const act = useAct();
  const mayChange = useMayChange();
  const first = incident.first;
  const values = incident.spark?.values ?? [];
  const value = values.findLast((one) => one !== null) ?? null;
  const told = incident.told.findLast((one) => one.status === 'sent');
  const waiting = incident.told.find((one) => one.status !== 'sent');
  return (
    <div
      className={clsx(
        'relative flex items-center gap-4 border-b border-line px-3 py-2.5 max-sm:flex-wrap max-sm:gap-2',
        chosen && 'bg-future',
      )}
    >
      {chosen && <span className="absolute inset-y-0 left-0 w-[3px]" style={{ background: HUES[incident.severity] }} />}
      <Crystal severity={incident.severity} />
      <div className="min-w-0 flex-1 basis-52">
        <Link
          to="/incidents/$id"
          params={{ id: String(incident.id) }}
          search={(old) => old as { back?: number }}
          className="font-semibold after:absolute after:inset-0"
          data-incident={incident.id}
        >
          {incident.title}
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
        {incident.spark && <Spark curve={incident.spark} limit={first?.limit} hue={HUES[incident.severity]} />}
      </div>
      <div className="w-44 shrink-0 max-sm:w-full">
        {incident.status === 'acknowledged' ? (
          <>
            <strong className="font-semibold">{incident.acknowledgedBy}</strong> has it
            <p className="text-muted">since {clock(incident.acknowledgedAt!, zone)}</p>
          </>
        ) : told ? (
          <>
            <strong className="font-semibold">{told.person}</strong> told {clock(told.at!, zone)}
            <p className="text-muted">
              {incident.next
                ? `rung ${incident.next.rung} in ${countdown(incident.next.at - now)}`
                : 'e-mail taken, no more rungs'}
            </p>
          </>
        ) : waiting ? (
          <>
            e-mail to <strong className="font-semibold">{waiting.person}</strong> waits
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
      {mayChange && (
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
