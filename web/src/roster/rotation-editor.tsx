import type { RosterPerson, RotationDefinition } from '../api/types';
import { Button, Field, Input, Select, smallLook } from '../ui/controls';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const WEEK = 7;
type Kind = 'daily' | 'weekly' | 'every';
const kindOf = ({ change }: RotationDefinition): Kind =>
  change.everyDays === WEEK && change.weekday > 0 ? 'weekly' : change.everyDays === 1 ? 'daily' : 'every';

type Props = {
  rotation: RotationDefinition;
  people: RosterPerson[];
  onChange: (rotation: RotationDefinition) => void;
  onUp?: () => void;
  onRemove?: () => void;
};
/** One rotation: who takes turns, when turns change, in which hours. */
export function RotationEditor({ rotation, people, onChange, onUp, onRemove }: Props) {
  const change = (part: Partial<RotationDefinition>) => onChange({ ...rotation, ...part });
  const kind = kindOf(rotation);
  const at = rotation.change.at.join(', ');
  const setKind = (next: Kind) =>
    change({
      change: {
        everyDays: next === 'daily' ? 1 : next === 'weekly' ? WEEK : 4,
        weekday: next === 'weekly' ? 1 : 0,
        at: rotation.change.at.slice(0, next === 'daily' ? 24 : 1),
      },
    });
  const label = rotation.name || 'the new rotation';
  return (
    <fieldset className="rounded-lg border border-line p-3">
      <legend className="sr-only">{`Rotation ${label}`}</legend>
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Rotation" className="w-36">
          <Input value={rotation.name} placeholder="nights" onChange={(event) => change({ name: event.target.value })} />
        </Field>
        <Field label="Turns change" className="w-36">
          <Select value={kind} onChange={(event) => setKind(event.target.value as Kind)}>
            <option value="daily">daily</option>
            <option value="weekly">weekly</option>
            <option value="every">every … days</option>
          </Select>
        </Field>
        {kind === 'weekly' && (
          <Field label="on" className="w-24">
            <Select
              value={rotation.change.weekday}
              onChange={(event) => change({ change: { ...rotation.change, weekday: Number(event.target.value) } })}
            >
              {DAYS.map((name, i) => (
                <option key={name} value={i + 1}>
                  {name}
                </option>
              ))}
            </Select>
          </Field>
        )}
        {kind === 'every' && (
          <Field label="days" className="w-20">
            <Input
              type="number"
              min={2}
              max={366}
              value={rotation.change.everyDays}
              onChange={(event) => change({ change: { ...rotation.change, everyDays: Number(event.target.value) } })}
            />
          </Field>
        )}
        <Field label="at" className="w-32">
          <Input
            defaultValue={at}
            placeholder={kind === 'daily' ? '06:00, 18:00' : '08:00'}
            onBlur={(event) => change({ change: { ...rotation.change, at: event.target.value.split(/[\s,]+/).filter(Boolean) } })}
          />
        </Field>
        <Field label="Turns count from" className="w-40">
          <Input type="date" value={rotation.from} onChange={(event) => change({ from: event.target.value })} />
        </Field>
        <span className="ml-auto flex gap-1">
          {onUp && (
            <Button look="quiet" aria-label={`Rotation ${label} goes one up`} onClick={onUp}>
              ↑
            </Button>
          )}
          {onRemove && (
            <Button look="quiet" aria-label={`Take rotation ${label} out`} onClick={onRemove}>
              ✕
            </Button>
          )}
        </span>
      </div>
      <Turns rotation={rotation} people={people} onChange={(list) => change({ people: list })} />
      <HoursOf rotation={rotation} onChange={(hours) => change({ hours })} />
    </fieldset>
  );
}

function Turns({
  rotation,
  people,
  onChange,
}: {
  rotation: RotationDefinition;
  people: RosterPerson[];
  onChange: (people: string[]) => void;
}) {
  const name = (address: string) => people.find((one) => one.address === address)?.name ?? `${address} (gone)`;
  const others = people.filter((one) => !rotation.people.includes(one.address));
  const earlier = (place: number) =>
    onChange([
      ...rotation.people.slice(0, place - 1),
      rotation.people[place]!,
      rotation.people[place - 1]!,
      ...rotation.people.slice(place + 1),
    ]);
  return (
    <div className="mt-3">
      <span className="font-medium">In this order</span>
      <ol className="mt-1 flex flex-wrap gap-2">
        {rotation.people.map((address, place) => (
          <li key={address} className="inline-flex items-center gap-1 rounded-full border border-line bg-paper px-2.5 py-0.5">
            <span className="text-muted">{place + 1}</span>
            {name(address)}
            {place > 0 && (
              <button
                type="button"
                aria-label={`${name(address)} one earlier`}
                className="px-0.5 text-muted hover:text-ink"
                onClick={() => earlier(place)}
              >
                ←
              </button>
            )}
            <button
              type="button"
              aria-label={`Take ${name(address)} out of ${rotation.name || 'the rotation'}`}
              className="px-0.5 text-muted hover:text-ink"
              onClick={() => onChange(rotation.people.filter((one) => one !== address))}
            >
              ✕
            </button>
          </li>
        ))}
        {others.length > 0 && (
          <li>
            <select
              aria-label={`Add somebody to ${rotation.name || 'the rotation'}`}
              className={smallLook}
              value=""
              onChange={(event) => onChange([...rotation.people, event.target.value])}
            >
              <option value="">add somebody …</option>
              {others.map((one) => (
                <option key={one.id} value={one.address}>
                  {one.name}
                </option>
              ))}
            </select>
          </li>
        )}
      </ol>
    </div>
  );
}

function HoursOf({
  rotation,
  onChange,
}: {
  rotation: RotationDefinition;
  onChange: (hours: RotationDefinition['hours']) => void;
}) {
  const hours = rotation.hours ?? null;
  const days = hours?.days ?? [];
  const of = rotation.name || 'the rotation';
  return (
    <div className="mt-3 flex flex-wrap items-center gap-x-3 gap-y-2">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={hours !== null}
          onChange={(event) => onChange(event.target.checked ? { from: '22:00', to: '06:00', days: null } : null)}
        />
        Only in some hours
      </label>
      {hours && (
        <>
          <input
            type="time"
            aria-label={`Hours of ${of} from`}
            className={smallLook}
            value={hours.from}
            onChange={(event) => onChange({ ...hours, from: event.target.value })}
          />
          <span>to</span>
          <input
            type="time"
            aria-label={`Hours of ${of} to`}
            className={smallLook}
            value={hours.to === '24:00' ? '00:00' : hours.to}
            onChange={(event) => onChange({ ...hours, to: event.target.value === '00:00' ? '24:00' : event.target.value })}
          />
          <span className="flex gap-2">
            {DAYS.map((name, i) => (
              <label key={name} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={days.length === 0 || days.includes(i + 1)}
                  onChange={(event) => {
                    const all = days.length === 0 ? [1, 2, 3, 4, 5, 6, 7] : days;
                    const next = event.target.checked ? [...all, i + 1].sort() : all.filter((one) => one !== i + 1);
                    onChange({ ...hours, days: next.length === WEEK || next.length === 0 ? null : next });
                  }}
                />
                {name}
              </label>
            ))}
          </span>
          <span className="text-[13px] text-muted">{hours.to <= hours.from ? 'on into the next day' : ''}</span>
        </>
      )}
    </div>
  );
}
