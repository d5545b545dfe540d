import { Controller } from 'react-hook-form';
import { Field } from '../ui/controls';
import { many } from '../ui/format';
import { DurationField, SelectField, TextField } from '../ui/form/fields';
import { NamesInput } from '../ui/form/names-input';
import { HoursEditor } from './hours-editor';
import type { PartFormProps } from './part-dialog';
import { PartForm } from './part-form';
import { type Edited, usePartForm } from './use-part-form';

const LAST = 'everything else';

/** A row of who answers. */
export function PathForm({ edited, plan, choices, onDone, onCopy }: PartFormProps<Edited<'paths'>>) {
  const { form, remove } = usePartForm(edited, onDone);
  const isLast = edited.part.name === LAST && !edited.isNew;
  const open = plan.paths.find((path) => path.definition.name === edited.part.name)?.incidents ?? 0;
  return (
    <PartForm
      form={form}
      remove={remove}
      isNew={edited.isNew}
      nameHelp="As incidents and the trail call it, such as boarding"
      words={{ for: 'which alerts', per: 'one incident per' }}
      keeps={isLast ? 'Everything else stays, so that nothing falls through.' : ''}
      onCopy={onCopy}
      onBack={onDone}
    >
      {!isLast && (
        <>
          <TextField
            form={form}
            name="for"
            label="Which alerts"
            className="[&_input]:font-mono [&_input]:text-[12.5px]"
            help={'On labels, severity, rule and owner, such as service = "boarding-gate" and severity in ("critical", "major")'}
          />
          <Controller
            control={form.control}
            name="hours"
            render={({ field }) => (
              <HoursEditor
                value={field.value}
                zone={choices.zone}
                always="At all hours"
                some="In some; outside of them the next path that matches answers"
                onChange={field.onChange}
              />
            )}
          />
        </>
      )}
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <Field label="One incident per" help="Labels that its alerts share; none: all of them are one" error={form.fault('per')}>
          <Controller
            control={form.control}
            name="per"
            render={({ field }) => <NamesInput value={field.value} placeholder="service, site" onChange={field.onChange} />}
          />
        </Field>
        <DurationField
          form={form}
          name="reopensSeconds"
          label="Comes up again within"
          help="What was over for no longer is the same incident again; 0s: never"
        />
        <DurationField form={form} name="gatherSeconds" label="Gathers for" help="Before the first message, such as 40s" />
        <Field
          label="Or until"
          help="Set times instead, for what can wait, such as 09:00, 17:00"
          error={form.fault('gatherUntil')}
        >
          <Controller
            control={form.control}
            name="gatherUntil"
            render={({ field }) => <NamesInput value={field.value} placeholder="09:00, 17:00" onChange={field.onChange} />}
          />
        </Field>
        <SelectField form={form} name="ladder" label="Up the ladder" className="col-span-2 max-sm:col-span-1">
          {plan.ladders.map(({ definition }) => (
            <option key={definition.name}>{definition.name}</option>
          ))}
        </SelectField>
      </div>
      {open > 0 && !edited.isNew && !isLast && (
        <p className="text-[13px] text-muted">
          {many(open, 'incident')} of it {open === 1 ? 'is' : 'are'} not over: without this path, everything else goes on with{' '}
          {open === 1 ? 'it' : 'them'}.
        </p>
      )}
    </PartForm>
  );
}
