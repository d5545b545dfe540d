import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { rosters as asked } from '../api/queries';
import type { MyOnCall, ShownLink } from '../api/types';
import { Button, Field, Input, Sheet, smallLook } from '../ui/controls';
import { dayClock, many } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';

/** Shifts out to one's own calendar, absences in from it. */
export function CalendarsSheet({ mine }: { mine: MyOnCall }) {
  return (
    <Sheet label="Calendars" className="p-4">
      <h2>In your calendar</h2>
      <Links links={mine.links} />
      <h2 className="mt-4">Away, from your calendar</h2>
      <Calendars mine={mine} />
    </Sheet>
  );
}

function Links({ links }: { links: ShownLink[] }) {
  const zone = useZone();
  const queries = useQueryClient();
  const list = useQuery(asked.all());
  const [roster, setRoster] = useState('');
  const [made, setMade] = useState<ShownLink | null>(null);
  const done = () => void queries.invalidateQueries({ queryKey: asked.key });
  const make = useMutation({
    mutationFn: () => send('post', '/api/calendar-links', { body: { roster: roster === '' ? null : Number(roster) } }),
    onSuccess: (link) => {
      setMade(link);
      done();
    },
    onError: sayFailure,
  });
  const end = useMutation({
    mutationFn: (id: number) => send('delete', '/api/calendar-links/{id}', { path: { id } }),
    onSuccess: () => {
      toast('The address is nothing any more.');
      done();
    },
    onError: sayFailure,
  });
  return (
    <>
      <ul className="mt-1 divide-y divide-line">
        {links.map((one) => (
          <li key={one.id} className="flex items-center gap-2 py-1.5">
            <span className="mr-auto">
              {one.of}
              <span className="block text-[13px] text-muted">
                made {dayClock(one.madeAt, zone)}, {one.usedAt === null ? 'never read' : `read ${dayClock(one.usedAt, zone)}`}
              </span>
            </span>
            <Button disabled={end.isPending} onClick={() => end.mutate(one.id)}>
              End it
            </Button>
          </li>
        ))}
      </ul>
      {made?.address && (
        <p className="my-2 rounded-lg border border-line bg-paper p-2">
          Subscribe to this address; it is told this once, and whoever knows it reads the shifts:
          <input
            readOnly
            aria-label="Address to subscribe to"
            className="mt-1 w-full bg-transparent font-mono text-[12px]"
            value={made.address}
            onFocus={(event) => event.target.select()}
          />
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <select
          aria-label="What to subscribe to"
          className={smallLook}
          value={roster}
          onChange={(event) => setRoster(event.target.value)}
        >
          <option value="">my shifts</option>
          {list.data?.rosters.map((one) => (
            <option key={one.id} value={one.id}>
              the roster {one.name}
            </option>
          ))}
        </select>
        <Button disabled={make.isPending} onClick={() => make.mutate()}>
          Subscribe (iCalendar)
        </Button>
      </div>
    </>
  );
}

function Calendars({ mine }: { mine: MyOnCall }) {
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [holidays, setHolidays] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const done = () => void queries.invalidateQueries({ queryKey: asked.key });
  const add = useMutation({
    mutationFn: (text: string) =>
      send('post', '/api/absence-calendars', { body: { name, url: text === '' ? url : '', text, holidays } }),
    onSuccess: (kept) => {
      setFault(null);
      setName('');
      setUrl('');
      toast(`${many(kept.entries, 'entry', 'entries')} of ${kept.name} in the next year.`);
      done();
    },
    onError: (error) => (error instanceof ApiError && error.status < 500 ? setFault(error.message) : sayFailure(error)),
  });
  const again = useMutation({
    mutationFn: (id: number) => send('post', '/api/absence-calendars/{id}/read', { path: { id } }),
    onSuccess: done,
    onError: sayFailure,
  });
  const remove = useMutation({
    mutationFn: (id: number) => send('delete', '/api/absence-calendars/{id}', { path: { id } }),
    onSuccess: done,
    onError: sayFailure,
  });
  return (
    <>
      <ul className="mt-1 divide-y divide-line">
        {mine.calendars.map((one) => (
          <li key={one.id} className="flex flex-wrap items-center gap-2 py-1.5">
            <span className="mr-auto">
              {one.name}
              {one.holidays && ' (holidays of the site)'}
              <span className="block text-[13px] text-muted">
                {many(one.entries, 'entry', 'entries')}
                {one.readAt !== null && `, read ${dayClock(one.readAt, zone)}`}
              </span>
              {one.fault !== '' && (
                <span className="block text-[13px] text-critical">{one.fault}. What it said before stays.</span>
              )}
            </span>
            {!one.isFile && (
              <Button disabled={again.isPending} onClick={() => again.mutate(one.id)}>
                Read it now
              </Button>
            )}
            <Button
              look="quiet"
              aria-label={`Take ${one.name} out`}
              disabled={remove.isPending}
              onClick={() => remove.mutate(one.id)}
            >
              ✕
            </Button>
          </li>
        ))}
      </ul>
      <div className="mt-2 grid grid-cols-2 gap-2 max-sm:grid-cols-1">
        <Field label="Name">
          <Input value={name} placeholder="my leave" onChange={(event) => setName(event.target.value)} />
        </Field>
        <Field label="Address" help="Read again every quarter of an hour">
          <Input value={url} inputMode="url" onChange={(event) => setUrl(event.target.value)} />
        </Field>
      </div>
      {may('keep settings') && (
        <label className="mt-2 flex items-center gap-2">
          <input type="checkbox" checked={holidays} onChange={(event) => setHolidays(event.target.checked)} />
          Holidays of the site, not when I am away
        </label>
      )}
      {fault !== null && (
        <p role="alert" className="mt-1 text-critical">
          {fault}
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button disabled={name === '' || url === '' || add.isPending} onClick={() => add.mutate('')}>
          Add it
        </Button>
        <label className={name === '' ? 'text-muted' : 'cursor-pointer underline'}>
          or a file …
          <input
            type="file"
            accept=".ics,text/calendar"
            className="sr-only"
            disabled={name === ''}
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void file.text().then((text) => add.mutate(text));
              event.target.value = '';
            }}
          />
        </label>
      </div>
    </>
  );
}
