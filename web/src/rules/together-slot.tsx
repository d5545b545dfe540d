import type { TogetherFields } from '../api/types';
import { Field, Input, Select } from '../ui/controls';
import { quantity } from '../ui/format';
import { QuantityInput } from '../ui/form/typed-input';
import { NamesInput } from '../ui/form/names-input';
import { Slot } from './slot';

type Props = {
  value: TogetherFields | null;
  faults: Record<string, string>;
  locked: boolean;
  onChange: (value: TogetherFields | null) => void;
};

/** `Each series is an alert of its own`, or one alert for a whole group. */
export function TogetherSlot({ value, faults, locked, onChange }: Props) {
  const set = (part: Partial<TogetherFields>) => value && onChange({ ...value, ...part });
  return (
    <Slot words={wordsOf(value)} fault={faults['together'] ?? faults['share']} locked={locked}>
      <div className="space-y-3">
        <Field label="Alerts">
          <Select
            value={value === null ? 'each' : 'group'}
            onChange={(event) => onChange(event.target.value === 'each' ? null : { per: [], least: 1, share: null })}
          >
            <option value="each">one for each series</option>
            <option value="group">one for a whole group</option>
          </Select>
        </Field>
        {value && (
          <>
            <Field label="A group is what shares" help="labels, such as site; none: all of them are one">
              <NamesInput value={value.per} onChange={(per) => set({ per })} />
            </Field>
            <Field label="Raised with so many of it">
              <Input
                type="number"
                min={1}
                value={value.least}
                onChange={(event) => set({ least: Math.max(1, Math.round(Number(event.target.value))) })}
              />
            </Field>
            <Field label="Or with this share of it" error={faults['share']} help="such as 33 %; empty: only the number counts">
              <QuantityInput unit="ratio" value={value.share} onChange={(share) => set({ share })} />
            </Field>
          </>
        )}
      </div>
    </Slot>
  );
}

function wordsOf(value: TogetherFields | null): string {
  if (value === null) return 'Each series';
  const group = value.per.length > 0 ? `All of one ${value.per.join(' and ')}` : 'All of them';
  const least = value.least > 1 ? `${value.least} or more` : null;
  const share = value.share === null ? null : `${quantity(value.share, 'ratio')} or more`;
  const many = [least, share].filter(Boolean).join(', and ');
  return `${group} together${many ? ` (${many})` : ''}`;
}
