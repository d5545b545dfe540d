import { useState } from 'react';
import type { LimitFields, Severity, ThresholdFields } from '../../api/types';
import { Button, Field, Select } from '../../ui/controls';
import { quantity } from '../../ui/format';
import { QuantityInput } from '../../ui/form/typed-input';
import { unitHelp } from '../../ui/form/words';
import { SEVERITIES } from '../../ui/severity';
import { SeveritySelect, WithCrystal } from '../slot';

export type Side = ThresholdFields['side'];
export type Limited = { side: Side; limits: LimitFields[]; clear: number; clearTo?: number | null };

const BACK: Record<Side, string> = { above: 'at or below', below: 'at or above', outside: 'within', inside: 'not within' };
export const isRange = (side: Side) => side === 'outside' || side === 'inside';

const ends = (side: Side, from: number, to: number | null | undefined, unit: string) =>
  isRange(side) ? `${quantity(from, unit)} to ${quantity(to, unit)}` : quantity(from, unit);
/** `above 400 messages`. */
export const limitWords = (side: Side, { limit, to }: LimitFields, unit: string) => `${side} ${ends(side, limit, to, unit)}`;
/** `at or below 300 messages`. */
export const clearWords = ({ side, clear, clearTo }: Limited, unit: string) =>
  `${BACK[side]} ${ends(side, clear, clearTo, unit)}`;

/** The mildest first, as the server reads them. */
export const byGravity = (limits: LimitFields[]) =>
  limits.toSorted((a, b) => SEVERITIES.indexOf(b.severity) - SEVERITIES.indexOf(a.severity));

/** Turned to another side, all limits go along: what was the clear limit of the one is that of the other. */
export function turned<T extends Limited>(limited: T, side: Side): T {
  const [first, ...graver] = byGravity(limited.limits);
  if (!first || side === limited.side) return limited;
  const apart = Math.abs(first.limit - limited.clear);
  if (isRange(side)) {
    const low = Math.min(first.limit, limited.clear);
    const high = first.to ?? Math.max(first.limit, limited.clear, low + (apart || Math.abs(low) || 1));
    return { ...limited, side, limits: [{ ...first, limit: low, to: high }], clear: low, clearTo: high };
  }
  const clear = side === 'above' ? first.limit - apart : first.limit + apart;
  const mirrored = graver.map((one) => ({ ...one, limit: 2 * first.limit - one.limit, to: null }));
  const kept = isRange(limited.side) ? [] : mirrored;
  return { ...limited, side, limits: [{ ...first, to: null }, ...kept], clear, clearTo: null };
}

/** Where the clear limit goes with another limit: as far from it as it was in proportion when one began to write. */
export function followed({ side, limits, clear }: Limited, limit: number): number | null {
  const was = byGravity(limits)[0]?.limit;
  if (isRange(side) || !was || !Number.isFinite(limit)) return null;
  return Number(((clear / was) * limit).toPrecision(6));
}

type EditorProps = { unit: string; fault?: string };

export function SideAndLimit<T extends Limited>({
  of,
  unit,
  fault,
  onChange,
  isSideFixed = false,
}: EditorProps & { of: T; onChange: (of: T) => void; isSideFixed?: boolean }) {
  const [start, setStart] = useState<Limited>(of);
  const [first, ...graver] = byGravity(of.limits);
  if (!first) return null;
  const set = (part: Partial<LimitFields>) => onChange({ ...of, limits: [{ ...first, ...part }, ...graver] });
  const turn = (side: Side) => {
    const next = turned(of, side);
    setStart(next);
    onChange(next);
  };
  const setLimit = (limit: number) =>
    onChange({ ...of, limits: [{ ...first, limit }, ...graver], clear: followed(start, limit) ?? of.clear });
  return (
    <div className="space-y-3">
      {!isSideFixed && (
        <Field label="Side">
          <Select value={of.side} onChange={(event) => turn(event.target.value as Side)}>
            {Object.keys(BACK).map((side) => (
              <option key={side}>{side}</option>
            ))}
          </Select>
        </Field>
      )}
      <Field label={isRange(of.side) ? 'From' : 'Limit'} error={fault} help={unitHelp(unit)}>
        <QuantityInput unit={unit} value={first.limit} onChange={(limit) => setLimit(limit ?? NaN)} />
      </Field>
      {isRange(of.side) && (
        <Field label="To" help={unitHelp(unit)}>
          <QuantityInput unit={unit} value={first.to ?? null} onChange={(to) => set({ to })} />
        </Field>
      )}
    </div>
  );
}

/** What is graver than where it begins to raise: a limit a severity, further out. */
export function GraverLimits<T extends Limited>({
  of,
  unit,
  fault,
  onChange,
}: EditorProps & { of: T; onChange: (of: T) => void }) {
  const [first, ...graver] = byGravity(of.limits);
  if (!first) return null;
  const set = (at: number, part: Partial<LimitFields> | null) =>
    onChange({
      ...of,
      limits: [
        first,
        ...(part ? graver.map((one, i) => (i === at ? { ...one, ...part } : one)) : graver.filter((_, i) => i !== at)),
      ],
    });
  const free = SEVERITIES.filter((name) => of.limits.every((one) => one.severity !== name));
  const next = free.findLast((name) => SEVERITIES.indexOf(name) < SEVERITIES.indexOf(first.severity));
  return (
    <div className="space-y-3">
      {fault && (
        <p role="alert" className="text-critical">
          {fault}
        </p>
      )}
      {graver.length === 0 && <p className="text-muted">It stays {first.severity}, however far past the limit it goes.</p>}
      {graver.map((one, i) => (
        <fieldset key={i} className="space-y-2 border-b border-line pb-3">
          <Field label="Severity">
            <SeveritySelect value={one.severity} onChange={(severity) => set(i, { severity })} />
          </Field>
          <Field label={isRange(of.side) ? 'From' : `When ${of.side}`} help={unitHelp(unit)}>
            <QuantityInput unit={unit} value={one.limit} onChange={(limit) => set(i, { limit: limit ?? NaN })} />
          </Field>
          {isRange(of.side) && (
            <Field label="To">
              <QuantityInput unit={unit} value={one.to ?? null} onChange={(to) => set(i, { to })} />
            </Field>
          )}
          <Button onClick={() => set(i, null)}>Leave it out</Button>
        </fieldset>
      ))}
      {next && <Button onClick={() => onChange({ ...of, limits: [...of.limits, further(of, next)] })}>Add {next}</Button>}
    </div>
  );
}

/** Further out than the gravest there is: as far again as that is from where all is well. */
function further({ side, limits, clear, clearTo }: Limited, severity: Severity): LimitFields {
  const gravest = byGravity(limits).at(-1)!;
  const step = Math.abs(gravest.limit - clear) || Math.abs(gravest.limit) || 1;
  const round = (value: number) => Number(value.toPrecision(4));
  if (!isRange(side)) return { severity, limit: round(gravest.limit + (side === 'above' ? step : -step)), to: null };
  const top = gravest.to ?? gravest.limit;
  const stepTo = Math.abs(top - (clearTo ?? clear)) || step;
  const out = side === 'outside' ? 1 : -0.25;
  return { severity, limit: round(gravest.limit - out * step), to: round(top + out * stepTo) };
}

/** `critical above 1,200`, of each graver limit. */
export function GraverWords({ of, unit }: { of: Limited; unit: string }) {
  const graver = byGravity(of.limits).slice(1);
  if (graver.length === 0) return <>never graver</>;
  return graver.map((one, i) => (
    <span key={one.severity}>
      {i > 0 && ', '}
      <WithCrystal severity={one.severity} /> {limitWords(of.side, one, unit)}
    </span>
  ));
}

export function ClearLimit<T extends Limited>({ of, unit, fault, onChange }: EditorProps & { of: T; onChange: (of: T) => void }) {
  return (
    <div className="space-y-3">
      <Field label={isRange(of.side) ? 'From' : 'Clear limit'} error={fault} help={unitHelp(unit)}>
        <QuantityInput unit={unit} value={of.clear} onChange={(clear) => onChange({ ...of, clear: clear ?? NaN })} />
      </Field>
      {isRange(of.side) && (
        <Field label="To" help={unitHelp(unit)}>
          <QuantityInput unit={unit} value={of.clearTo ?? null} onChange={(clearTo) => onChange({ ...of, clearTo })} />
        </Field>
      )}
    </div>
  );
}
