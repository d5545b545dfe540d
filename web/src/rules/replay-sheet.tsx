import type { UseQueryResult } from '@tanstack/react-query';
import { useMemo, useSyncExternalStore } from 'react';
import type { ApiError } from '../api/client';
import { longReplayShare } from '../api/long-replay';
import type { Replay, RuleDefinition } from '../api/types';
import { named } from '../metrics/names';
import { Old } from '../ui/answered';
import { Chart } from '../ui/chart/chart';
import { Button, Sheet, labelWords } from '../ui/controls';
import { dayClock, many, minuteOfDay, quantity, span } from '../ui/format';
import { useZone } from '../ui/session';
import { Crystal, HUES, SEVERITIES } from '../ui/severity';
import { Differences, differenceWords } from './difference';
import { heardWords } from './heard-words';
import { limitLines } from './limit-lines';
import { MarkButtons } from '../ui/marks';
import { WhoHeard } from './who-heard';
import { Proposal } from './proposal-sheet';
import { type RuleDraft, replayedOf } from './rule-fields';

const SPANS = [
  [24, 'last 24 h'],
  [72, 'last 3 d'],
  [168, 'last 7 d'],
  [336, 'last 14 d'],
  [720, 'last 30 d'],
  [2_160, 'last 90 d'],
  [9_600, 'all that is kept'],
] as const;
export const spanWords = (hours: number) => SPANS.find(([value]) => value === hours)?.[1] ?? `${hours} h`;
const NIGHT = { from: 22 * 60, to: 6 * 60 };
const MOST_SPELLS = 14;
/** Settings are proposed from a month at most. */
const JUDGED_HOURS = 720;
const HEIGHT = 270;

type Props = {
  rule: RuleDraft;
  /** The rule it is of, where it is there already. */
  id: number | null;
  replay: UseQueryResult<Replay>;
  fault: ApiError | null;
  isAsked: boolean;
  hours: number;
  onHours: (hours: number) => void;
  /** Nobody waits for it any more. */
  onStop: () => void;
  onLimit?: (value: number) => void;
  onTake?: (definition: RuleDefinition) => void;
  onClearHold?: (seconds: number) => void;
};

/** What the rule would have raised over the span, by the engine that runs live. */
export function ReplaySheet({ replay, fault, isAsked, hours, onHours, onStop, ...rest }: Props) {
  const data = replay.data;
  const state = data
    ? `${data.series} series at ${span(data.timing.stepMs)} steps, ${quantity(data.tookMs / 1000, 'seconds')}`
    : !isAsked
      ? 'write a formula first'
      : fault
        ? 'stands still until the rule is mended'
        : 'running …';
  return (
    <Sheet label="Replay" className="min-w-0">
      <div className="flex flex-wrap items-baseline gap-3 border-b border-line px-4 py-2.5">
        <h2>Replay</h2>
        <span className="text-muted">{state}</span>
        {replay.isFetching && <LongProgress onStop={onStop} />}
        <select
          aria-label="Span of the replay"
          value={hours}
          onChange={(event) => onHours(Number(event.target.value))}
          className="ml-auto bg-transparent text-muted"
        >
          {SPANS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </div>
      {fault?.field ? (
        // What is drawn is of the rule as it was before the fault.
        <p role="alert" className="px-4 py-2 text-critical">
          {fault.message}
        </p>
      ) : data ? (
        <div className="px-4 empty:hidden">
          <Old question={replay} what="the replay" />
        </div>
      ) : (
        fault && (
          <p role="alert" className="flex items-center gap-3 px-4 py-2 text-critical">
            {fault.message} <Button onClick={() => void replay.refetch()}>Try again</Button>
          </p>
        )
      )}
      {data && <Replayed data={data} hours={hours} waits={replay.isFetching} {...rest} />}
    </Sheet>
  );
}

/** How far a long replay is, and the way out of it. */
function LongProgress({ onStop }: { onStop: () => void }) {
  const share = useSyncExternalStore(longReplayShare.listen, longReplayShare.now);
  if (share === null) return null;
  return (
    <span className="flex items-center gap-2">
      <progress aria-label="How far the replay is" max={1} value={share} className="h-1.5 w-28" />
      <span className="text-muted">{quantity(Math.round(share * 100) / 100, 'ratio')}</span>
      <Button look="quiet" onClick={onStop}>
        Stop
      </Button>
    </span>
  );
}

type ReplayedProps = Pick<Props, 'rule' | 'id' | 'hours' | 'onLimit' | 'onTake' | 'onClearHold'> & {
  data: Replay;
  waits: boolean;
};

function Replayed({ data, rule, id, hours, waits, onLimit, onTake, onClearHold }: ReplayedProps) {
  const zone = useZone();
  const { spells, unit } = data;
  const lines = useMemo(() => named(data.lines), [data.lines]);
  const times = useMemo(
    () => Array.from({ length: data.lines[0]?.values.length ?? 0 }, (_, i) => data.first + i * data.step),
    [data],
  );
  const bands = useMemo(
    () => spells.map((spell) => ({ from: spell.raisedAt, to: spell.clearedAt, hue: HUES[spell.severity] })),
    [spells],
  );
  const limits = limitLines(rule.condition, unit, onLimit);
  const raised = spells.reduce((sum, spell) => sum + ((spell.clearedAt ?? data.to) - spell.raisedAt), 0);
  const atNight = spells.filter((spell) => isNight(spell.raisedAt, zone)).length;
  const lengths = spells.map((spell) => (spell.clearedAt ?? data.to) - spell.raisedAt).toSorted((a, b) => a - b);
  const median = lengths[lengths.length >> 1];
  const short = shortHistory(data, zone);
  const heard = heardWords(data.heard);
  return (
    <>
      <dl className="grid grid-cols-3 border-b border-line max-sm:grid-cols-1">
        {[
          [String(spells.length), `${spells.length === 1 ? 'alert' : 'alerts'}${bySeverity(spells)}`],
          [String(atNight), 'between 22:00 and 06:00'],
          [
            raised > 0 ? span(raised) : '–',
            median === undefined ? 'raised in all' : `raised in all, ${span(median)} in the middle`,
          ],
        ].map(([value, words]) => (
          <div key={words} className="flex flex-col-reverse border-r border-line px-4 py-2.5 last:border-r-0">
            <dt className="text-[13px] text-muted">{words}</dt>
            <dd className="text-[20px] font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
      {heard && <p className="border-b border-line px-4 py-2">{heard} By today’s ladder and rosters, if nobody had acted.</p>}
      {short && (
        <p role="status" className="border-b border-line bg-future px-4 py-2">
          {short}
        </p>
      )}
      {data.readingsFrom !== null && (
        <p className="border-b border-line bg-future px-4 py-2">
          Before {dayClock(data.readingsFrom, zone)} only roll-ups are left: they are drawn, and what lay on one side of the limit
          for hours is told by them; shorter alerts of that time are not.
        </p>
      )}
      <div className="p-3">
        {lines.length > 0 ? (
          <Chart
            label="The formula over the replayed span, with the limit"
            times={times}
            series={lines}
            unit={unit}
            zone={zone}
            height={HEIGHT}
            bands={bands}
            limits={limits}
            {...(data.usual && { envelope: data.usual })}
          />
        ) : (
          <p className="grid h-64 place-items-center text-muted">No readings in this span for this formula.</p>
        )}
      </div>
      {data.usual && lines.length > 1 && (
        <p className="px-4 pb-2 text-[13px] text-muted">
          The shaded band is what counts as usual for {lines[data.usual.line]?.name ?? 'it'}.
        </p>
      )}
      {data.differences && (
        <div className="border-t border-line px-4 py-3">
          <h2 className="mb-1">Against what is in service: {differenceWords(data.differences)}</h2>
          <Differences of={data.differences} />
        </div>
      )}
      <div className="border-t border-line px-4 py-3">
        <h2 className="mb-2">What it would have raised</h2>
        {spells.length === 0 ? <p className="text-muted">Nothing in this span.</p> : <Spells data={data} zone={zone} id={id} />}
        {spells.length > MOST_SPELLS && (
          <p className="mt-1 text-muted">and {many(spells.length - MOST_SPELLS, 'more', 'more')}</p>
        )}
        {data.flapping.map((one) => (
          <p key={`${one.from}-${labelWords(one.labels)}`} className="mt-3 flex flex-wrap items-center gap-x-3 gap-y-1">
            <span className="min-w-0 flex-1">
              {labelWords(one.labels, ['kind', 'service', 'target', 'state']) || 'It'} came and went {one.times} times from{' '}
              {dayClock(one.from, zone)}, within {span(one.to - one.from)}. Clearing only after{' '}
              {span(one.clearHoldSeconds * 1000)} would have made it one alert.
            </span>
            {onClearHold && <Button onClick={() => onClearHold(one.clearHoldSeconds)}>Clear so slowly</Button>}
          </p>
        ))}
        {id !== null && spells.length > 0 && (
          <Proposal rule={id} definition={replayedOf(rule)} hours={Math.min(hours, JUDGED_HOURS)} waits={waits} onTake={onTake} />
        )}
      </div>
    </>
  );
}

function Spells({ data, zone, id }: { data: Replay; zone: string; id: number | null }) {
  return (
    <table className="w-full">
      <thead className="text-left text-muted">
        <tr>
          <th className="w-6 font-normal">
            <span className="sr-only">severity</span>
          </th>
          {['onset', 'raised after', 'lasted', 'where', ...(id === null ? [] : ['worth it?'])].map((name) => (
            <th key={name} className="font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {data.spells.slice(0, MOST_SPELLS).map((spell) => {
          const onset = spell.onsetAt ?? spell.raisedAt;
          return (
            <tr key={`${spell.raisedAt}-${labelWords(spell.labels)}`}>
              <td className="py-0.5">
                <Crystal severity={spell.severity} size={13} />
              </td>
              <td className="whitespace-nowrap">{dayClock(onset, zone)}</td>
              <td>{span(spell.raisedAt - onset)}</td>
              <td className="whitespace-nowrap">{spell.clearedAt ? span(spell.clearedAt - spell.raisedAt) : 'still raised'}</td>
              <td>{labelWords(spell.labels, ['kind', 'service', 'target', 'state'])}</td>
              {id !== null && (
                <td>
                  <MarkButtons rule={id} spell={spell} /> <WhoHeard rule={id} labels={spell.labels} at={spell.raisedAt} />
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** `: 2 critical, 20 major`, where there is more than one. */
function bySeverity(spells: Replay['spells']): string {
  const counts = SEVERITIES.map((severity) => [spells.filter((spell) => spell.severity === severity).length, severity] as const);
  const there = counts.filter(([count]) => count > 0);
  return there.length < 2 ? '' : `: ${there.map(([count, severity]) => `${count} ${severity}`).join(', ')}`;
}

function isNight(at: number, zone: string): boolean {
  const minute = minuteOfDay(at, zone);
  return minute >= NIGHT.from || minute < NIGHT.to;
}

/** A replay tells nothing of the time before there were readings. */
function shortHistory({ from, to, knownFrom }: Replay, zone: string): string | null {
  if (knownFrom === null) return 'There are no readings in this span, so this says nothing of how often the rule would raise.';
  const missing = knownFrom - from;
  return missing < (to - from) * 0.02
    ? null
    : `Its readings begin ${dayClock(knownFrom, zone)}: this is what it would have raised in the ${span(to - knownFrom)} since.`;
}
