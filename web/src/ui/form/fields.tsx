import type { InputHTMLAttributes, ReactNode } from 'react';
import { Controller, type FieldValues, type Path } from 'react-hook-form';
import { Meanwhile } from '../meanwhile';
import { Field, Input, Select } from '../controls';
import { useTellChanged } from '../dialog-box';
import type { SheetForm } from './sheet-form';
import { DurationInput } from './typed-input';

type Of<F extends FieldValues> = {
  // What was saved meanwhile is no matter of a field.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  form: SheetForm<F, any>;
  name: Path<F>;
  label: string;
  help?: ReactNode;
  className?: string;
};

export function TextField<F extends FieldValues>({
  form,
  name,
  label,
  help,
  className,
  ...rest
}: Of<F> & Omit<InputHTMLAttributes<HTMLInputElement>, 'form' | 'name'>) {
  return (
    <Field label={label} help={help} error={form.fault(name)} className={className}>
      <Input {...rest} {...form.register(name)} />
    </Field>
  );
}

/** A whole number. */
export function WholeField<F extends FieldValues>({
  form,
  name,
  label,
  help,
  className,
  ...rest
}: Of<F> & Omit<InputHTMLAttributes<HTMLInputElement>, 'form' | 'name' | 'type'>) {
  return (
    <Field label={label} help={help} error={form.fault(name)} className={className}>
      <Input {...rest} type="number" {...form.register(name, { valueAsNumber: true })} />
    </Field>
  );
}

export function SelectField<F extends FieldValues>({
  form,
  name,
  label,
  help,
  className,
  onChosen,
  children,
}: Of<F> & { onChosen?: (value: string) => void; children: ReactNode }) {
  return (
    <Field label={label} help={help} error={form.fault(name)} className={className}>
      <Select {...form.register(name, { onChange: (event: { target: { value: string } }) => onChosen?.(event.target.value) })}>
        {children}
      </Select>
    </Field>
  );
}

/** Seconds, in words: `15s`, `5m`, `1h30m`. */
export function DurationField<F extends FieldValues>({
  form,
  name,
  label,
  help = 'such as 15s or 5m',
  className,
  placeholder,
}: Of<F> & { placeholder?: string }) {
  return (
    <Field label={label} help={help} error={form.fault(name)} className={className}>
      <Controller
        control={form.control}
        name={name}
        render={({ field }) => (
          <DurationInput
            name={name}
            placeholder={placeholder}
            value={field.value}
            onChange={field.onChange}
            onBlur={field.onBlur}
          />
        )}
      />
    </Field>
  );
}

type Faults<F extends FieldValues, T> = {
  form: SheetForm<F, T>;
  words?: Record<string, string>;
  /** Nothing of it is laid side by side: it is never read back, or nobody may see it. */
  secret?: Path<F>;
};
/** What is wrong with the form as a whole: somebody's other version to be merged, or why it could not be kept. */
export function FormFaults<F extends FieldValues, T>({ form, words, secret }: Faults<F, T>) {
  if (form.theirs) {
    const shown = (fields: F) => Object.fromEntries(Object.entries(fields).filter(([name]) => name !== secret)) as Partial<F>;
    return (
      <Meanwhile
        was={shown(form.start)}
        theirs={shown(form.theirs)}
        mine={shown(form.fields)}
        words={words}
        onMerge={form.merge}
      />
    );
  }
  return form.problem === null ? null : (
    <p role="alert" className="text-critical">
      {form.problem}
    </p>
  );
}

/** A form that lies in a dialog: closing it asks where something was typed, and Enter keeps it. */
export function DialogForm<F extends FieldValues, T>({ form, children }: { form: SheetForm<F, T>; children: ReactNode }) {
  useTellChanged(form.changed);
  return (
    <form
      className="space-y-3"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        form.submit(event);
      }}
    >
      {children}
    </form>
  );
}
