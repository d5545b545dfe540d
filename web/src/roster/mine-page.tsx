import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Suspense, lazy, useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { people, rosters as asked } from '../api/queries';
import type { MyOnCall, MyShift } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { dayClock, listed, many, span } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useSession, useZone } from '../ui/session';
import { useNow } from '../ui/use-now';
import { AwayDialog } from './away-dialog';
import { CalendarsSheet } from './calendars-sheet';
import { ContactsSheet } from './contacts-sheet';
import { coverWords } from './calendar';
import { CoverButtons, CoverDialog } from './cover-dialog';
import { RosterTabs } from './roster-tabs';

const WishesDialog = lazy(() => import('../delivery/wishes-dialog'));

/** What concerns oneself of being on call: when, how one is reached, what is asked, and what woke one. */
export function MinePage() {
  const mine = useQuery(asked.mine());
  return (
    <>
      <RosterTabs />
      <Answered of={mine} what="your shifts">
        {(data) => <Mine mine={data} />}
      </Answered>
    </>
  );
}

function Mine({ mine }: { mine: MyOnCall }) {
  const zone = useZone();
  const now = useNow();
  const { person, siteZone } = useSession();
  const everybody = useQuery(people.all());
  const [tells, setTells] = useState(false);
  const [shift, setShift] = useState<MyShift | null>(null);
  const current = mine.shifts.filter((one) => one.from <= now && one.to > now);
  const next = mine.shifts.find((one) => one.from > now);
  const asks = mine.covers.filter((one) => one.mayAnswer);
  return (
    <>
      <div className="mt-2 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <PageHead title="My on-call">
          {current.length > 0 ? (
            `You are on call by ${listed(current.map((one) => `${one.roster} until ${dayClock(one.to, zone)}`))}`
          ) : next ? (
            <>
              You are next on call in {span(next.from - now)}, by {next.roster} from {dayClock(next.from, zone)} on
            </>
          ) : (
            'You are on call by no roster in the next four weeks'
          )}
          <span className="font-normal text-muted">
            {asks.length > 0 ? `; ${many(asks.length, 'cover')} asked of you.` : '.'}
          </span>
        </PageHead>
        <div className="ml-auto flex gap-2">
          <AwayDialog people={everybody.data ?? [person]} zone={siteZone} />
          <Button onClick={() => setTells(true)}>How you are told</Button>
          <Suspense>{tells && <WishesDialog open onOpenChange={setTells} />}</Suspense>
        </div>
      </div>
      <div className="mt-3 grid grid-cols-2 items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          {mine.covers.length > 0 && (
            <Sheet label="Covers" className="p-4">
              <h2>Covers</h2>
              <ul className="mt-1 divide-y divide-line">
                {mine.covers.map((one) => (
                  <li key={one.id} className="flex flex-wrap items-center gap-2 py-2">
                    <span className="mr-auto">
                      <span className={one.mayAnswer ? 'font-semibold' : ''}>{coverWords(one)}</span>
                      <span className="block text-[13px] text-muted">
                        {one.roster}, {dayClock(one.from, zone)} to {dayClock(one.to, zone)}
                        {one.note && `: “${one.note}”`}
                      </span>
                    </span>
                    <CoverButtons cover={one} />
                  </li>
                ))}
              </ul>
            </Sheet>
          )}
          <Sheet label="Next shifts" className="p-4">
            <h2>Next shifts</h2>
            {mine.shifts.length === 0 && <p className="mt-1 text-muted">None in the next four weeks.</p>}
            <ul className="mt-1 divide-y divide-line">
              {mine.shifts.slice(0, 14).map((one) => (
                <li key={`${one.roster} ${one.from}`} className="flex items-center gap-3 py-1.5">
                  <span className="mr-auto">
                    <Link to="/roster/$id" params={{ id: String(one.rosterId) }} className="font-semibold hover:underline">
                      {one.roster}
                    </Link>{' '}
                    {dayClock(one.from, zone)} to {dayClock(one.to, zone)}
                    <span className="block text-[13px] text-muted">{one.because}</span>
                  </span>
                  <Button onClick={() => setShift(one)}>Ask for a cover</Button>
                </li>
              ))}
            </ul>
          </Sheet>
          {mine.away.length > 0 && <AwaySheet mine={mine} zone={zone} />}
        </div>
        <div className="space-y-4">
          <ContactsSheet contacts={mine.contacts} junk={mine.junk} />
          <WokenSheet mine={mine} zone={zone} />
          <CalendarsSheet mine={mine} />
        </div>
      </div>
      {shift && <OwnCover shift={shift} onDone={() => setShift(null)} />}
    </>
  );
}

/** A cover of one's own shift. */
function OwnCover({ shift, onDone }: { shift: MyShift; onDone: () => void }) {
  const roster = useQuery(asked.one(shift.rosterId, undefined, 14));
  const list = useQuery(asked.all());
  const { person } = useSession();
  return roster.data ? (
    <CoverDialog
      roster={roster.data}
      people={list.data?.people ?? []}
      zone={roster.data.definition.zone}
      wanted={{ from: shift.from, to: shift.to, forId: person.id, personId: null }}
      onDone={onDone}
    />
  ) : null;
}

function AwaySheet({ mine, zone }: { mine: MyOnCall; zone: string }) {
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: (id: number) => send('delete', '/api/absences/{id}', { path: { id } }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: asked.key });
      toast('You are back on the rosters then.');
    },
    onError: sayFailure,
  });
  return (
    <Sheet label="Away" className="p-4">
      <h2>Away</h2>
      <ul className="mt-1 divide-y divide-line">
        {mine.away.map((one) => (
          <li key={one.id} className="flex items-center gap-3 py-1.5">
            <span className="mr-auto">
              {dayClock(one.from, zone)} to {dayClock(one.to, zone)}
              <span className="block text-[13px] text-muted">
                {[one.note, one.calendar && `from ${one.calendar}`].filter(Boolean).join(', ')}
              </span>
            </span>
            {one.mayEnd && (
              <Button disabled={end.isPending} onClick={() => end.mutate(one.id)}>
                Take it out
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

function WokenSheet({ mine, zone }: { mine: MyOnCall; zone: string }) {
  const nights = mine.wakings.filter((one) => one.atNight).length;
  const noise = mine.wakings.filter((one) => one.worth === 'noise').length;
  return (
    <Sheet label="What rang" className="p-4">
      <h2>What rang in the last month</h2>
      <p className="mt-1 text-muted">
        {mine.wakings.length === 0
          ? 'Nothing.'
          : `${many(mine.wakings.length, 'message')}, ${nights} of them between 22:00 and 06:00; ${noise} marked noise.`}
      </p>
      <ul className="mt-1 divide-y divide-line">
        {mine.wakings.slice(0, 8).map((one) => (
          <li key={`${one.incident} ${one.at}`} className="py-1.5">
            <Link to="/incidents/$id" params={{ id: String(one.incident) }} className="hover:underline">
              {one.title}
            </Link>
            <span className="block text-[13px] text-muted">
              {dayClock(one.at, zone)} by {one.way}
              {one.atNight && ', at night'}
              {one.worth ? `, ${one.worth}` : ', not judged'}
            </span>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
