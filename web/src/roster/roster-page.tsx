import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { rosters as asked } from '../api/queries';
import type { RosterList, RosterRow, ShownCover, ShownRoster } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { dayClock, many, span } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useMay, useSession } from '../ui/session';
import { AwayDialog } from './away-dialog';
import { Calendar, type Wanted, awayAt, isGap } from './calendar';
import { CoverAnswer, CoverDialog } from './cover-dialog';
import { FairnessSheet } from './fairness-sheet';
import { dayAfter, localDay } from './local-time';
import { HandoverSheet } from './handover-sheet';
import { ReachSheet } from './reach-sheet';
import { RosterDialog } from './roster-form';
import { RosterTabs } from './roster-tabs';
import { ShiftList } from './shift-list';

const DAYS = 14;

/** Who is on call when: the rosters, and one of them over two weeks. */
export function RosterPage() {
  const list = useQuery(asked.all());
  const { id } = useParams({ strict: false });
  const chosen = id === undefined ? list.data?.rosters[0]?.id : Number(id);
  return (
    <>
      <RosterTabs />
      <Answered of={list} what="the rosters" isEmpty={(data) => data.rosters.length === 0} empty={<NoRoster list={list.data} />}>
        {(data) => (chosen === undefined ? null : <OneRoster key={chosen} id={chosen} list={data} />)}
      </Answered>
    </>
  );
}

function NoRoster({ list }: { list: RosterList | undefined }) {
  const [open, setOpen] = useState(false);
  const { siteZone } = useSession();
  const may = useMay();
  return (
    <div className="mt-2">
      <PageHead title="Roster">There is no roster yet.</PageHead>
      <p className="my-2 text-muted">
        A roster says who is on call when. Until there is one, rungs that ask for whoever is on call reach nobody and fall through
        at once.
      </p>
      {may('keep rosters') && (
        <Button look="accent" onClick={() => setOpen(true)}>
          Make a roster
        </Button>
      )}
      <RosterDialog roster={null} people={list?.people ?? []} siteZone={siteZone} open={open} onDone={() => setOpen(false)} />
    </div>
  );
}

function OneRoster({ id, list }: { id: number; list: RosterList }) {
  const { from: asFrom } = useSearch({ strict: false });
  const from = typeof asFrom === 'string' ? asFrom : undefined;
  const roster = useQuery(asked.one(id, from, DAYS));
  const fairness = useQuery(asked.fairness(id));
  const { siteZone } = useSession();
  const may = useMay();
  const navigate = useNavigate();
  const [wanted, setWanted] = useState<Wanted | null>(null);
  const [answered, setAnswered] = useState<ShownCover | null>(null);
  const [edited, setEdited] = useState<'this' | 'new' | null>(null);
  const row = list.rosters.find((one) => one.id === id);
  const zone = roster.data?.definition.zone ?? row?.zone ?? siteZone;
  const go = (to: string | undefined) =>
    void navigate({ to: '/roster/$id', params: { id: String(id) }, search: { from: to }, replace: true });
  const gap = roster.data?.shifts.find((one) => isGap(one) && one.to > list.now);
  return (
    <>
      <div className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <PageHead title="Roster">{row ? <Sentence row={row} zone={zone} now={list.now} /> : 'There is no such roster.'}</PageHead>
        <div className="ml-auto flex flex-wrap gap-2">
          <AwayDialog people={list.people} zone={siteZone} />
          {may('keep rosters') && (
            <Button className="max-sm:hidden" onClick={() => setEdited('new')}>
              New roster
            </Button>
          )}
          {may('keep rosters') && roster.data && (
            <Button className="max-sm:hidden" onClick={() => setEdited('this')}>
              Change it
            </Button>
          )}
          {gap && roster.data && (
            <Button
              look="accent"
              onClick={() => setWanted({ from: gap.from, to: gap.to, forId: awayAt(roster.data, gap.from), personId: null })}
            >
              Cover the gap
            </Button>
          )}
        </div>
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,2.5fr)_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          <Sheet label={`Roster ${row?.name ?? ''}`} className="p-4">
            <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
              <nav aria-label="Rosters" className="flex flex-wrap gap-x-4">
                {list.rosters.map((one) => (
                  <Link
                    key={one.id}
                    to="/roster/$id"
                    params={{ id: String(one.id) }}
                    search={{ from }}
                    className={one.id === id ? 'font-semibold' : 'text-muted hover:text-ink'}
                    aria-current={one.id === id ? 'page' : undefined}
                  >
                    {one.name}
                    {one.gaps > 0 && <span className="ml-1 text-critical">{many(one.gaps, 'gap')}</span>}
                  </Link>
                ))}
              </nav>
              <span className="text-muted">{zone}</span>
              {roster.data && (
                <span className="ml-auto flex items-center gap-1">
                  <Button
                    look="quiet"
                    aria-label="A week earlier"
                    onClick={() => go(dayAfter(localDay(roster.data.from, zone), -7))}
                  >
                    ‹
                  </Button>
                  <button
                    type="button"
                    className="text-muted hover:text-ink"
                    title="Back to this week"
                    onClick={() => go(undefined)}
                  >
                    two weeks from {dayClock(roster.data.from, zone).replace(/,? [\d:]+$/, '')}
                  </button>
                  <Button
                    look="quiet"
                    aria-label="A week later"
                    onClick={() => go(dayAfter(localDay(roster.data.from, zone), 7))}
                  >
                    ›
                  </Button>
                </span>
              )}
            </div>
            <Answered of={roster} what="the roster">
              {(data) => (
                <>
                  <Calendar
                    roster={data}
                    zone={zone}
                    onCover={setWanted}
                    onAnswer={setAnswered}
                    onEdit={may('keep rosters') ? () => setEdited('this') : undefined}
                  />
                  <ShiftList roster={data} zone={zone} onCover={setWanted} onAnswer={setAnswered} />
                  <Doubles roster={data} zone={zone} />
                </>
              )}
            </Answered>
          </Sheet>
          <HandoverSheet id={id} />
          {roster.data && <Revisions roster={roster.data} zone={zone} />}
        </div>
        <div className="space-y-4">
          <Sheet label="On call now" className="p-4">
            <h2>On call now</h2>
            <ul className="mt-1 divide-y divide-line">
              {list.rosters.map((one) => (
                <li key={one.id} className="py-1.5">
                  <span className="text-muted">{one.name}</span>
                  <span className="block">
                    {one.now.person ?? <span className="font-semibold text-critical">no one</span>}
                    <span className="text-muted">
                      {' '}
                      until {dayClock(one.now.to, one.zone)}
                      {one.next && `, then ${one.next}`}
                    </span>
                  </span>
                </li>
              ))}
            </ul>
          </Sheet>
          {fairness.data && <FairnessSheet fairness={fairness.data} title="Fair? The last quarter" />}
          {roster.data && <ReachSheet reach={roster.data.reach} />}
        </div>
      </div>
      {roster.data && (
        <CoverDialog roster={roster.data} people={list.people} zone={zone} wanted={wanted} onDone={() => setWanted(null)} />
      )}
      <CoverAnswer cover={answered} zone={zone} onDone={() => setAnswered(null)} />
      <RosterDialog
        roster={edited === 'this' ? (roster.data ?? null) : null}
        people={list.people}
        siteZone={siteZone}
        open={edited !== null}
        onDone={(made) => {
          setEdited(null);
          if (made !== undefined && made !== id) void navigate({ to: '/roster/$id', params: { id: String(made) } });
        }}
      />
    </>
  );
}

function Sentence({ row, zone, now }: { row: RosterRow; zone: string; now: number }) {
  const who = row.now.person === null ? `no one is on call` : `${row.now.person} is on call`;
  if (row.firstGap === null)
    return (
      <>
        Roster {row.name}: {row.now.person === null ? <span className="text-critical">{who}</span> : who} until{' '}
        {dayClock(row.now.to, zone)}
        <span className="font-normal text-muted">{row.next ? `, then ${row.next}. ` : '. '}No gap within two weeks.</span>
      </>
    );
  const gap = row.firstGap;
  return (
    <>
      Roster {row.name}: <span className="text-critical">{span(gap.to - Math.max(gap.from, now))} without anyone</span> from{' '}
      {dayClock(Math.max(gap.from, now), zone)} on
      <span className="font-normal text-muted">
        {gap.because.replace('nobody:', ' as')}
        {row.gaps > 1 && `, and ${many(row.gaps - 1, 'gap')} more`}.
      </span>
    </>
  );
}

/** Who will be on call by two rosters at once, each pair of rosters said once. */
function Doubles({ roster, zone }: { roster: ShownRoster; zone: string }) {
  const coming = roster.doubles.filter((one) => one.to > roster.now);
  const together = Object.values(Object.groupBy(coming, (one) => `${one.person} ${one.rosters.join()}`)).flatMap((of) =>
    of ? [of] : [],
  );
  if (together.length === 0) return null;
  return (
    <div className="mt-3 border-t border-line pt-2 text-[13px]">
      {together.map((of) => (
        <p key={`${of[0]!.person} ${of[0]!.rosters.join()}`}>
          <span className="font-semibold text-minor">Twice at once:</span> {of[0]!.person} is on call by{' '}
          {of[0]!.rosters.join(' and ')}
          {of.length > 1 && ` ${many(of.length, 'time')}`}, first {dayClock(Math.max(of[0]!.from, roster.now), zone)} to{' '}
          {dayClock(of[0]!.to, zone)}.
        </p>
      ))}
    </div>
  );
}

function Revisions({ roster, zone }: { roster: ShownRoster; zone: string }) {
  return (
    <Sheet label="How it came to be so" className="p-4">
      <h2>How it came to be so</h2>
      <ol className="mt-1 divide-y divide-line">
        {roster.revisions.map((one) => (
          <li key={one.number} className="py-2">
            <span className="font-semibold">{one.number}</span> holds from {dayClock(one.holdsFrom, zone)} on
            <span className="text-muted">
              {one.author && `, by ${one.author}`}
              {one.reason && `: ${one.reason}`}
            </span>
            {one.changes.map((change) => (
              <span key={change} className="block text-[13px] text-muted">
                {change}
              </span>
            ))}
          </li>
        ))}
      </ol>
    </Sheet>
  );
}
