import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import clsx from 'clsx';
import { Suspense, lazy, useMemo } from 'react';
import { watch } from '../api/queries';
import type { IncidentDetail } from '../api/types';
import { Answered } from '../ui/answered';
import { Chart } from '../ui/chart/chart';
import { ClearingLine } from '../ui/clearing-line';
import { Button, Input, Sheet } from '../ui/controls';
import { useDraft } from '../ui/draft';
import { clock, clockSeconds, countdown, dayClock, many, quantity, span, tied } from '../ui/format';
import { useMay, useZone } from '../ui/session';
import { Crystal, HUES } from '../ui/severity';
import { MarkButtons } from '../ui/marks';
import { MuteButton } from '../delivery/mute-button';
import { matchingOf, sharedBy } from '../delivery/mute-words';
import { Acknowledge } from './acknowledge';
import { HandsDialog } from './hands-dialog';
import { useAct } from './use-act';

/** Only where there is something to read. */
const Markdown = lazy(() => import('../ui/markdown'));
const ActionsAbout = lazy(() => import('../delivery/actions-about'));

/** Where a thumb reaches it, on the incident's own page. */
const THUMB = [
  'max-sm:fixed max-sm:inset-x-0 max-sm:bottom-0 max-sm:z-20 max-sm:gap-1.5 max-sm:border-t max-sm:border-line',
  'max-sm:bg-sheet max-sm:p-2.5 max-sm:pb-[max(0.625rem,env(safe-area-inset-bottom))]',
];

/** `90 to 160 messages`; one value where both are as good as the same. */
const usualWords = ({ low, middle, high }: { low: number; middle: number; high: number }, unit: string) =>
  quantity(low, unit) === quantity(high, unit)
    ? quantity(middle, unit)
    : `${quantity(low >= 0 || middle < 0 ? low : 0, unit)} to ${quantity(high, unit)}`;

/** `4 min before`, beside the onset. */
const beforeWords = (ms: number) => (Math.abs(ms) < 1000 ? 'at once' : `${span(Math.abs(ms))} ${ms < 0 ? 'before' : 'after'}`);

const ENDS: Record<string, string> = { calm: 'cleared', lost: 'lost from sight', ended: 'no longer looked at since' };

/** One incident: its chart with limit and raise, what it takes to clear, and the trail of reasons. */
export function IncidentSheet({ id, now, onPhone }: { id: number; now: number; onPhone: boolean }) {
  const incident = useQuery(watch.incident(id));
  return (
    <Sheet className={clsx('min-h-96 p-4', onPhone && 'max-sm:mb-28')} label="Chosen incident">
      <Answered of={incident} what="this incident">
        {(data) => <Detail data={data} now={now} onPhone={onPhone} />}
      </Answered>
    </Sheet>
  );
}

function Detail({ data, now, onPhone }: { data: IncidentDetail; now: number; onPhone: boolean }) {
  const { id } = data;
  const zone = useZone();
  const may = useMay();
  const act = useAct();
  const [note, setNote] = useDraft(`note of incident ${id}`);
  const chart = data.chart;
  const name = data.alerts[0]?.name ?? '';
  const series = useMemo(() => (chart ? [{ labels: {}, name, values: chart.values }] : []), [chart, name]);
  const mayChange = may('answer incidents');
  const first = data.alerts[0];
  const hue = HUES[data.severity];
  const longAgo = now - data.openedAt > 20 * 3_600_000;
  return (
    <>
      <div className="flex items-start gap-2.5">
        <span className="mt-0.5">
          <Crystal severity={data.severity} />
        </span>
        <div>
          <h2 className="leading-snug">{tied(data.title)}</h2>
          <p className="text-muted">
            incident {data.id} · {data.service} ·{' '}
            {data.status === 'resolved' ? `lasted ${span(data.resolvedAt! - data.openedAt)}` : 'open'} since{' '}
            {longAgo ? dayClock(data.openedAt, zone) : clock(data.openedAt, zone)}
          </p>
        </div>
      </div>
      {data.rehearsed && (
        <p className="mt-2 rounded-lg bg-accent-soft px-3 py-1.5">
          This is a rehearsal; nothing is wrong.{' '}
          <Link to="/delivery/rehearse" search={{}} className="underline">
            How it goes
          </Link>
        </p>
      )}
      {data.hushedUntil !== null && (
        <p className="hatched mt-2 rounded-lg border border-line px-3 py-1.5">
          <span className="rounded bg-sheet px-1">
            All of it is hushed until {dayClock(data.hushedUntil, zone)}: nobody is told before.{' '}
            <Link to="/delivery/mutes" className="underline">
              Which mute?
            </Link>
          </span>
        </p>
      )}
      {first?.words && data.status !== 'resolved' && <p className="mt-2 break-words">{first.words}</p>}
      {first?.broken && (
        <p className="mt-2 break-words">
          Its rule cannot be evaluated: {first.broken} Until it can, nobody is told of what it watches.{' '}
          <Link to="/rules/$id" params={{ id: String(first.ruleId) }} search={{}} className="underline">
            Mend the rule
          </Link>
        </p>
      )}
      {chart && first && !first.broken && (
        <div className="mt-2">
          <Chart
            label={`${first.name} around the incident`}
            times={chart.times}
            series={series}
            unit={first.unit}
            zone={zone}
            height={168}
            limits={first.lines.map((value) => ({ value, hue, words: `limit ${quantity(value, first.unit)}`, dashed: true }))}
            bands={[{ from: first.raisedAt, to: first.clearedAt, hue }]}
          />
          <p className="mt-1.5 flex flex-wrap gap-1.5 text-[13px]">
            {first.end === 'lost' && (
              <span className="rounded-full border border-major/60 px-2.5 py-0.5">lost from sight: nobody knows how it is</span>
            )}
            {first.end === 'ended' && <span className="rounded-full border border-line px-2.5 py-0.5">no longer looked at</span>}
            {!data.rehearsed && (
              <span className="rounded-full border border-line px-2.5 py-0.5">
                raised {first.raisedValue === null ? 'without readings' : `at ${quantity(first.raisedValue, first.unit)}`}
              </span>
            )}
            {data.usual && (
              <span
                className="rounded-full border border-line px-2.5 py-0.5"
                title={`The same hour of ${many(data.usual.weeks, 'former week')}`}
              >
                usually {usualWords(data.usual, first.unit)} at this hour
              </span>
            )}
            <span className="rounded-full border border-line px-2.5 py-0.5">
              clears {tied(first.clearWords)}
              {first.clearHoldSeconds > 0 && ` for ${span(first.clearHoldSeconds * 1000)}`}
            </span>
            {!first.clearedAt && data.status !== 'resolved' && !data.rehearsed && (
              <ClearingLine rule={first.ruleId} labels={first.labels} />
            )}
            <Link
              to="/metrics"
              search={{ formula: first.formula, span: '6h' }}
              className="rounded-full border border-line px-2.5 py-0.5 hover:bg-future"
            >
              chart
            </Link>
            <Link
              to="/rules/$id"
              params={{ id: String(first.ruleId) }}
              search={{}}
              className="rounded-full border border-line px-2.5 py-0.5 hover:bg-future"
            >
              rule
            </Link>
          </p>
        </div>
      )}
      {data.alerts.length > 1 && (
        <ul className="mt-3 space-y-1">
          {data.alerts.slice(0, 8).map((alert) => (
            <li key={alert.name} className="flex items-center gap-2">
              <Crystal severity={alert.clearedAt && alert.end !== 'lost' ? 'calm' : alert.severity} size={12} />
              <span>{alert.name}</span>
              <span className="text-muted">
                {alert.clearedAt
                  ? `${ENDS[alert.end ?? 'calm'] ?? 'cleared'} ${clock(alert.clearedAt, zone)}`
                  : `since ${clock(alert.raisedAt, zone)}`}
              </span>
              {!alert.broken && <MarkButtons rule={alert.ruleId} spell={alert} />}
            </li>
          ))}
          {data.alerts.length > 8 && <li className="text-muted">and {data.alerts.length - 8} more</li>}
        </ul>
      )}
      {first && !first.broken && data.alerts.length === 1 && (
        <p className="mt-2 flex flex-wrap items-center gap-2 text-[13px] text-muted">
          Was it worth it? <MarkButtons rule={first.ruleId} spell={first} />
        </p>
      )}
      {data.tickets.length > 0 && (
        <ul className="mt-3 text-[13px]" aria-label="Tickets">
          {data.tickets.map((ticket) => (
            <li key={ticket.channel}>
              {ticket.url === '' ? (
                <span className="font-semibold">{ticket.key}</span>
              ) : (
                <a href={ticket.url} target="_blank" rel="noreferrer" className="font-semibold underline">
                  {ticket.key}
                </a>
              )}{' '}
              at {ticket.channel}: {ticket.state || 'opened'},{' '}
              {ticket.owner === '' ? 'nobody owns it' : `owned by ${ticket.owner}`}
              <span className="text-muted">, looked at {clock(ticket.lookedAt, zone)}</span>
            </li>
          ))}
        </ul>
      )}
      {data.changes.length > 0 && (
        <>
          <h2 className="mt-4">What else changed</h2>
          <ul className="mt-1 space-y-0.5">
            {data.changes.map((one, place) => (
              <li key={place} className="flex gap-2.5">
                <span className="shrink-0 text-muted">{beforeWords(one.at - data.openedAt)}</span>
                {one.incident === null ? (
                  <span className="min-w-0 break-words">{one.words}</span>
                ) : (
                  <Link to="/incidents/$id" params={{ id: String(one.incident) }} className="min-w-0 break-words underline">
                    {one.words}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      <h2 className="mt-4">Trail</h2>
      <ol className="mt-1.5 max-h-72 space-y-1 overflow-y-auto" aria-label="Trail" tabIndex={0}>
        {data.trail.map((line) => (
          <li key={line.id} className="flex gap-2.5">
            <time className="shrink-0 text-muted" dateTime={new Date(line.at).toISOString()} title={dayClock(line.at, zone)}>
              {clockSeconds(line.at, zone)}
            </time>
            <span
              className={
                line.kind === 'held back'
                  ? 'text-muted'
                  : line.kind === 'failed'
                    ? 'text-critical'
                    : line.kind === 'note'
                      ? 'italic'
                      : ''
              }
            >
              {tied(line.words)}
            </span>
          </li>
        ))}
        {data.next && (
          <li className="flex gap-2.5" style={{ color: hue }}>
            <time className="shrink-0">{clockSeconds(data.next.at, zone)}</time>
            <span>
              {data.status === 'acknowledged' && 'unless it is over: '}rung {data.next.rung} in {countdown(data.next.at - now)},
              to {data.next.person}
            </span>
          </li>
        )}
      </ol>
      <div className={clsx('mt-4 flex flex-wrap gap-2', onPhone && mayChange && data.status !== 'resolved' && THUMB)}>
        {mayChange && data.status === 'open' && (
          <Acknowledge onDo={(forSeconds) => act.mutate({ id, action: 'acknowledge', forSeconds })} disabled={act.isPending} />
        )}
        {mayChange && data.status === 'acknowledged' && (
          <Button onClick={() => act.mutate({ id, action: 'hand-back' })}>Hand back</Button>
        )}
        {mayChange && data.status === 'open' && data.next && (
          <Button onClick={() => act.mutate({ id, action: 'cannot' })} disabled={act.isPending}>
            I cannot
          </Button>
        )}
        {mayChange && data.status !== 'resolved' && (
          <Button onClick={() => act.mutate({ id, action: 'resolve' })} disabled={act.isPending}>
            Resolve
          </Button>
        )}
        {mayChange && data.status !== 'resolved' && data.hushedUntil === null && (
          <MuteButton data-mute matching={matchingOf(sharedBy(data.alerts.map((alert) => alert.labels)))} name={data.service}>
            Mute …
          </MuteButton>
        )}
        {mayChange && data.status !== 'resolved' && <HandsDialog incident={data} />}
        {first?.runbook &&
          (/^https?:/.test(first.runbook) ? (
            <a
              href={first.runbook}
              target="_blank"
              rel="noreferrer"
              className="rounded-lg border border-line px-3.5 py-1.5 font-semibold hover:bg-future"
            >
              Runbook
            </a>
          ) : null)}
      </div>
      {first?.runbook && !/^https?:/.test(first.runbook) && (
        <div className="mt-3">
          <h2>What to do</h2>
          <Suspense fallback={<p className="whitespace-pre-line">{first.runbook}</p>}>
            <Markdown text={first.runbook} />
          </Suspense>
        </div>
      )}
      <Suspense fallback={null}>
        <ActionsAbout about={{ incident: id }} />
      </Suspense>
      {mayChange && (
        <form
          className="mt-3 flex gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (note.trim()) act.mutate({ id, action: 'notes', note }, { onSuccess: () => setNote('') });
          }}
        >
          <Input
            aria-label="Note"
            placeholder="Note for whoever reads this later"
            maxLength={1000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
          <Button type="submit" disabled={!note.trim() || act.isPending}>
            Add
          </Button>
        </form>
      )}
    </>
  );
}
