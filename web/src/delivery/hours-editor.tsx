import { DefaultMark } from '../ui/default-mark';
import type { HoursDefinition, StretchDefinition } from '../api/types';
import { Button, Field, Input, smallLook } from '../ui/controls';
import { NamesInput } from '../ui/form/names-input';
import { WeekGrid } from './week-grid';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const OFFICE: StretchDefinition = { days: [1, 2, 3, 4, 5], from: '08:00', to: '18:00' };

type Props = {
  value: HoursDefinition | null;
  zone: string;
  always: string;
  some: string;
  /** What stands there first where there are some. */
  begin?: StretchDefinition;
  onChange: (hours: HoursDefinition | null) => void;
};

/** At all hours, or in some of the week: by days and times in a zone, but for some days. */
export function HoursEditor({ value, zone, always, some, begin = OFFICE, onChange }: Props) {
  const change = (part: Partial<HoursDefinition>) => value && onChange({ ...value, ...part });
  const stretch = (place: number, part: Partial<StretchDefinition>) =>
    value && change({ stretches: value.stretches.map((one, i) => (i === place ? { ...one, ...part } : one)) });
  return (
    <fieldset className="rounded-lg border border-line p-3">
      <legend className="px-1 font-medium">Hours</legend>
      <div className="flex flex-wrap items-center gap-4">
        <label className="flex items-center gap-1.5">
          <input type="radio" checked={value === null} onChange={() => onChange(null)} /> {always}
          <DefaultMark />
        </label>
        <label className="flex items-center gap-1.5">
          <input type="radio" checked={value !== null} onChange={() => onChange({ stretches: [begin], zone, off: [] })} /> {some}
        </label>
        {value && (
          <span className="ml-auto">
            <WeekGrid hours={value} />
          </span>
        )}
      </div>
      {value && (
        <div className="mt-3 space-y-3">
          {value.stretches.map((one, place) => (
            <div key={place} className="flex flex-wrap items-center gap-2">
              <Days value={one.days} onChange={(days) => stretch(place, { days })} />
              <Clock label="From" value={one.from} onChange={(from) => stretch(place, { from })} />
              <span>to</span>
              <Clock label="To" value={one.to} onChange={(to) => stretch(place, { to })} />
              {value.stretches.length > 1 && (
                <Button
                  look="quiet"
                  aria-label="Take these hours out"
                  onClick={() => change({ stretches: value.stretches.filter((_, i) => i !== place) })}
                >
                  ✕
                </Button>
              )}
            </div>
          ))}
          <Button onClick={() => change({ stretches: [...value.stretches, { days: [6, 7], from: '09:00', to: '13:00' }] })}>
            Add hours
          </Button>
          <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
            <Field label="On the clocks of">
              <Input value={value.zone} onChange={(event) => change({ zone: event.target.value })} />
            </Field>
            <Field label="But for the days">
              <NamesInput value={value.off} placeholder="12-25, 2027-04-02" onChange={(off) => change({ off })} />
            </Field>
          </div>
          <p className="text-[13px] text-muted">
            Hours that end before they begin go on after midnight. A day such as 12-25 is one of each year; the word holidays
            means those of the site, under Setup.
          </p>
        </div>
      )}
    </fieldset>
  );
}

function Days({ value, onChange }: { value: number[]; onChange: (days: number[]) => void }) {
  return (
    <span role="group" aria-label="Days" className="flex overflow-hidden rounded-md border border-line">
      {DAYS.map((name, i) => {
        const on = value.includes(i + 1);
        return (
          <button
            key={name}
            type="button"
            aria-pressed={on}
            className={`px-1.5 py-0.5 ${on ? 'bg-accent-soft font-semibold text-ink' : 'text-muted'}`}
            onClick={() => onChange(on ? value.filter((day) => day !== i + 1) : [...value, i + 1].sort())}
          >
            {name}
          </button>
        );
      })}
    </span>
  );
}

const Clock = ({ label, value, onChange }: { label: string; value: string; onChange: (clock: string) => void }) => (
  <input
    aria-label={label}
    className={`${smallLook} w-16`}
    value={value}
    placeholder="08:00"
    onChange={(event) => onChange(event.target.value)}
  />
);
