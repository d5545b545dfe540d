import type { ChangeFields } from '../../api/types';
import { Field, Select } from '../../ui/controls';
import { quantity, span } from '../../ui/format';
import { DurationInput, QuantityInput } from '../../ui/form/typed-input';
import { unitHelp } from '../../ui/form/words';
import { Slot } from '../slot';
import type { ConditionSlots } from './kind';
import { limitUnit } from './kinds';
import { byGravity } from './limits';

const WAYS: Record<ChangeFields['way'], string> = { rises: 'up', falls: 'down', moves: 'either way' };

/** `changes up by more than 50 % against 1 h ago`. */
export function ChangeSlots({ condition, unit, faults, locked, change }: ConditionSlots<ChangeFields>) {
  const [first, ...graver] = byGravity(condition.limits);
  const measured = limitUnit(condition, unit);
  const set = (part: Partial<ChangeFields>) => change({ ...condition, ...part });
  return (
    <>
      <Slot words={WAYS[condition.way]} locked={locked}>
        <Field label="Which way">
          <Select value={condition.way} onChange={(event) => set({ way: event.target.value as ChangeFields['way'] })}>
            {Object.entries(WAYS).map(([way, words]) => (
              <option key={way} value={way}>
                {words}
              </option>
            ))}
          </Select>
        </Field>
      </Slot>{' '}
      by more than{' '}
      <Slot words={first ? quantity(first.limit, measured) : '…'} fault={faults['limits']} locked={locked}>
        <div className="space-y-3">
          <Field label="Measured">
            <Select
              value={condition.measure}
              onChange={(event) => set({ measure: event.target.value as ChangeFields['measure'] })}
            >
              <option value="share">as a share of what it was</option>
              <option value="amount">in its own unit</option>
            </Select>
          </Field>
          <Field label="Limit" error={faults['limits']} help={unitHelp(measured)}>
            <QuantityInput
              unit={measured}
              value={first?.limit ?? null}
              onChange={(limit) => first && set({ limits: [{ ...first, limit: limit ?? NaN }, ...graver] })}
            />
          </Field>
        </div>
      </Slot>{' '}
      against{' '}
      <Slot words={`${span((condition.agoSeconds ?? 0) * 1000)} ago`} fault={faults['agoSeconds']} locked={locked}>
        <Field label="How long ago" error={faults['agoSeconds']} help="such as 1h or 7d">
          <DurationInput value={condition.agoSeconds ?? 0} onChange={(value) => set({ agoSeconds: value ?? NaN })} />
        </Field>
      </Slot>
    </>
  );
}
