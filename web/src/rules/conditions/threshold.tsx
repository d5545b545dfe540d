import type { ThresholdFields } from '../../api/types';
import { Field, Input, Select } from '../../ui/controls';
import { Slot } from '../slot';
import type { ConditionSlots } from './kind';
import { SideAndLimit, byGravity, limitWords } from './limits';

const COUNTED = { need: 3, of: 5 };

/** `stays above 400 messages, at every look`. */
export function ThresholdSlots({ condition, unit, faults, locked, change }: ConditionSlots<ThresholdFields>) {
  const first = byGravity(condition.limits)[0];
  return (
    <>
      <Slot words={first ? limitWords(condition.side, first, unit) : '…'} fault={faults['limits']} locked={locked}>
        <SideAndLimit of={condition} unit={unit} fault={faults['limits']} onChange={change} />
      </Slot>{' '}
      <Slot words={countWords(condition)} fault={faults['need'] ?? faults['counting']} locked={locked}>
        <Counting condition={condition} fault={faults['need'] ?? faults['counting']} change={change} />
      </Slot>
    </>
  );
}

const countWords = ({ need, of }: ThresholdFields) => (need && of ? `at ${need} of the last ${of} looks` : 'at every look');

function Counting({
  condition,
  fault,
  change,
}: {
  condition: ThresholdFields;
  fault?: string;
  change: (condition: ThresholdFields) => void;
}) {
  const { need, of } = condition;
  const isCounted = Boolean(need && of);
  const number = (field: 'need' | 'of', label: string, help: string) => (
    <Field label={label} help={help} error={field === 'need' ? fault : undefined}>
      <Input
        type="number"
        min={1}
        max={240}
        value={condition[field] ?? ''}
        onChange={(event) => change({ ...condition, [field]: Number(event.target.value) })}
      />
    </Field>
  );
  return (
    <div className="space-y-3">
      <Field label="How it counts">
        <Select
          value={isCounted ? 'some' : 'every'}
          onChange={(event) => change({ ...condition, ...(event.target.value === 'some' ? COUNTED : { need: null, of: null }) })}
        >
          <option value="every">at every look</option>
          <option value="some">at some of the last looks</option>
        </Select>
      </Field>
      {isCounted && number('need', 'Looks past the limit', 'nearly all of the time: 9 of 10')}
      {isCounted && number('of', 'Of the last', 'each look is one step of the rule after the other')}
    </div>
  );
}
