import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { watch as asked } from '../api/queries';
import type { WatchData } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { useKeys } from '../ui/keys';
import { PageHead } from '../ui/page-head';
import { many } from '../ui/format';
import { useMay, useSession, useZone } from '../ui/session';
import { useNow } from '../ui/use-now';
import { Beside } from './beside';
import { type Whose, concerning } from './concerns';
import { headlineOf } from './headline';
import { useHeldOrder } from './held-order';
import { IncidentRow } from './incident-row';
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

/** What needs a person now; the sentence first, past and future on one line, then the open incidents and the one looked at. */
export function WatchPage() {
  const { back: wanted } = useSearch({ from: '/signed-in/watch' });
  const back = SPANS.some(([hours]) => hours === wanted) ? wanted! : 6;
  const watch = useQuery(asked.over(back));
  return (
    <Answered of={watch} what="Watch" className="py-10">
      {(data) => <Watching data={data} back={back} />}
    </Answered>
  );
}

function Watching({ data, back }: { data: WatchData; back: number }) {
  const zone = useZone();
  const navigate = useNavigate();
  const now = useNow();
  const may = useMay();
  const act = useAct();
  const { id } = useParams({ strict: false });
  const chosen = id === undefined ? null : Number(id);
  const first = data.open[0]?.id ?? null;
  // Without a choice the most urgent lies open, and stays so whatever comes after it: only a person opens another.
  const [opened, setOpened] = useState(first);
  if (opened === null && first !== null) setOpened(first);
  const shown = chosen ?? opened;
  const { order, hold, letGo } = useHeldOrder(data.open.map((one) => one.id));
  const { person } = useSession();
  const [whose, setWhose] = useState<Whose>('everything');
  const concerned = concerning(data, whose, person.name);
  const rows = order.flatMap((one) => concerned.find((incident) => incident.id === one) ?? []);
  const left = data.open.length - concerned.length;

  const choose = (next: number) =>
    void navigate({ to: '/incidents/$id', params: { id: String(next) }, search: (old) => old as { back?: number } });
  const step = (by: number) => {
    const at = order.findIndex((one) => one === chosen);
    const next = order[at < 0 ? 0 : Math.max(0, Math.min(order.length - 1, at + by))];
    if (next !== undefined) choose(next);
  };
  const stepSpan = (by: number) => {
    const at = SPANS.findIndex(([hours]) => hours === back);
    const [hours] = SPANS[Math.max(0, Math.min(SPANS.length - 1, at + by))]!;
    void navigate({ to: '.', search: { back: hours } });
  };
  const acknowledge = () => {
    const incident = data.open.find((one) => one.id === chosen);
    if (!incident) toast('No incident is chosen; j and k choose one.');
    else if (incident.status !== 'open') toast(`${incident.acknowledgedBy} has it.`);
    else if (!act.isPending) act.mutate({ id: incident.id, action: 'acknowledge' });
  };
  useKeys('Watch', [
    { key: 'j', words: 'choose the next incident', act: () => step(1), repeats: true },
    { key: 'k', words: 'choose the one before', act: () => step(-1), repeats: true },
    ...(may('answer incidents') ? [{ key: 'a', words: 'acknowledge the chosen incident', act: acknowledge }] : []),
    ...(may('answer incidents')
      ? [{ key: 'm', words: 'mute the chosen incident', act: () => document.querySelector<HTMLElement>('[data-mute]')?.click() }]
      : []),
    { key: '[', words: 'a longer span', act: () => stepSpan(1) },
    { key: ']', words: 'a shorter span', act: () => stepSpan(-1) },
  ]);

  const { strong, pale, means } = headlineOf(data);
  return (
    <>
      <div
        className={clsx('mt-4 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1', chosen !== null && 'max-sm:hidden')}
      >
        <PageHead title="Watch" means={means}>
          {strong} <span className="font-normal text-muted">{pale}</span>
        </PageHead>
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
      <div className="max-sm:hidden">
        <Timeline data={data} now={now} zone={zone} />
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,2.15fr)_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <Sheet label="Open incidents" className={chosen !== null ? 'max-sm:order-last' : undefined}>
          <div className="flex items-baseline gap-3 border-b border-line px-3 py-2.5">
            <h2>Open now</h2>
            <span className="text-muted">{data.open.length === 0 ? 'nothing' : 'most urgent first'}</span>
            {data.open.length > 0 && (
              <label className="ml-auto text-muted">
                <span className="sr-only">Whose</span>
                <select
                  className="rounded-lg bg-transparent"
                  value={whose}
                  onChange={(event) => setWhose(event.target.value as Whose)}
                >
                  <option value="everything">everything</option>
                  <option value="team">my team</option>
                  <option value="mine">mine</option>
                </select>
              </label>
            )}
          </div>
          {left > 0 && (
            <p className="border-b border-line px-3 py-2 text-muted">
              {many(left, 'more concerns', 'more concern')} others.{' '}
              <button className="underline" onClick={() => setWhose('everything')}>
                Show everything
              </button>
            </p>
          )}
          <div onPointerEnter={hold} onPointerLeave={letGo} onFocus={hold} onBlur={letGo}>
            {rows.map((incident) => (
              <IncidentRow key={incident.id} incident={incident} now={now} zone={zone} chosen={incident.id === chosen} />
            ))}
          </div>
          <Beside data={data} now={now} zone={zone} />
          <p className="border-t border-line px-3 py-2.5">
            <Link to="/past" className="text-muted underline">
              Past incidents
            </Link>
          </p>
        </Sheet>
        {shown !== null && <IncidentSheet key={shown} id={shown} now={now} onPhone={chosen !== null} />}
      </div>
    </>
  );
}
