import clsx from 'clsx';
import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef, useState } from 'react';
import type { ShownCover, ShownRoster, ShownShift } from '../api/types';
import { clock, day, dayClock } from '../ui/format';
import { useNow } from '../ui/use-now';
import { midnights } from './local-time';
import { type Scale, hourAt, hues, placed } from './place';

/** A cover that somebody is about to ask for. */
export type Wanted = { from: number; to: number; forId: number | null; personId: number | null };
type Props = {
  roster: ShownRoster;
  zone: string;
  onCover?: (wanted: Wanted) => void;
  onAnswer: (cover: ShownCover) => void;
  onEdit?: () => void;
};

/** Some weeks of a roster: its rotations one above another, covers and absences, and what results of all that. */
export function Calendar({ roster, zone, onCover, onAnswer, onEdit }: Props) {
  const now = useNow();
  const scale = { from: roster.from, to: roster.to };
  const days = midnights(roster.from, roster.to, zone);
  const people = [
    ...roster.rotations.flatMap((one) => one.turns.map((turn) => turn.personId)),
    ...roster.covers.flatMap((one) => [one.personId, one.forId]),
  ];
  const hue = hues(people);
  const nowAt = placed(scale, now, now + 1);
  return (
    <div className="relative max-sm:hidden">
      <div className="grid grid-cols-[124px_minmax(0,1fr)]">
        <span />
        <div className="relative h-6">
          {days.map((at, i) => {
            const width = ((days[i + 1] ?? roster.to) - at) / (roster.to - roster.from);
            return (
              <span
                key={at}
                className={clsx(
                  'absolute text-[12px] whitespace-nowrap',
                  at <= now && now < (days[i + 1] ?? roster.to) ? 'font-semibold' : 'text-muted',
                )}
                style={{ left: placed(scale, at, at + 1)?.left }}
              >
                {width > 0.045 || i % 2 === 0 ? day(at, zone) : ''}
              </span>
            );
          })}
        </div>
      </div>
      {roster.rotations.toReversed().map((rotation) => (
        <Row key={rotation.name} name={rotation.name} note={rotation.words} scale={scale} days={days} zone={zone} onName={onEdit}>
          {rotation.turns.map((turn) => (
            <Bar
              key={turn.from}
              scale={scale}
              from={turn.from}
              to={turn.to}
              colour={hue(turn.personId)}
              title={`${turn.person}, ${dayClock(turn.from, zone)} to ${dayClock(turn.to, zone)}`}
              raised
            >
              {turn.person}
            </Bar>
          ))}
          {runsOf(rotation.turns, scale).map((run) => (
            <span
              key={run.from}
              aria-hidden
              className="absolute bottom-0 truncate text-[11px] leading-4 text-muted"
              style={placed(scale, run.from, run.to) ?? undefined}
            >
              {run.person}
            </span>
          ))}
        </Row>
      ))}
      {roster.covers.length > 0 && (
        <Row name="Covers" note="asked, agreed" scale={scale} days={days} zone={zone}>
          {roster.covers.map((cover) => (
            <Bar
              key={cover.id}
              scale={scale}
              from={cover.from}
              to={cover.to}
              colour={cover.state === 'asked' ? 'transparent' : hue(cover.personId)}
              className={cover.state === 'asked' ? 'border border-dashed border-minor' : ''}
              title={`${coverWords(cover)}, ${dayClock(cover.from, zone)} to ${dayClock(cover.to, zone)}`}
              onPress={() => onAnswer(cover)}
            >
              {coverWords(cover)}
            </Bar>
          ))}
        </Row>
      )}
      {roster.away.length > 0 && (
        <Row name="Away" note="from people and calendars" scale={scale} days={days} zone={zone}>
          {roster.away.map((one) => (
            <Bar
              key={one.id}
              scale={scale}
              from={one.from}
              to={one.to}
              colour="repeating-linear-gradient(-45deg, var(--future) 0 4px, var(--line) 4px 6px)"
              className="border border-line"
              title={`${one.person} is away${one.note && `, ${one.note}`}, ${dayClock(one.from, zone)} to ${dayClock(one.to, zone)}`}
            >
              {one.person}
            </Bar>
          ))}
        </Row>
      )}
      <OnCallRow roster={roster} scale={scale} days={days} zone={zone} hue={hue} onCover={onCover} />
      {nowAt && (
        <div className="pointer-events-none absolute inset-y-0 right-0 left-[124px]" aria-hidden>
          <span className="absolute inset-y-0 w-px bg-ink" style={{ left: nowAt.left }} />
        </div>
      )}
    </div>
  );
}

/** Turns too short for a name each, gathered where one person has several after another. */
function runsOf(turns: ShownRoster['rotations'][number]['turns'], scale: Scale) {
  const runs: { person: string; from: number; to: number }[] = [];
  for (const turn of turns) {
    if (shareOf(scale, turn.from, turn.to) >= NARROW) continue;
    const last = runs.at(-1);
    if (last?.person === turn.person && turn.from - last.to < 86_400_000) last.to = turn.to;
    else runs.push({ person: turn.person, from: turn.from, to: turn.to });
  }
  return runs;
}

const firstName = (name: string): string => name.split(' ')[0] ?? name;

export const coverWords = (cover: ShownCover): string =>
  cover.state === 'asked' ? `asked: ${cover.person} for ${cover.for}` : `${cover.person} for ${cover.for}`;

type RowProps = {
  name: string;
  note: string;
  scale: Scale;
  days: number[];
  zone: string;
  onName?: () => void;
  strong?: boolean;
  children: ReactNode;
};
function Row({ name, note, scale, days, zone, onName, strong = false, children }: RowProps) {
  return (
    <div className="grid grid-cols-[124px_minmax(0,1fr)] items-center border-t border-line">
      <div className="py-2 pr-2">
        {onName ? (
          <button type="button" className="text-left font-semibold hover:underline" onClick={onName}>
            {name}
          </button>
        ) : (
          <span className="font-semibold">{name}</span>
        )}
        <span className="block text-[12px] leading-tight text-muted">{note}</span>
      </div>
      <div className={clsx('relative self-stretch', strong ? 'min-h-14' : 'min-h-11')}>
        {days.map((at, i) => {
          const place = placed(scale, at, days[i + 1] ?? scale.to);
          const weekend = ['Sat', 'Sun'].some((one) => day(at, zone).startsWith(one));
          return (
            <span
              key={at}
              aria-hidden
              className={clsx('absolute inset-y-0 border-l border-line', weekend && 'bg-future')}
              style={place ?? undefined}
            />
          );
        })}
        {children}
      </div>
    </div>
  );
}

/** Under such a share of the span a name does not fit. */
const NARROW = 0.05;

type BarProps = {
  scale: Scale;
  from: number;
  to: number;
  colour: string;
  title: string;
  className?: string;
  /** Leaves room below for whose they are, where it is too narrow for words. */
  raised?: boolean;
  onPress?: () => void;
  children: ReactNode;
};
function Bar({ scale, from, to, colour, title, className, raised = false, onPress, children }: BarProps) {
  const place = placed(scale, from, to);
  if (place === null) return null;
  const isNarrow = shareOf(scale, from, to) < NARROW;
  const look = clsx(
    'absolute top-1.5 flex items-center overflow-hidden rounded-md text-left text-[12px]',
    raised && isNarrow ? 'bottom-4.5' : 'bottom-1.5',
    !isNarrow && 'px-1.5',
    className,
  );
  const style = { ...place, background: colour };
  const words = isNarrow ? <span className="sr-only">{title}</span> : <span className="truncate">{children}</span>;
  return (
    <>
      {onPress ? (
        <button type="button" className={look} style={style} title={title} aria-label={title} onClick={onPress}>
          {words}
        </button>
      ) : (
        <span className={look} style={style} title={title}>
          {words}
        </span>
      )}
    </>
  );
}

const shareOf = (scale: Scale, from: number, to: number): number =>
  (Math.min(to, scale.to) - Math.max(from, scale.from)) / (scale.to - scale.from);

type OnCallProps = {
  roster: ShownRoster;
  scale: Scale;
  days: number[];
  zone: string;
  hue: (person: number | null) => string;
  onCover?: (wanted: Wanted) => void;
};
/** What results: here covers are drawn, over a stretch, or by moving a handover to another hour. */
function OnCallRow({ roster, scale, days, zone, hue, onCover }: OnCallProps) {
  const track = useRef<HTMLDivElement>(null);
  const [drawn, setDrawn] = useState<{ from: number; to: number } | null>(null);
  const begun = useRef<number | null>(null);
  const hour = (event: PointerEvent) => {
    const box = track.current!.getBoundingClientRect();
    return hourAt(scale, (event.clientX - box.left) / box.width);
  };
  const down = (event: PointerEvent) => {
    if (!onCover || event.button !== 0 || (event.target as Element).closest('[data-handle]')) return;
    begun.current = hour(event);
  };
  const move = (event: PointerEvent) => {
    if (begun.current === null) return;
    const [a, b] = [begun.current, hour(event)];
    if (a !== b) setDrawn({ from: Math.min(a, b), to: Math.max(a, b) });
  };
  const up = () => {
    if (drawn && onCover)
      onCover({ ...drawn, forId: onCallAt(roster.shifts, drawn.from)?.personId ?? awayAt(roster, drawn.from), personId: null });
    begun.current = null;
    setDrawn(null);
  };
  return (
    <Row name="On call" note="what results" scale={scale} days={days} zone={zone} strong>
      <div
        ref={track}
        className="absolute inset-0 touch-pan-y"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => {
          begun.current = null;
          setDrawn(null);
        }}
      >
        {roster.shifts.map((shift) => (
          <ShiftBar
            key={shift.from}
            shift={shift}
            scale={scale}
            zone={zone}
            colour={hue(shift.personId)}
            onCover={drawn ? undefined : onCover}
            roster={roster}
          />
        ))}
        {onCover &&
          roster.shifts
            .slice(1)
            .map((shift, i) => (
              <Handle
                key={shift.from}
                before={roster.shifts[i]!}
                after={shift}
                scale={scale}
                zone={zone}
                track={track}
                onCover={onCover}
              />
            ))}
        {drawn && (
          <span
            className="pointer-events-none absolute inset-y-0.5 rounded-md border-2 border-accent bg-accent-soft/60"
            style={placed(scale, drawn.from, drawn.to) ?? undefined}
          >
            <span className="absolute top-full mt-0.5 rounded bg-ink px-1.5 text-[12px] whitespace-nowrap text-paper">
              {dayClock(drawn.from, zone)} to {dayClock(drawn.to, zone)}
            </span>
          </span>
        )}
      </div>
    </Row>
  );
}

const onCallAt = (shifts: ShownShift[], at: number): ShownShift | undefined =>
  shifts.find((one) => one.from <= at && one.to > at);

/** Who would be on call and is away: whose place a cover takes. */
export function awayAt(roster: ShownRoster, at: number): number | null {
  const away = roster.away.filter((one) => one.from <= at && one.to > at).map((one) => one.personId);
  const turns = roster.rotations.toReversed().flatMap((one) => one.turns);
  return turns.find((one) => one.from <= at && one.to > at && away.includes(one.personId))?.personId ?? null;
}

/** Nobody is on call, though a rotation names somebody. */
export const isGap = (shift: ShownShift): boolean => shift.personId === null && shift.because.endsWith('away');

type ShiftProps = {
  shift: ShownShift;
  roster: ShownRoster;
  scale: Scale;
  zone: string;
  colour: string;
  onCover?: (wanted: Wanted) => void;
};
function ShiftBar({ shift, roster, scale, zone, colour, onCover }: ShiftProps) {
  const place = placed(scale, shift.from, shift.to);
  if (place === null) return null;
  const isNarrow = shareOf(scale, shift.from, shift.to) < NARROW / 2;
  const gap = isGap(shift);
  const title = `${shift.person ?? (gap ? 'No one' : 'Nobody')}, ${dayClock(shift.from, zone)} to ${dayClock(shift.to, zone)}: ${shift.because}`;
  const wanted = { from: shift.from, to: shift.to, forId: shift.personId ?? awayAt(roster, shift.from), personId: null };
  return (
    <button
      type="button"
      disabled={!onCover || (shift.personId === null && !gap)}
      title={title}
      aria-label={gap ? `Gap: ${title}. Cover it` : title}
      onClick={() => onCover?.(wanted)}
      style={{ ...place, background: gap ? undefined : colour }}
      className={clsx(
        'absolute inset-y-1.5 overflow-hidden rounded-md text-left text-[12px] whitespace-nowrap !opacity-100',
        !isNarrow && 'px-1',
        gap && 'border border-dashed border-critical bg-critical/10 font-semibold text-critical',
        shift.personId === null && !gap && 'border border-dotted border-line',
      )}
    >
      {!isNarrow && (
        <span className="block truncate">{shift.person === null ? (gap ? 'no one' : '') : firstName(shift.person)}</span>
      )}
    </button>
  );
}

type HandleProps = {
  before: ShownShift;
  after: ShownShift;
  scale: Scale;
  zone: string;
  track: { current: HTMLDivElement | null };
  onCover: (wanted: Wanted) => void;
};
/** A handover, to be dragged or moved by arrow keys: whoever has it longer covers for the other one. */
function Handle({ before, after, scale, zone, track, onCover }: HandleProps) {
  const [at, setAt] = useState<number | null>(null);
  if (before.personId === null || after.personId === null || before.personId === after.personId) return null;
  const place = placed(scale, at ?? after.from, (at ?? after.from) + 1);
  if (place === null) return null;
  const [lowest, highest] = [before.from, after.to];
  const bounded = (ms: number) => Math.min(highest, Math.max(lowest, ms));
  const done = () => {
    if (at !== null && at !== after.from) {
      onCover(
        at > after.from
          ? { from: after.from, to: at, forId: after.personId, personId: before.personId }
          : { from: at, to: after.from, forId: before.personId, personId: after.personId },
      );
    }
    setAt(null);
  };
  const keyed = (event: KeyboardEvent) => {
    const step = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (step !== 0) {
      event.preventDefault();
      setAt(bounded((at ?? after.from) + step * 3_600_000));
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      done();
    } else if (event.key === 'Escape') setAt(null);
  };
  const moved = (event: PointerEvent) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const box = track.current!.getBoundingClientRect();
    setAt(bounded(hourAt(scale, (event.clientX - box.left) / box.width)));
  };
  return (
    <span
      data-handle
      role="slider"
      tabIndex={0}
      aria-label={`Handover from ${before.person} to ${after.person}, arrow keys move it, Enter asks for the cover`}
      aria-valuemin={lowest}
      aria-valuemax={highest}
      aria-valuenow={at ?? after.from}
      aria-valuetext={dayClock(at ?? after.from, zone)}
      title={`Handover ${dayClock(at ?? after.from, zone)}: drag to move it`}
      className="absolute inset-y-0 z-10 w-2 -translate-x-1/2 cursor-ew-resize touch-none hover:bg-ink/20"
      style={{ left: place.left }}
      onKeyDown={keyed}
      onBlur={() => setAt(null)}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={moved}
      onPointerUp={done}
    >
      {at !== null && (
        <span className="absolute top-full left-1/2 z-20 -translate-x-1/2 rounded bg-ink px-1.5 text-[12px] whitespace-nowrap text-paper">
          {day(at, zone)} {clock(at, zone)}
        </span>
      )}
    </span>
  );
}
