import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { rules as asked } from '../api/queries';
import type { RuleDefinition, Sweep } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { many, quantity, span } from '../ui/format';
import { withLimit } from './rule-fields';

const WIDTH = 720;
const HEIGHT = 130;
const PAD = 24;
const SETTINGS: Record<Sweep['setting'], string> = { limit: 'the limit', hold: 'the hold' };

type Props = {
  definition: RuleDefinition;
  hours: number;
  /** Whether it waits for what goes before it. */
  waits: boolean;
  /** Where the setting stands, in its unit; null where it has none. */
  at: Record<Sweep['setting'], number | null>;
  onChoose?: (setting: Sweep['setting'], value: number) => void;
};

/** How many alerts each value of a setting would have given: where it matters, and where it does not. */
export function SweepSheet({ definition, hours, waits, at, onChoose }: Props) {
  const [setting, setSetting] = useState<Sweep['setting']>('limit');
  const chosen = at[setting] === null ? 'hold' : setting;
  // What is swept does not depend on where it stands, so that moving it asks for nothing anew.
  const [base] = useState(at);
  const swept =
    chosen === 'hold'
      ? { ...definition, holdSeconds: base.hold ?? 0 }
      : { ...definition, condition: withLimit(definition.condition, base.limit ?? 0) };
  const sweep = useQuery({ ...asked.sweep(swept, chosen, hours), enabled: !waits });
  return (
    <Sheet label="Sweep" className="mt-4 min-w-0 p-4">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2>What else {SETTINGS[chosen]} could be</h2>
        <span className="text-muted">in the last {span(hours * 3_600_000)}</span>
        <select
          aria-label="Setting that is swept"
          value={chosen}
          onChange={(event) => setSetting(event.target.value as Sweep['setting'])}
          className="ml-auto bg-transparent text-muted"
        >
          {at.limit !== null && <option value="limit">sweep the limit</option>}
          <option value="hold">sweep the hold</option>
        </select>
      </div>
      <Answered
        of={sweep}
        what="the sweep"
        className="mt-1"
        isEmpty={(data) => data.values.length === 0}
        empty={<p className="mt-1 text-muted">Of this rule it cannot be moved.</p>}
      >
        {(data) => <Swept data={data} at={at[chosen]} onChoose={onChoose && ((value) => onChoose(chosen, value))} />}
      </Answered>
    </Sheet>
  );
}

const wordsOf = (value: number, { setting, unit }: Sweep) => (setting === 'hold' ? span(value * 1000) : quantity(value, unit));

function Swept({ data, at, onChoose }: { data: Sweep; at: number | null; onChoose?: (value: number) => void }) {
  const { values, flats } = data;
  const low = values[0]!.value;
  const high = values.at(-1)!.value;
  const most = Math.max(1, ...values.map((one) => one.alerts));
  const x = (value: number) => PAD + ((value - low) / (high - low || 1)) * (WIDTH - 2 * PAD);
  const y = (count: number) => HEIGHT - PAD - (count / most) * (HEIGHT - 2 * PAD);
  const steps = (count: (one: Sweep['values'][number]) => number) =>
    values.map((one, i) => `${i === 0 ? 'M' : 'L'}${x(one.value).toFixed(1)} ${y(count(one)).toFixed(1)}`).join('');
  const nearest =
    at === null ? null : values.reduce((best, one) => (Math.abs(one.value - at) < Math.abs(best.value - at) ? one : best));
  return (
    <>
      <p className="mt-1">
        {flats.length === 0
          ? 'Each value gives another number of alerts.'
          : flats.slice(0, 3).map((flat, i) => (
              <span key={i}>
                {i > 0 && ' '}
                Any from {wordsOf(flat.from, data)} to {wordsOf(flat.to, data)} gives{' '}
                {flat.alerts === 0 ? 'no alert' : `the same ${many(flat.alerts, 'alert')}`}.
              </span>
            ))}
      </p>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="mt-2 w-full" role="img" aria-label="Alerts for each value">
        <line x1={PAD} x2={WIDTH - PAD} y1={y(0)} y2={y(0)} stroke="var(--line)" />
        {flats.slice(0, 3).map((flat, i) => (
          <rect
            key={i}
            x={x(flat.from)}
            width={Math.max(1, x(flat.to) - x(flat.from))}
            y={PAD - 8}
            height={HEIGHT - 2 * PAD + 8}
            fill="var(--accent-soft)"
          />
        ))}
        <path d={steps((one) => one.alerts)} fill="none" stroke="var(--ink)" strokeWidth="1.75" />
        <path d={steps((one) => one.atNight)} fill="none" stroke="var(--warning)" strokeWidth="1.5" strokeDasharray="4 3" />
        {at !== null && at >= low && at <= high && (
          <line x1={x(at)} x2={x(at)} y1={PAD - 12} y2={y(0)} stroke="var(--accent)" strokeWidth="2" />
        )}
        <text x={PAD} y={HEIGHT - 6} className="fill-muted text-[11px]">
          {wordsOf(low, data)}
        </text>
        <text x={WIDTH - PAD} y={HEIGHT - 6} textAnchor="end" className="fill-muted text-[11px]">
          {wordsOf(high, data)}
        </text>
        <text x={PAD} y={12} className="fill-muted text-[11px]">
          {many(most, 'alert')}
        </text>
      </svg>
      {onChoose && at !== null && (
        <label className="mt-1 flex items-center gap-3 text-muted">
          <span className="whitespace-nowrap">Move it</span>
          <input
            type="range"
            min={0}
            max={values.length - 1}
            value={values.indexOf(nearest!)}
            aria-valuetext={nearest ? `${wordsOf(nearest.value, data)}: ${many(nearest.alerts, 'alert')}` : undefined}
            onChange={(event) => onChoose(values[Number(event.target.value)]!.value)}
            className="w-full accent-(--accent)"
          />
        </label>
      )}
      {nearest && (
        <p className="text-muted">
          Near where it stands: {many(nearest.alerts, 'alert')}, {nearest.atNight} at night (dashed).
        </p>
      )}
    </>
  );
}
