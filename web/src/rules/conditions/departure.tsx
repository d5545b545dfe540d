import type { DepartureFields } from '../../api/types';
import { Field, Select } from '../../ui/controls';
import { plain, quantity, span } from '../../ui/format';
import { DurationInput, QuantityInput } from '../../ui/form/typed-input';
import { unitHelp } from '../../ui/form/words';
import { NamesInput } from '../../ui/form/names-input';
import { Slot } from '../slot';
import type { ConditionSlots } from './kind';
import { byGravity } from './limits';

type From = DepartureFields['from'];
const FROM: Record<From, string> = {
  median: 'the median of its past',
  mean: 'the average of its past',
  ewma: 'a recent average',
  same_hour: 'the same hours of other days',
  same_weekday: 'the same hours of the same weekday',
  twins: 'its twins',
};
const WAYS: Record<DepartureFields['way'], string> = { rises: 'above it', falls: 'below it', moves: 'either way' };

const WEEK_SECONDS = 7 * 86_400;
/** Weeks are told apart where there are some. */
const LEAST_WEEKS = 3;
const USUAL_WEEKS = 4;

/** Held against something else; of weeks it looks back on enough of them. */
export function heldAgainst(condition: DepartureFields, from: From): DepartureFields {
  const isShort = from === 'same_weekday' && (condition.spanSeconds ?? 0) < LEAST_WEEKS * WEEK_SECONDS;
  return { ...condition, from, ...(isShort && { spanSeconds: USUAL_WEEKS * WEEK_SECONDS }) };
}

/** `departs from the median of its past, 14 d, either way, by 5 times its spread and at least 20`. */
export function DepartureSlots({ condition, unit, faults, locked, change }: ConditionSlots<DepartureFields>) {
  const first = byGravity(condition.limits)[0];
  const set = (part: Partial<DepartureFields>) => change({ ...condition, ...part });
  const isTwins = condition.from === 'twins';
  return (
    <>
      <Slot
        words={fromWords(condition)}
        fault={faults['spanSeconds'] ?? faults['warmUpSeconds'] ?? faults['per']}
        locked={locked}
      >
        <div className="space-y-3">
          <Field label="What is usual">
            <Select value={condition.from} onChange={(event) => change(heldAgainst(condition, event.target.value as From))}>
              {Object.entries(FROM).map(([from, words]) => (
                <option key={from} value={from}>
                  {words}
                </option>
              ))}
            </Select>
          </Field>
          {isTwins ? (
            <Field label="Twins share" error={faults['per']} help="labels, such as service; none: all are twins">
              <NamesInput value={condition.per ?? []} onChange={(per) => set({ per })} />
            </Field>
          ) : (
            <>
              <Field label="How far back" error={faults['spanSeconds']} help="such as 14d">
                <DurationInput value={condition.spanSeconds ?? 0} onChange={(value) => set({ spanSeconds: value ?? NaN })} />
              </Field>
              <Field label="How much must be known" error={faults['warmUpSeconds']} help="before that nothing is unusual">
                <DurationInput value={condition.warmUpSeconds ?? 0} onChange={(value) => set({ warmUpSeconds: value ?? NaN })} />
              </Field>
            </>
          )}
        </div>
      </Slot>
      ,{' '}
      <Slot words={WAYS[condition.way]} locked={locked}>
        <Field label="Which way">
          <Select value={condition.way} onChange={(event) => set({ way: event.target.value as DepartureFields['way'] })}>
            {Object.entries(WAYS).map(([way, words]) => (
              <option key={way} value={way}>
                {words}
              </option>
            ))}
          </Select>
        </Field>
      </Slot>
      , by{' '}
      <Slot words={first ? `${plain(first.limit)} times its spread` : '…'} fault={faults['limits']} locked={locked}>
        <Field label="Sensitivity" error={faults['limits']} help="so many times what it usually is away: 3 is soon, 8 is seldom">
          <QuantityInput
            unit=""
            value={first?.limit ?? null}
            onChange={(limit) =>
              first && set({ limits: [{ ...first, limit: limit ?? NaN }, ...byGravity(condition.limits).slice(1)] })
            }
          />
        </Field>
      </Slot>{' '}
      and at least{' '}
      <Slot words={condition.least ? quantity(condition.least, unit) : 'anything'} fault={faults['least']} locked={locked}>
        <Field label="The least change that matters" error={faults['least']} help={unitHelp(unit)}>
          <QuantityInput unit={unit} value={condition.least ?? 0} onChange={(least) => set({ least: least ?? 0 })} />
        </Field>
      </Slot>
    </>
  );
}

function fromWords({ from, spanSeconds = 0, per = [] }: DepartureFields): string {
  if (from === 'twins') return per.length > 0 ? `its twins per ${per.join(', ')}` : 'its twins';
  return `${FROM[from]}, ${span(spanSeconds * 1000)}`;
}
