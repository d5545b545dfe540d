import { useNavigate } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import type { IncidentHead, WatchData } from '../api/types';
import { timeSplits } from '../ui/chart/time-splits';
import { clock, countdown, day, listed, minuteOfDay, quantity, span } from '../ui/format';
import { CrystalPath, HUES } from '../ui/severity';
import { inRows } from './hushes';
import { wide, wordsPlace } from './words';

const LANE = 31;
const TOP = 26;
const NAMES = 112;
const TICK_PX = 95;
const MOST_HUSH_ROWS = 3;

/** Past and future on one line: what happened, what is open, what is coming; one lane a service. */
export function Timeline({ data, now, zone }: { data: WatchData; now: number; zone: string }) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1200);
  const navigate = useNavigate();
  useEffect(() => {
    const observer = new ResizeObserver((entries) => setWidth(Math.max(NAMES + 200, entries[0]!.contentRect.width)));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);

  const from = now - (data.now - data.from);
  const to = now + (data.to - data.now);
  const x = (at: number) => NAMES + ((Math.max(from, Math.min(to, at)) - from) / (to - from)) * (width - NAMES);
  const busy = new Set([
    ...data.past.map((one) => one.service),
    ...data.open.map((one) => one.service),
    ...data.forecasts.map((one) => one.service),
  ]);
  const isOwn = (service: string) => service === 'own' || service === 'olivine';
  const services = [
    ...data.services.filter((name) => !isOwn(name) && busy.has(name)),
    ...[...busy].filter((name) => !isOwn(name) && !data.services.includes(name)),
  ];
  const calm = data.services.filter((name) => !isOwn(name) && !busy.has(name));
  const lanes = [...services, ...calm.slice(0, Math.max(0, 6 - services.length))];
  const laneY = (i: number) => TOP + LANE * (i + 1) + LANE / 2;
  const hushes = inRows(data.hushes).slice(0, MOST_HUSH_ROWS);
  const names = ['On call', ...lanes, 'Olivine itself', ...hushes.map((_, i) => (i === 0 ? 'Hushed' : ''))];
  const height = TOP + LANE * names.length;
  const open = (id: number) =>
    void navigate({ to: '/incidents/$id', params: { id: String(id) }, search: (old) => old as { back?: number } });

  // Words stand right of now and right of the mark, or before it where they reach the edge; where neither has room, the mark alone tells them.
  const forecastPlace = (one: WatchData['forecasts'][number], service: string) => {
    const rung = data.open.find((other) => other.service === service && other.next);
    const begins = rung ? x(rung.next!.at) + 9 + wide(rungWords(rung, now)) + 8 : x(now) + 8;
    return wordsPlace(x(one.at), forecastWords(one, zone), begins, width);
  };

  // What is hushed, and will be: hatched, with its name where that has room, right of now where it is to come.
  const hush = (one: WatchData['hushes'][number], y: number) => {
    const [start, end] = [x(one.from), x(one.to)];
    const begins = one.to > now ? Math.max(start, x(now)) : start;
    const words = one.to > now && one.to <= to ? `${one.name} until ${clock(one.to, zone)}` : one.name;
    const place =
      end - begins > wide(words) + 16
        ? { x: begins + 8, textAnchor: 'start' as const }
        : wordsPlace(end, words, x(now) + 8, width);
    return (
      <g key={`${one.id} ${one.from}`}>
        <rect
          x={start}
          y={y - 9}
          width={Math.max(3, end - start)}
          height={18}
          rx={3}
          fill="url(#hatch)"
          stroke="var(--muted)"
          strokeOpacity="0.5"
        />
        {place && (
          <text {...place} y={y + 4} fontSize="12" fill="var(--ink)" stroke="var(--paper)" strokeWidth="4" paintOrder="stroke">
            {words}
          </text>
        )}
        <title>{`${one.kind} ${one.name}, ${clock(one.from, zone)} to ${clock(one.to, zone)}`}</title>
      </g>
    );
  };

  const mark = (incident: IncidentHead, y: number) => {
    const start = x(incident.openedAt);
    const end = x(incident.resolvedAt ?? now);
    const hue = HUES[incident.severity];
    return (
      <g
        key={incident.id}
        role="button"
        tabIndex={0}
        aria-label={`${incident.severity}: ${incident.title}, ${clock(incident.openedAt, zone)}, ${incident.status}`}
        className="cursor-pointer focus-visible:outline-2"
        onClick={() => open(incident.id)}
        onKeyDown={(event) => event.key === 'Enter' && open(incident.id)}
      >
        <title>{`${incident.title}\n${clock(incident.openedAt, zone)}${incident.resolvedAt ? `–${clock(incident.resolvedAt, zone)}` : ', still open'}`}</title>
        <rect x={start - 8} y={y - 12} width={Math.max(18, end - start + 10)} height={24} fill="transparent" />
        <rect
          x={start}
          y={y - 3.5}
          width={Math.max(2, end - start)}
          height={7}
          rx={3.5}
          fill={hue}
          opacity={incident.resolvedAt ? 0.35 : 0.85}
        />
        {incident.acknowledgedAt && <rect x={x(incident.acknowledgedAt) - 1} y={y - 8} width={2} height={16} fill="var(--ink)" />}
        {incident.openedAt >= from && (
          <g transform={`translate(${start - 7} ${y - 7}) scale(0.875)`}>
            <CrystalPath severity={incident.severity} />
          </g>
        )}
      </g>
    );
  };

  return (
    <div ref={box} className="mt-2 overflow-hidden">
      <svg width={width} height={height} role="group" aria-label="Timeline of services" className="block select-none">
        <defs>
          <clipPath id="lanes">
            <rect x={NAMES} y="0" width={width - NAMES} height={height} />
          </clipPath>
          <pattern id="hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
            <rect width="7" height="3" fill="var(--line)" />
          </pattern>
        </defs>
        <rect x={x(now)} y="0" width={Math.max(0, width - x(now))} height={height} fill="var(--future)" />
        {timeSplits(from, to, zone, width / TICK_PX).map((at) => (
          <g key={at}>
            <line x1={x(at)} x2={x(at)} y1={TOP - 4} y2={height} stroke="var(--line)" opacity="0.6" />
            {x(at) > NAMES + 16 && x(at) < width - 18 && Math.abs(x(at) - x(now)) > 36 && (
              <text x={x(at)} y={15} textAnchor="middle" fontSize="12" fill="var(--muted)">
                {minuteOfDay(at, zone) === 0 ? day(at, zone) : clock(at, zone)}
              </text>
            )}
          </g>
        ))}
        {names.map((name, i) => (
          <g key={`${i} ${name}`}>
            <line x1="0" x2={width} y1={TOP + LANE * i} y2={TOP + LANE * i} stroke="var(--line)" opacity="0.7" />
            <text x="2" y={TOP + LANE * i + LANE / 2 + 4.5} fontSize="13" fontWeight="550" fill="var(--ink)">
              {name}
            </text>
          </g>
        ))}
        <g clipPath="url(#lanes)">
          {data.shifts.map((shift) => {
            const here = shift.from <= now && shift.to > now;
            const start = x(shift.from);
            const length = x(shift.to) - start;
            // The name of whoever is on call now stands on one side of now.
            const crosses = here && start + 9 + wide(shift.person) > x(now) - 4 && start + 9 < x(now);
            const name = crosses ? x(now) + 8 : start + 9;
            const words = here && shift.to <= to ? `until ${clock(shift.to, zone)}, then ${shift.next}` : '';
            return (
              <g key={shift.from}>
                <rect
                  x={start + 1}
                  y={TOP + 6}
                  width={Math.max(0, length - 2)}
                  height={LANE - 12}
                  rx={4}
                  fill={here ? 'var(--accent-soft)' : 'var(--line)'}
                  opacity={here ? 1 : 0.55}
                />
                {start + length - name > shift.person.length * 7 + 5 && (
                  <text x={name} y={TOP + LANE / 2 + 4.5} fontSize="12" fill="var(--ink)">
                    {shift.person}
                  </text>
                )}
                {words && start + length - 9 - wide(words) > Math.max(x(now) + 6, name + wide(shift.person) + 12) && (
                  <text x={start + length - 9} y={TOP + LANE / 2 + 4.5} fontSize="12" fill="var(--ink)" textAnchor="end">
                    {words}
                  </text>
                )}
              </g>
            );
          })}
          {lanes.map((service, i) => (
            <g key={service}>
              {data.past.filter((one) => one.service === service).map((one) => mark(one, laneY(i)))}
              {data.open
                .filter((one) => one.service === service && one.next)
                .slice(0, 1)
                .map((one) => (
                  <g key={`next-${one.id}`}>
                    <line
                      x1={x(now)}
                      x2={x(one.next!.at)}
                      y1={laneY(i)}
                      y2={laneY(i)}
                      stroke={HUES[one.severity]}
                      strokeDasharray="1.5 4"
                      strokeWidth="1.6"
                    />
                    <circle cx={x(one.next!.at)} cy={laneY(i)} r="4" fill={HUES[one.severity]} />
                    {x(one.next!.at) + 9 + wide(rungWords(one, now)) < width && (
                      <text x={x(one.next!.at) + 9} y={laneY(i) + 4} fontSize="12" fill={HUES[one.severity]}>
                        {rungWords(one, now)}
                      </text>
                    )}
                    <title>{rungWords(one, now)}</title>
                  </g>
                ))}
              {data.forecasts
                .filter((one) => one.service === service)
                .slice(0, 1)
                .map((one) => (
                  <g key={`forecast-${one.ruleId} ${one.words}`}>
                    <line
                      x1={x(now)}
                      x2={x(one.at)}
                      y1={laneY(i)}
                      y2={laneY(i)}
                      stroke={HUES[one.severity]}
                      strokeDasharray="1.5 4"
                      strokeWidth="1.4"
                    />
                    <g transform={`translate(${x(one.at) - 7} ${laneY(i) - 7}) scale(0.875)`}>
                      <CrystalPath severity={one.severity} />
                    </g>
                    <title>{forecastWords(one, zone)}</title>
                    {forecastPlace(one, service) && (
                      <text
                        {...forecastPlace(one, service)}
                        y={laneY(i) + (data.open.some((other) => other.service === service && other.next) ? -7 : 4)}
                        fontSize="12"
                        fill={HUES[one.severity]}
                      >
                        {forecastWords(one, zone)}
                      </text>
                    )}
                  </g>
                ))}
            </g>
          ))}
          {hushes.map((row, i) => row.map((one) => hush(one, laneY(lanes.length + 1 + i))))}
          {data.stoodStill.map((one) => (
            <rect
              key={one.to}
              x={x(one.from)}
              y={laneY(lanes.length) - 9}
              width={Math.max(2, x(one.to) - x(one.from))}
              height={18}
              fill="var(--minor)"
              opacity="0.3"
            >
              <title>{stoodStillWords(one, zone)}</title>
            </rect>
          ))}
          {data.past.filter((one) => isOwn(one.service)).map((one) => mark(one, laneY(lanes.length)))}
          <text
            x={width - x(now) > 260 ? x(now) + 10 : x(now) - 10}
            textAnchor={width - x(now) > 260 ? 'start' : 'end'}
            y={laneY(lanes.length) + 4.5}
            fontSize="12"
            fill="var(--muted)"
          >
            {ownWords(data)}
          </text>
        </g>
        <line x1={x(now)} x2={x(now)} y1={TOP - 8} y2={height} stroke="var(--ink)" strokeWidth="1.2" />
        <text
          x={x(now)}
          y={15}
          textAnchor="middle"
          fontSize="12"
          fontWeight="600"
          fill="var(--ink)"
          stroke="var(--paper)"
          strokeWidth="4"
          paintOrder="stroke"
        >
          {clock(now, zone)}
        </text>
      </svg>
    </div>
  );
}

const stoodStillWords = ({ from, to }: WatchData['stoodStill'][number], zone: string): string =>
  `nobody collected from ${clock(from, zone)} to ${clock(to, zone)}`;
const rungWords = ({ next }: WatchData['open'][number], now: number): string =>
  `rung ${next!.rung} in ${countdown(next!.at - now)} tells ${next!.person}`;
const forecastWords = ({ words, at }: WatchData['forecasts'][number], zone: string): string => `${words} ≈ ${clock(at, zone)}`;

function ownWords(data: WatchData): string {
  const still = data.parts.filter((part) => part.ageMs > 20_000);
  if (still.length > 0) {
    const since = span(Math.max(...still.map((part) => part.ageMs)));
    return `${listed(still.map((part) => part.name))} ${still.length === 1 ? 'has' : 'have'} not reported for ${since}`;
  }
  if (data.broken.length > 0) return `${data.broken.length === 1 ? 'a rule is' : `${data.broken.length} rules are`} broken`;
  const late = data.parts.find((part) => part.name === 'evaluator')?.figures['olivine_rule_lateness_seconds'];
  return `${data.parts.length} parts report${late === undefined ? '' : ` · rules ${quantity(late, 'seconds')} behind`}`;
}
