import type { FieldValues, Path, PathValue } from 'react-hook-form';
import type { RosterPerson } from '../api/types';
import { Field, Input, Select } from '../ui/controls';
import type { SheetForm } from '../ui/form/sheet-form';
import { useSession } from '../ui/session';
import { fromInput, toInput } from './local-time';

// What was saved meanwhile is no matter of a field.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
type Of<F extends FieldValues> = { form: SheetForm<F, any> };

const setter =
  <F extends FieldValues>(form: Of<F>['form']) =>
  (name: Path<F>, value: unknown) =>
    form.setValue(name, value as PathValue<F, Path<F>>, { shouldDirty: true });

type SpanProps<F extends FieldValues> = Of<F> & { names: readonly [Path<F>, Path<F>]; labels?: [string, string]; zone?: string };
/** From when to when, on the clocks of a zone. */
export function SpanFields<F extends FieldValues>({ form, names, labels = ['From', 'To'], zone }: SpanProps<F>) {
  const set = setter(form);
  return (
    <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
      {names.map((name, i) => (
        <Field
          key={name}
          label={labels[i] ?? ''}
          help={i === 0 && zone ? `On the clocks of ${zone}` : undefined}
          error={form.fault(name)}
        >
          <Input
            type="datetime-local"
            value={toInput(form.getValues(name) as string)}
            onChange={(event) => set(name, fromInput(event.target.value))}
          />
        </Field>
      ))}
    </div>
  );
}

type PersonProps<F extends FieldValues> = Of<F> & {
  name: Path<F>;
  label: string;
  people: Pick<RosterPerson, 'id' | 'name'>[];
  /** Said where nobody is chosen yet; left out: somebody always is. */
  nobody?: string;
};
/** One of these people, by name. */
export function PersonField<F extends FieldValues>({ form, name, label, people, nobody }: PersonProps<F>) {
  const { person } = useSession();
  const set = setter(form);
  return (
    <Field label={label} error={form.fault(name)}>
      <Select value={form.getValues(name)} onChange={(event) => set(name, Number(event.target.value))}>
        {nobody !== undefined && <option value={0}>{nobody}</option>}
        {people.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
            {one.id === person.id ? ' (you)' : ''}
          </option>
        ))}
      </Select>
    </Field>
  );
}
