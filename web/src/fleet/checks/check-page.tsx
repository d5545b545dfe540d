import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useParams } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../../api/client';
import { fleet } from '../../api/queries';
import type { CheckPage as Page } from '../../api/types';
import { Answered } from '../../ui/answered';
import { Button, Sheet } from '../../ui/controls';
import { DialogBox } from '../../ui/dialog-box';
import { clockSeconds, dayClock, quantity, span } from '../../ui/format';
import { PageHead } from '../../ui/page-head';
import { sayFailure } from '../../ui/say-failure';
import { useMay, useZone } from '../../ui/session';
import { useNow } from '../../ui/use-now';
import { Asked } from './asked';
import { useLevers } from '../use-levers';
import { ServiceLink } from '../service/service-link';
import { Used } from '../used';
import { CheckForm } from './check-form';
import { CheckRail } from './check-rail';
import { Exchange } from './exchange';
import { PhaseBar, PhaseKey, totalOf } from './phase-bar';
import { VerdictMark, VerdictWords, checkSentence, dayWords, worst } from './verdict';

/** One check: how it stands in a sentence, where the time goes, what was seen when it failed, and who looks at it. */
export function CheckPage() {
  const { id } = useParams({ from: '/signed-in/fleet/checks/$id' });
  const page = useQuery({ ...fleet.check(Number(id)), refetchInterval: 5_000 });
  return (
    <Answered of={page} what="this check" className="py-10">
      {(found) => <Opened key={id} page={found} />}
    </Answered>
  );
}

function Opened({ page }: { page: Page }) {
  const { check } = page;
  const { id } = check;
  const may = useMay();
  const now = useNow();
  const run = useMutation({
    mutationFn: () => send('post', '/api/checks/{id}/run', { path: { id } }),
    onSuccess: () => toast(`${check.name} is asked now; what comes of it is here in a moment.`),
    onError: sayFailure,
  });
  const levers = useLevers(check, '/fleet/checks');
  const verdict = worst(check.states);
  const why = check.states.find((state) => state.verdict === verdict)?.words;
  const names = new Map(page.places.map((place) => [place.id, place.name]));
  return (
    <>
      <p className="mt-4 text-muted">
        <Link to="/fleet/checks" className="hover:text-ink">
          Checks
        </Link>{' '}
        / <ServiceLink labels={check.labels} />
      </p>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <PageHead title={check.name} means={`${check.name} ${verdict ?? ''}`}>
          <VerdictMark verdict={verdict} /> {check.name}{' '}
          <span className="font-normal text-muted">{checkSentence(check, now)}</span>
        </PageHead>
        {may('keep targets') && (
          <div className="flex flex-wrap gap-2">
            <Button look="accent" onClick={() => run.mutate()} disabled={run.isPending || check.paused}>
              Run now
            </Button>
            <Button onClick={() => levers.pause(!check.paused)}>{check.paused ? 'Resume' : 'Pause'}</Button>
            <ChangeCheck page={page} />
            <Button onClick={levers.remove}>Remove</Button>
          </div>
        )}
      </div>
      {why && !check.paused && (
        <p
          role={verdict === 'runs' ? 'status' : 'alert'}
          className="mt-3 rounded-lg border border-line bg-sheet px-3 py-2 break-words"
        >
          {why}.
        </p>
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_380px] items-start gap-4 max-lg:grid-cols-1">
        <div className="min-w-0 space-y-4">
          <Last page={page} />
          <EvidenceList page={page} names={names} mayRead={may('keep targets')} />
        </div>
        <div className="space-y-4">
          <Settings page={page} names={names} />
          {may('write rules') && !check.isReference && (
            <p>
              <Link to="/rules/$id" params={{ id: 'new' }} search={quorumOf(check)} className="font-semibold hover:underline">
                A rule of it …
              </Link>{' '}
              <span className="text-[13px] text-muted">
                {check.places.length > 1
                  ? `down for 2 min, seen from ${enough(check.places.length)} of ${check.places.length} places`
                  : 'down for 2 min'}
              </span>
            </p>
          )}
          <Used page={page} nobody="No rule looks at it, so nobody hears of what it sees." />
        </div>
      </div>
    </>
  );
}

/** More than half of them. */
const enough = (places: number) => Math.floor(places / 2) + 1;

/** How many places see it down, and above which of them somebody is told. */
const quorumOf = ({ name, places }: Page['check']) => ({
  formula: `sum(1 - max(check_runs where target = "${name}", 2m)) per service, target`,
  limit: enough(places.length) - 0.5,
});

function ChangeCheck({ page }: { page: Page }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox
      open={open}
      onOpenChange={setOpen}
      title={`Change ${page.check.name}`}
      trigger={<Button>Change</Button>}
      wide={760}
    >
      <CheckForm check={page.check} onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

/** The last exchanges as thin bars one above another, the newest first. */
function Last({ page: { last, check } }: { page: Page }) {
  const zone = useZone();
  const longest = Math.max(...last.map((one) => totalOf(one.phases)), 0.001);
  const places = new Set(last.map((one) => one.place)).size;
  return (
    <Sheet className="p-4" label="The last exchanges">
      <div className="mb-2 flex flex-wrap items-baseline justify-between gap-3">
        <h2>
          The last exchanges <span className="font-normal text-muted">phase by phase</span>
        </h2>
        <PhaseKey />
      </div>
      {last.length === 0 && (
        <p className="text-muted">
          {check.states.length === 0
            ? `It is asked for the first time within ${span(check.intervalSeconds * 1000)}.`
            : 'None of late.'}
        </p>
      )}
      <ol>
        {last.map((one) => (
          <li
            key={`${one.at} ${one.place}`}
            className="grid grid-cols-[8.5rem_minmax(0,1fr)_12.5rem] items-center gap-3 py-0.5 text-[13px] max-sm:grid-cols-[5rem_minmax(0,1fr)_5rem]"
          >
            <span className="truncate text-muted tabular-nums">
              {clockSeconds(one.at, zone)} {places > 1 && one.place}
            </span>
            <PhaseBar phases={one.phases} longest={longest} />
            <span className="truncate tabular-nums">
              {totalOf(one.phases) > 0 && quantity(totalOf(one.phases), 'seconds')}
              {(one.up === 0 || one.partly) && (
                <span className="ml-2">
                  <VerdictMark verdict={one.partly ? 'partly' : 'down'} />{' '}
                  <span className="max-sm:sr-only">{one.partly ? 'something failed' : 'down'}</span>
                </span>
              )}
            </span>
          </li>
        ))}
      </ol>
    </Sheet>
  );
}

function EvidenceList({ page, names, mayRead }: { page: Page; names: Map<number, string>; mayRead: boolean }) {
  const zone = useZone();
  const [open, setOpen] = useState<number | null>(null);
  return (
    <Sheet className="p-4" label="Evidence">
      <h2 className="mb-2">
        Evidence <span className="font-normal text-muted">what was seen when it was not well</span>
      </h2>
      {page.evidence.length === 0 && (
        <p className="text-muted">Nothing is kept: it was well each time, as far back as is kept.</p>
      )}
      <ul className="divide-y divide-line">
        {page.evidence.map((line) => (
          <li key={line.id} className="py-1.5">
            <button
              type="button"
              aria-expanded={mayRead ? open === line.id : undefined}
              disabled={!mayRead}
              className="grid w-full grid-cols-[9rem_1fr] gap-3 text-left enabled:hover:bg-accent-soft/50"
              onClick={() => setOpen(open === line.id ? null : line.id)}
            >
              <span className="text-muted tabular-nums">
                {dayClock(line.at, zone)}
                {page.places.length > 1 && ` ${names.get(line.place) ?? ''}`}
              </span>
              <span className="min-w-0 break-words">
                <VerdictMark verdict={line.verdict} /> {line.words}
              </span>
            </button>
            {open === line.id && <Seen evidence={line.id} />}
          </li>
        ))}
      </ul>
      {!mayRead && page.evidence.length > 0 && (
        <p className="mt-2 text-[13px] text-muted">What was answered is shown to engineers.</p>
      )}
    </Sheet>
  );
}

function Seen({ evidence }: { evidence: number }) {
  const seen = useQuery(fleet.evidence(evidence));
  return (
    <Answered of={seen} what="what was seen">
      {(found) => (
        <div className="mt-2 mb-1 space-y-3 rounded-lg bg-paper p-3">
          {found.steps.length > 0 ? <Exchange steps={found.steps} /> : <p className="text-muted">It could not be asked.</p>}
          {found.text !== '' && (
            <pre
              aria-label="What came back"
              tabIndex={0}
              className="max-h-72 overflow-auto rounded-lg border border-line bg-sheet p-2 font-mono text-[12px] whitespace-pre-wrap"
            >
              {found.text}
            </pre>
          )}
        </div>
      )}
    </Answered>
  );
}

function Settings({ page: { check, day }, names }: { page: Page; names: Map<number, string> }) {
  return (
    <Sheet className="space-y-3 p-4" label="What it asks">
      <Asked asks={check.asks} />
      <p className="text-[13px] text-muted">
        Every {span(check.intervalSeconds * 1000)} from {check.places.map((place) => names.get(place)).join(', ')}
        {check.slowMs !== null && `; slow above ${check.slowMs} ms`}
        {check.secrets.length > 0 && `; fills in ${check.secrets.join(', ')}, shown to nobody`}.
      </p>
      {day && day.minutes > day.unknown && <p className="text-[13px]">{dayWords(day, check.places.length)}</p>}
      {check.states.map((state) => (
        <div key={state.place}>
          <span className="flex justify-between gap-3 text-[13px]">
            {names.get(state.place)} <VerdictWords verdict={state.verdict} className="text-muted" />
          </span>
          <CheckRail check={check} state={state} />
        </div>
      ))}
    </Sheet>
  );
}
