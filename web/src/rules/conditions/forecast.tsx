import type { ForecastFields } from '../../api/types';
import { Field, Select } from '../../ui/controls';
import { span } from '../../ui/format';
import { DurationInput, QuantityInput } from '../../ui/form/typed-input';
import { unitHelp } from '../../ui/form/words';
import { Slot } from '../slot';
import type { ConditionSlots } from './kind';
import { byGravity, limitWords, turned } from './limits';

/** `will go above 95 % within 1 d`. */
export function ForecastSlots({ condition, unit, faults, locked, change }: ConditionSlots<ForecastFields>) {
  const [first, ...graver] = byGravity(condition.limits);
  return (
    <>
      <Slot
        words={first ? limitWords(condition.side, first, unit) : '…'}
        fault={faults['limits'] ?? faults['side']}
        locked={locked}
      >
        <div className="space-y-3">
          <Field label="Side" error={faults['side']}>
            <Select
              value={condition.side}
              onChange={(event) => change(turned(condition, event.target.value as ForecastFields['side']))}
            >
              <option>above</option>
              <option>below</option>
            </Select>
          </Field>
          <Field label="Limit" error={faults['limits']} help={unitHelp(unit)}>
            <QuantityInput
              unit={unit}
              value={first?.limit ?? null}
              onChange={(limit) => first && change({ ...condition, limits: [{ ...first, limit: limit ?? NaN }, ...graver] })}
            />
          </Field>
        </div>
      </Slot>{' '}
      within{' '}
      <Slot words={span((condition.withinSeconds ?? 0) * 1000)} fault={faults['withinSeconds']} locked={locked}>
        <Field label="How far ahead" error={faults['withinSeconds']} help="such as 24h; it looks back four times as far">
          <DurationInput
            value={condition.withinSeconds ?? 0}
            onChange={(value) => change({ ...condition, withinSeconds: value ?? NaN })}
          />
        </Field>
      </Slot>
    </>
  );
}
