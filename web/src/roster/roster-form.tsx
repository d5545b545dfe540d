import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { rosters as asked } from '../api/queries';
import type { RosterDefinition, RosterPerson, ShownRoster, WhatIf } from '../api/types';
import { Button, Field, Input } from '../ui/controls';
import { DialogBox, useTellChanged } from '../ui/dialog-box';
import { dayClock, many } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { ZoneSelect } from '../ui/zone';
import { FairnessTable } from './fairness-sheet';
import { fromInput, localText, toInput } from './local-time';
import { RotationEditor } from './rotation-editor';

type Props = {
  /** Null: a new one. */
  roster: ShownRoster | null;
  people: RosterPerson[];
  siteZone: string;
  open: boolean;
  onDone: (id?: number) => void;
};
/** A roster is made or changed, and tried on the next quarter before. */
export function RosterDialog({ roster, people, siteZone, open, onDone }: Props) {
  return (
    <DialogBox
      open={open}
      onOpenChange={(next) => !next && onDone()}
      title={roster ? `Roster ${roster.definition.name}` : 'A new roster'}
      wide={900}
    >
      {open && <RosterForm roster={roster} people={people} siteZone={siteZone} onDone={onDone} />}
    </DialogBox>
  );
}

const newRotation = (day: string, name: string) => ({
  name,
  people: [],
  from: day,
  change: { everyDays: 7, weekday: 1, at: ['08:00'] },
  hours: null,
});

function RosterForm({ roster, people, siteZone, onDone }: Omit<Props, 'open'>) {
  const queries = useQueryClient();
  const zone = roster?.definition.zone ?? siteZone;
  const today = localText(Date.now(), zone).slice(0, 10);
  const start: RosterDefinition = roster?.definition ?? {
    name: '',
    zone,
    rotations: [newRotation(today, 'weeks')],
    covers: [],
    away: [],
  };
  const [definition, setDefinition] = useState(start);
  const [when, setWhen] = useState<'shift' | 'now' | 'at'>('shift');
  const [at, setAt] = useState(localText(roster?.shiftEnds ?? Date.now(), zone));
  const [reason, setReason] = useState('');
  const [tried, setTried] = useState<WhatIf | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const changed = JSON.stringify(definition) !== JSON.stringify(start);
  useTellChanged(changed);
  const holdsFrom = when === 'shift' ? '' : when === 'now' ? 'now' : at;
  const body = { definition, holdsFrom, reason, number: roster?.number ?? null };
  const change = (part: Partial<RosterDefinition>) => {
    setDefinition({ ...definition, ...part });
    setTried(null);
    setFault(null);
  };
  const failed = (error: unknown) =>
    error instanceof ApiError && error.status < 500 ? setFault(error.message) : sayFailure(error);
  const trial = useMutation({
    mutationFn: () => send('post', '/api/rosters/{id}/what-if', { path: { id: roster!.id }, body }),
    onSuccess: (found) => {
      setTried(found);
      setFault(null);
    },
    onError: failed,
  });
  const keep = useMutation({
    mutationFn: () =>
      roster ? send('put', '/api/rosters/{id}', { path: { id: roster.id }, body }) : send('post', '/api/rosters', { body }),
    onSuccess: (kept) => {
      void queries.invalidateQueries({ queryKey: asked.key });
      toast(
        roster
          ? `It holds from ${holdsFrom === '' ? 'the next handover' : holdsFrom} on.`
          : `The roster ${definition.name} holds now.`,
      );
      onDone(kept.id);
    },
    onError: failed,
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/rosters/{id}', { path: { id: roster!.id } }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: asked.key });
      toast(`The roster ${roster!.definition.name} is removed; who was on call by it stays known.`);
      onDone();
    },
    onError: failed,
  });
  const rotations = definition.rotations;
  const put = (place: number, next: (typeof rotations)[number]) =>
    change({ rotations: rotations.map((one, i) => (i === place ? next : one)) });
  return (
    <form
      className="space-y-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <Field label="Name" help="Rungs name it so, such as roster piers">
          <Input value={definition.name} onChange={(event) => change({ name: event.target.value })} />
        </Field>
        <Field label="On the clocks of">
          <ZoneSelect
            value={definition.zone}
            onChange={(next) => change({ zone: next })}
            className="w-full rounded-lg border border-line bg-sheet px-3 py-1.5"
          />
        </Field>
      </div>
      <div className="space-y-3">
        <p className="text-muted">Rotations stand one above another: where several have somebody, the upper one goes before.</p>
        {rotations.map((_, i) => {
          const place = rotations.length - 1 - i;
          return (
            <RotationEditor
              key={place}
              rotation={rotations[place]!}
              people={people}
              onChange={(next) => put(place, next)}
              onUp={
                place < rotations.length - 1
                  ? () =>
                      change({
                        rotations: rotations.map((one, n) =>
                          n === place ? rotations[place + 1]! : n === place + 1 ? rotations[place]! : one,
                        ),
                      })
                  : undefined
              }
              onRemove={rotations.length > 1 ? () => change({ rotations: rotations.filter((_, n) => n !== place) }) : undefined}
            />
          );
        })}
        <Button onClick={() => change({ rotations: [...rotations, newRotation(today, rotations.length === 1 ? 'nights' : '')] })}>
          Add a rotation above
        </Button>
      </div>
      {roster && (
        <fieldset className="space-y-1.5">
          <legend className="font-medium">It holds</legend>
          {(
            [
              ['shift', `from the next handover on, ${dayClock(roster.shiftEnds, definition.zone)}`],
              ['now', 'from now on; somebody else may be on call at once'],
              ['at', 'from'],
            ] as const
          ).map(([value, words]) => (
            <label key={value} className="flex items-center gap-2">
              <input
                type="radio"
                name="when"
                checked={when === value}
                onChange={() => {
                  setWhen(value);
                  setTried(null);
                }}
              />
              {words}
              {value === 'at' && (
                <input
                  type="datetime-local"
                  aria-label="From when on"
                  className="rounded-md border border-line bg-sheet px-1.5 py-0.5"
                  value={toInput(at)}
                  onChange={(event) => {
                    setAt(fromInput(event.target.value));
                    setWhen('at');
                    setTried(null);
                  }}
                />
              )}
            </label>
          ))}
        </fieldset>
      )}
      <Field label="Why" help="Stands with this state of it for ever">
        <Input value={reason} onChange={(event) => setReason(event.target.value)} />
      </Field>
      {tried && <Tried tried={tried} zone={definition.zone} />}
      {fault !== null && (
        <p role="alert" className="text-critical">
          {fault}
        </p>
      )}
      <div className="flex flex-wrap justify-end gap-2 pt-1">
        {roster && (
          <Button look="quiet" className="mr-auto" disabled={remove.isPending} onClick={() => remove.mutate()}>
            Remove
          </Button>
        )}
        <Button onClick={() => onDone()}>Back</Button>
        {roster && (
          <Button disabled={!changed || trial.isPending} onClick={() => trial.mutate()}>
            Try it on the next quarter
          </Button>
        )}
        <Button type="submit" look="accent" disabled={!changed || definition.name === '' || keep.isPending}>
          {roster ? 'Put it into service' : 'Make it'}
        </Button>
      </div>
    </form>
  );
}

/** What a change would do: nothing of it is kept. */
function Tried({ tried, zone }: { tried: WhatIf; zone: string }) {
  const most = (of: WhatIf['today'], what: 'nights' | 'weekends') => Math.max(0, ...of.shares.map((one) => one[what]));
  const rows = [
    ['most nights for one person', most(tried.today, 'nights'), most(tried.then, 'nights')],
    ['most weekend days for one person', most(tried.today, 'weekends'), most(tried.then, 'weekends')],
    ['times an even share, at most', tried.today.times ?? 1, tried.then.times ?? 1],
    ['hours without anyone', tried.today.gapHours, tried.then.gapHours],
  ] as const;
  return (
    <section aria-label="What it would do" className="rounded-lg border border-line bg-paper p-3">
      <h2>The next 13 weeks, nothing saved</h2>
      <p className="text-muted">
        It would hold from {dayClock(tried.holdsFrom, zone)} on.
        {tried.changesNow && <strong className="text-critical"> Somebody else would be on call at once.</strong>}
        {tried.gaps.length > 0 && ` ${many(tried.gaps.length, 'gap')}, the first ${dayClock(tried.gaps[0]!.from, zone)}.`}
      </p>
      <div className="mt-2 grid grid-cols-2 gap-5 max-md:grid-cols-1">
        <table>
          <thead className="text-right text-[12px] text-muted">
            <tr>
              <th className="text-left font-normal">
                <span className="sr-only">What</span>
              </th>
              <th className="pl-4 font-normal">today</th>
              <th className="pl-4 font-normal">then</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([words, today, then]) => (
              <tr key={words} className="border-t border-line">
                <th className="py-1 text-left font-normal">{words}</th>
                <td className="pl-4 text-right">{today}</td>
                <td
                  className={`pl-4 text-right font-semibold ${then < today ? 'text-accent' : then > today ? 'text-critical' : ''}`}
                >
                  {then}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <FairnessTable fairness={tried.then} />
      </div>
    </section>
  );
}
